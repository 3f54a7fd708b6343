/**
 * What a hand or a key does to a unit, in the trade's steps: degrees, thirds of a ring, thirds of a
 * stop.
 */
import type { Point, Unit } from "../../app/api";
import { fromPolar, toPolar, wrap, type Polar } from "../plan/polar";
import { act, hold, move, readDesk, settle, withUnit } from "../store";

export const RING_THIRD = 2 ** (1 / 6);
export const SMALLEST_DIMMER = 2 ** -10;
let pending: ReturnType<typeof setTimeout> | undefined;
let pendingWords = "";

/** Take repeated key presses as one gesture: it is stored when the keys rest. */
export function nudge(change: () => void, words: string) {
  if (pending && words !== pendingWords) finishNudge();
  change();
  hold(words);
  clearTimeout(pending);
  pendingWords = words;
  pending = setTimeout(finishNudge, 500);
}

export function finishNudge() {
  if (!pending) return;
  clearTimeout(pending);
  pending = undefined;
  settle(pendingWords);
}

const round = (p: Point): Point => p.map((v) => Math.round(v * 1e4) / 1e4) as Point;

/** Face and lens that the polar words are measured from. */
export function frameOf() {
  const { look, draft } = readDesk();
  const camera = draft?.cameras[0];
  return look && camera ? { face: look.anchor as Point, lens: camera.position as Point } : null;
}

export function polarOf(unit: Unit): Polar | null {
  const frame = frameOf();
  return frame && toPolar(unit.position as Point, frame.face, frame.lens);
}

type Held = { position: readonly number[]; foot?: readonly number[] | null };
/** What a unit, or anything held, is at another place: a boom's stand goes with it. */
export function stood({ position: [x, y], foot }: Held, to: Point): Partial<Unit> {
  const position = round(to);
  if (!foot) return { position };
  const by = [position[0] - x!, position[1] - y!] as const;
  return {
    position,
    foot: foot.map((v, k) => Math.round((v + by[k]!) * 1e3) / 1e3) as [number, number],
  };
}

/** A set-up with a unit at a place in polar words; what is not named stays. */
export const placedPolar = (
  id: string,
  { face, lens }: { face: Point; lens: Point },
  change: (now: Polar) => Partial<Polar>,
) =>
  withUnit(id, (unit) => {
    const now = toPolar(unit.position as Point, face, lens),
      next = { ...now, ...change(now) },
      polar = { ...next, angle: wrap(next.angle), distance: Math.max(0.2, next.distance) };
    return stood(unit, fromPolar(polar, face, lens));
  });

/** Place a unit by polar words. */
export function placePolar(id: string, change: (now: Polar) => Partial<Polar>) {
  const frame = frameOf();
  if (frame) move(placedPolar(id, frame, change));
}

export function setPosition(id: string, position: Point) {
  move(withUnit(id, (unit) => stood(unit, position)));
}

export function setHeight(id: string, z: number) {
  move(withUnit(id, ({ position: [x, y] }) => ({ position: round([x, y, z]) })));
}

export const clampDimmer = (d: number) => (d < SMALLEST_DIMMER ? 0 : Math.min(1, d));

/** Change a dimmer by stops; from dark it starts at the bottom. */
export function dimBy(id: string, stops: number) {
  move(
    withUnit(id, ({ dimmer }) => ({
      dimmer: dimmer === 0 && stops > 0 ? SMALLEST_DIMMER : clampDimmer(dimmer * 2 ** stops),
    })),
  );
}

export function toggleOn(id: string) {
  const unit = readDesk().draft?.units.find((u) => u.id === id);
  if (unit)
    act(
      withUnit(id, () => ({ on: !unit.on })),
      `${unit.name} ${unit.on ? "off" : "on"}`,
    );
}

/** Switches of the place, in the order in which their lights were brought in. */
export const switchesOf = (units: readonly Unit[]) => [
  ...new Set(units.map((u) => u.switch).filter((name) => name !== "")),
];

/** Turn all that hangs on some switches of the place on or off, as one gesture. */
export function turnSwitches(names: readonly string[], on: boolean) {
  const whose = names.length === 1 ? `Switch ${names[0]}` : "House lights";
  act(
    (d) => ({
      ...d,
      units: d.units.map((u) => (names.includes(u.switch) && u.on !== on ? { ...u, on } : u)),
    }),
    `${whose} ${on ? "on" : "off"}`,
  );
}

/** Keys on the chosen unit; true when the key was taken. */
export function unitKey(
  id: string,
  name: string,
  event: { key: string; shiftKey: boolean },
): boolean {
  const fine = event.shiftKey;
  const ring = fine ? RING_THIRD ** 0.25 : RING_THIRD;
  const actions: Record<string, [() => void, string]> = {
    ArrowLeft: [
      () => placePolar(id, (p) => ({ angle: p.angle - (fine ? 1 : 5) })),
      `${name} round the face`,
    ],
    ArrowRight: [
      () => placePolar(id, (p) => ({ angle: p.angle + (fine ? 1 : 5) })),
      `${name} round the face`,
    ],
    ArrowUp: [() => placePolar(id, (p) => ({ distance: p.distance * ring })), `${name} out`],
    ArrowDown: [() => placePolar(id, (p) => ({ distance: p.distance / ring })), `${name} in`],
    PageUp: [() => shiftHeight(id, fine ? 0.01 : 0.1), `${name} up`],
    PageDown: [() => shiftHeight(id, fine ? -0.01 : -0.1), `${name} down`],
    ".": [() => dimBy(id, 1 / 3), `${name} brighter`],
    ",": [() => dimBy(id, -1 / 3), `${name} dimmer`],
  };
  const action = actions[event.key];
  if (!action) return false;
  nudge(...action);
  return true;
}

function shiftHeight(id: string, by: number) {
  move(withUnit(id, ({ position: [x, y, z] }) => ({ position: round([x, y, z + by]) })));
}
