/** The room given other measures, with all that stands in it. */
import type { Document, Point } from "../../app/api";
import { heldIn, inRoom } from "./walls";
import { standing } from "./standing";

type Room = Document["room"];

/** How near to a wall people, cameras, units and sheets come to stand when it comes in [m]. */
const [PERSON, CAMERA, THING] = [0.35, 0.25, 0.3];
/** Of a lens or a lamp under a ceiling that comes down [m]. */
const UNDER = 0.15;

const round = (p: readonly number[]): Point => p.map((v) => Math.round(v * 1e3) / 1e3) as Point;

/**
 * A document with its room changed: what stood inside and would be outside comes in with the wall,
 * so that a room can be typed in any order. What stood outside before stays there.
 */
export function withRoom(d: Document, change: Partial<Room>): Document {
  const room = { ...d.room, ...change };
  if (room.outdoors) return { ...d, room };
  const top = room.height - UNDER;
  const inside = (p: readonly number[]) => inRoom(d.room, p);
  const held = <T extends { position: readonly number[] }>(item: T, margin: number): T => {
    const p = item.position;
    if (!inside(p) || (inRoom(room, p, 0.02) && (p[2] ?? 0) <= top)) return item;
    const at = inRoom(room, p, 0.02) ? p : [...heldIn(room, p, margin), ...p.slice(2)];
    return { ...item, position: round(at.map((v, k) => (k === 2 ? Math.min(v, top) : v))) };
  };
  return {
    ...d,
    room,
    figures: d.figures.map((f) => held(f, PERSON)),
    cameras: d.cameras.map((c) => held(c, CAMERA)),
    // What is part of a piece goes with that.
    units: d.units.map((u) => (u.piece ? u : held(u, THING))),
    grip: d.grip.map((g) => held(g, THING)),
    furniture: d.furniture.map((f) => {
      if (!inside(f.position)) return f;
      const [x, y] = standing([f.position[0], f.position[1]], f, room, true);
      const fixed = f.position[2] > 0.5 && f.position[2] + f.size[2] > d.room.height - 0.02;
      const z = fixed ? f.position[2] + room.height - d.room.height : f.position[2];
      const moved = Math.hypot(x - f.position[0], y - f.position[1]) > 1e-3 || fixed;
      return moved ? { ...f, position: round([x, y, Math.max(0, z)]) } : f;
    }),
  };
}
