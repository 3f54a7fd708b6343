/** Where stands stand; as moth.place.standing has it, where what is drawn in the frame is made. */
import type { Grip, Unit } from "../../app/api";

export type Stood = { foot: readonly number[]; arm: boolean };

/** From here a sheet stands on two stands [m²]. */
const LARGE = 1.5;

/** The stand of another unit that something is on by an arm. */
export const armOf = (item: Unit | Grip): Stood[] =>
  item.held === "arm" && item.foot ? [{ foot: item.foot, arm: true }] : [];

/** Where a unit's own stand stands; null where no stand holds it. */
export const footOf = (unit: Unit): readonly [number, number] | null =>
  unit.held === "boom" && unit.foot
    ? unit.foot
    : unit.held === "stand" || unit.held === "boom"
      ? [unit.position[0], unit.position[1]]
      : null;

/** Feet of the stands of a unit. */
export const unitStands = (unit: Unit): Stood[] =>
  unit.held === "boom" && unit.foot
    ? [{ foot: unit.foot, arm: true }]
    : unit.held === "stand" || unit.held === "boom"
      ? [{ foot: unit.position, arm: false }]
      : [];

/** Feet of the stands of a piece of grip: under its sides, or beside it. */
export function gripStands(piece: Grip): Stood[] {
  if (piece.held !== "stand" && piece.held !== "boom") return [];
  if (piece.held === "boom" && piece.foot) return [{ foot: piece.foot, arm: true }];
  const [px, py, pz] = piece.position,
    [dx, dy, dz] = [piece.aim[0] - px, piece.aim[1] - py, piece.aim[2] - pz],
    flat = Math.hypot(dx, dy),
    long = Math.hypot(flat, dz);
  const right = flat > 1e-6 * long ? [dy / flat, -dx / flat, 0] : [1, 0, 0];
  // Right × forward.
  const forward = [dx / long, dy / long, dz / long],
    up = [
      right[1]! * forward[2]! - right[2]! * forward[1]!,
      right[2]! * forward[0]! - right[0]! * forward[2]!,
      right[0]! * forward[1]! - right[1]! * forward[0]!,
    ];
  const a = (piece.roll * Math.PI) / 180,
    [c, s] = [Math.cos(a), Math.sin(a)];
  const own = right.map((v, k) => c * v + s * up[k]!),
    rise = up.map((v, k) => c * v - s * right[k]!);
  const [wide, high] = piece.size;
  // Rolled by a quarter, it is held at what were its top and foot.
  const level = Math.abs(own[2]!) <= Math.abs(rise[2]!) + 1e-12,
    side = (level ? own : rise).map((v) => (v * (level ? wide : high)) / 2);
  const ends = [1, -1].map((k) => [px + k * side[0]!, py + k * side[1]!]);
  const { foot } = piece;
  if (foot) {
    const off = (e: readonly number[]) => Math.hypot(e[0]! - foot[0], e[1]! - foot[1]);
    ends.sort((one, other) => off(one) - off(other));
  } else if (side[0]! * right[0]! + side[1]! * right[1]! < 0) ends.reverse(); // the level right
  return ends.slice(0, wide * high < LARGE ? 1 : 2).map((at) => ({ foot: at, arm: false }));
}
