/** The circuits of a place, where their sockets are, and how a cable goes to one. */
import type { Document, Schemas, Unit } from "../../app/api";
import type { Spot } from "../place/walls";

export type Circuit = Schemas["Circuit"];
export const BATTERY = "@battery";

export const withCircuit = (id: string, change: Partial<Circuit>) => (d: Document) => ({
  ...d,
  circuits: d.circuits.map((c) => (c.id === id ? { ...c, ...change } : c)),
});

/** A set-up with one socket at another place. */
export const atSocket =
  (circuit: string, at: number, place: Spot) =>
  (d: Document): Document => ({
    ...d,
    circuits: d.circuits.map((c) =>
      c.id === circuit ? { ...c, sockets: c.sockets.map((s, k) => (k === at ? place : s)) } : c,
    ),
  });

/**
 * The way of a unit's cable along the floor, square to the plan's sides, from the nearest socket of
 * its circuit, as moth.planning.needs reckons it; null where that is typed or no socket is known.
 */
export function cableOf(circuits: readonly Circuit[], unit: Unit): Spot[] | null {
  const sockets = circuits.find((c) => c.id === unit.feed)?.sockets ?? [];
  if (!sockets.length || (unit.run ?? null) !== null) return null;
  const [x, y] = unit.position;
  const far = ([a, b]: readonly number[]) => Math.abs(x - a!) + Math.abs(y - b!);
  const [a, b] = [...sockets].sort((one, other) => far(one) - far(other))[0]!;
  return [
    [a, b],
    [a, y],
    [x, y],
  ];
}
