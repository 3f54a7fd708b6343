/** Lights outside the frame that the picture is to tell of. */
import type { Document } from "../../app/api";
import { act, readDesk } from "../store";
import { frameOf } from "../units/gestures";

export type Reason = NonNullable<Document["reasons"]>[number];
export type Kind = NonNullable<Reason["kind"]>;

/** What each is called when it is new, and its usual white [K]. */
export const KINDS: Record<Kind, { name: string; cct: number }> = {
  window: { name: "A window", cct: 6500 },
  lamp: { name: "A lamp", cct: 2900 },
  sun: { name: "The sun", cct: 5400 },
  fire: { name: "A fire", cct: 1900 },
};
export const MOST = 8;

/** The way from one place to another, clockwise from north as on a map [whole degrees]. */
export const bearing = (from: readonly number[], to: readonly number[]) =>
  (Math.round((Math.atan2(to[0]! - from[0]!, to[1]! - from[1]!) * 180) / Math.PI) + 360) % 360;

/** Say that a unit's light comes from something outside the frame. */
export function sayWhy(unit: string, kind: Kind) {
  const { draft } = readDesk(),
    frame = frameOf(),
    found = draft?.units.find((u) => u.id === unit);
  if (!draft || !frame || !found) return;
  const own = draft.reasons ?? [],
    { name, cct } = KINDS[kind];
  const id = [...Array(MOST).keys()]
    .map((k) => `reason-${k + 1}`)
    .find((made) => !own.some((r) => r.id === made));
  if (!id) return;
  const made: Reason = { id, name, kind, cct, bearing: bearing(frame.face, found.position) };
  act((d) => ({ ...d, reasons: [...(d.reasons ?? []), made] }), `${name} outside the frame`);
}

export function changeReason(id: string, change: Partial<Reason>) {
  act(
    (d) => ({
      ...d,
      reasons: (d.reasons ?? []).map((r) => (r.id === id ? { ...r, ...change } : r)),
    }),
    "a reason outside the frame changed",
  );
}

export function dropReason(id: string) {
  act(
    (d) => ({ ...d, reasons: (d.reasons ?? []).filter((r) => r.id !== id) }),
    "a reason outside the frame taken back",
  );
}
