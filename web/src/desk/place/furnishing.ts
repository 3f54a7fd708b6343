/** Furniture carried over the plan, turned, stacked and struck. */
import type { Document, Furniture, Point } from "../../app/api";
import { frameOf, nudge } from "../units/gestures";
import { floorAxes } from "../plan/polar";
import { inRoom, nearestWall, offWall, turnFrom, wallsOf, type Wall } from "./walls";
import { under } from "./stacking";
import { onGrid, outsideOf, standing } from "./standing";
import { act, move, readDesk, setDesk, withPiece } from "../store";

const round = (p: readonly number[]): Point => p.map((v) => Math.round(v * 1e3) / 1e3) as Point;
const piece = (id: string) => readDesk().draft?.furniture.find((f) => f.id === id);
export function carryPiece(id: string, to: readonly [number, number], free = false) {
  const item = piece(id),
    room = readDesk().draft?.room;
  if (!item || !room || item.locked) return;
  // What stands outside stays outside.
  const beyond = outsideOf(room, item.position);
  if (beyond && inRoom(room, to)) return;
  const [x, y] = beyond ? onGrid(to, free) : standing(to, item, room, free);
  move(withPiece(id, (f) => ({ position: round([x, y, f.position[2]]) })));
}

export function turnPiece(id: string, by: number) {
  const item = piece(id);
  if (!item || item.locked) return;
  move(withPiece(id, (f) => ({ turn: (Math.round((f.turn + by + 720) * 10) % 3600) / 10 })));
}

export function strikePiece(id: string) {
  const item = piece(id);
  if (!item || item.locked) return;
  act((d) => ({ ...d, furniture: d.furniture.filter((f) => f.id !== id) }), `${item.name} struck`);
  setDesk({ chosenPiece: null });
}

export function setDown(id: string) {
  const item = piece(id);
  if (!item || item.locked) return;
  const z = under(item, readDesk().draft!.furniture);
  act(
    withPiece(id, (f) => ({ position: round([f.position[0], f.position[1], z]) })),
    `${item.name} ${z > 0 ? "stacked" : "on the floor"}`,
  );
}

/** Where a piece stands with its back against a wall, at the place of it that is nearest. */
function against(item: Furniture, wall: Wall, room: Document["room"]) {
  const [x, y] = item.position,
    turn = turnFrom(wall);
  const by = item.size[1] / 2 - offWall(wall, [x, y]);
  const at = [x + by * wall.inward[0], y + by * wall.inward[1]] as const;
  const [px, py] = standing(at, { size: item.size, turn }, room, true);
  return { turn, position: round([px, py, item.position[2]]) };
}

/** The wall that a piece stands against; none where it stands free. */
export function wallOf(item: Furniture, room: Document["room"]): Wall | undefined {
  return wallsOf(room).find((wall) => {
    const { turn, position } = against(item, wall, room);
    const apart = Math.hypot(position[0] - item.position[0], position[1] - item.position[1]);
    return apart < 0.005 && Math.abs(((turn - item.turn + 540) % 360) - 180) < 0.5;
  });
}

/** Stand a piece with its back against the wall that is nearest; from there, against the next. */
export function toWall(id: string) {
  const item = piece(id),
    room = readDesk().draft?.room;
  if (!item || !room || room.outdoors || item.locked) return;
  const own = wallOf(item, room),
    walls = wallsOf(room);
  const wall = own ? walls[(own.at + 1) % walls.length]! : nearestWall(room, item.position);
  act(
    withPiece(id, () => against(item, wall, room)),
    `${item.name} to the ${own ? "next " : ""}wall`,
  );
}

/** Keys on the piece in hand; true when the key was taken. */
export function pieceKey(item: Furniture, event: { key: string; shiftKey: boolean }): boolean {
  const frame = frameOf();
  if (!frame) return false;
  const step = event.shiftKey ? 0.01 : 0.1,
    { toward, right } = floorAxes(frame.face, frame.lens);
  const shift = (across: number, along: number) => () =>
    carryPiece(
      item.id,
      [
        item.position[0] + step * (across * right[0] + along * toward[0]),
        item.position[1] + step * (across * right[1] + along * toward[1]),
      ],
      true,
    );
  const lift = (by: number) => () =>
    move(
      withPiece(item.id, (f) => ({
        position: round([f.position[0], f.position[1], Math.max(0, f.position[2] + by)]),
      })),
    );
  const actions: Record<string, [() => void, string]> = {
    ArrowLeft: [shift(-1, 0), "moved"],
    ArrowRight: [shift(1, 0), "moved"],
    ArrowUp: [shift(0, -1), "moved"],
    ArrowDown: [shift(0, 1), "moved"],
    PageUp: [lift(step), "up"],
    PageDown: [lift(-step), "down"],
    "[": [() => turnPiece(item.id, event.shiftKey ? 1 : 15), "turned"],
    "]": [() => turnPiece(item.id, event.shiftKey ? -1 : -15), "turned"],
  };
  const action = actions[event.key];
  if (!action || item.locked) return false;
  nudge(action[0], `${item.name} ${action[1]}`);
  return true;
}
