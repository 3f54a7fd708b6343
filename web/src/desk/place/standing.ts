/** Where furniture stands: flush with walls, on the grid, in nobody's place. */
import type { Document, Furniture } from "../../app/api";
import { usePreferences } from "../../app/preferences";
import { clearOfWalls, inRoom, type Spot } from "./walls";

const FOOT = 0.3048;
/** How near a wall a piece's side is drawn to it [m]. */
export const PULL = 0.15;

/** Whether a place is outside the room, on the land: what stands there is seen by the windows. */
export const outsideOf = (room: Document["room"], place: readonly number[]) =>
  !room.outdoors && !inRoom(room, place);

/** A place on the decimetre or the half foot. */
export function onGrid(at: readonly number[], free: boolean): Spot {
  const grid = usePreferences.getState().length === "ft" ? FOOT / 2 : 0.1;
  return at.map((v) => (free ? v : Math.round(v / grid) * grid)) as Spot;
}

/** Half of the box about a turned piece, each way on the floor [m]. */
export function halfReach({ size, turn }: Pick<Furniture, "size" | "turn">): [number, number] {
  const [c, s] = [
    Math.abs(Math.cos((turn * Math.PI) / 180)),
    Math.abs(Math.sin((turn * Math.PI) / 180)),
  ];
  return [(size[0] * c + size[1] * s) / 2, (size[0] * s + size[1] * c) / 2];
}

/**
 * Where a piece carried to a place on the floor comes to stand: flush with a wall that it is near,
 * else on the decimetre or the half foot; never out of the room.
 */
export function standing(
  at: readonly [number, number],
  item: Pick<Furniture, "size" | "turn">,
  room: Document["room"],
  free = false,
): [number, number] {
  const turn = (item.turn * Math.PI) / 180,
    [c, s] = [Math.cos(turn), Math.sin(turn)];
  // How far its sides reach toward a wall.
  const reach = ([x, y]: readonly [number, number]) =>
    (item.size[0] * Math.abs(c * x + s * y) + item.size[1] * Math.abs(c * y - s * x)) / 2;
  const stepped = onGrid(at, free);
  // What the hand is near counts, not what its step on the grid is near.
  const flush = clearOfWalls(room, at, reach, free ? 0 : PULL);
  const kept = clearOfWalls(room, stepped, reach, 0);
  return [0, 1].map((k) => (Math.abs(flush[k]! - at[k]!) > 1e-9 ? flush[k]! : kept[k]!)) as [
    number,
    number,
  ];
}
/** Whether two pieces stand in one place: their boxes overlap by more than a touch. */
export function overlap(
  a: Pick<Furniture, "size" | "turn" | "position">,
  b: Pick<Furniture, "size" | "turn" | "position">,
) {
  const [ha, hb] = [halfReach(a), halfReach(b)];
  const apart = (k: 0 | 1) => Math.abs(a.position[k] - b.position[k]) > ha[k] + hb[k] - 0.01;
  const [low, high] = [
    Math.max(a.position[2], b.position[2]),
    Math.min(a.position[2] + a.size[2], b.position[2] + b.size[2]),
  ];
  return !apart(0) && !apart(1) && high - low > 0.01;
}
