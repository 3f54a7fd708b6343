/** The room given other measures, with all that stands in it. */
import type { Document, Point } from "../../app/api";
import { stood } from "../units/gestures";
import { heldIn, inRoom } from "./walls";
import { standing } from "./standing";

type Room = Document["room"];

/** How near to a wall people, cameras, units and sheets come to stand when it comes in [m]. */
const [PERSON, CAMERA, THING] = [0.35, 0.25, 0.3];
/** What stands so near to the first person goes where they go [m]. */
const BESIDE = 1.5;
/** Of a lens or a lamp under a ceiling that comes down [m]. */
const UNDER = 0.15;

const round = (p: readonly number[]): Point => p.map((v) => Math.round(v * 1e3) / 1e3) as Point;

type At = readonly number[];

/** How far the first person is carried who would be outside: to the middle between the walls. */
function carriedBy(d: Document, room: Room): [number, number] {
  const p = d.figures[0]?.position;
  if (!p || !inRoom(d.room, p) || inRoom(room, p, 0.02)) return [0, 0];
  const between = (at: number, length: number) => (at > length - PERSON ? length / 2 : at);
  const [x, y] = room.outline
    ? heldIn(room, p, PERSON)
    : [between(p[0], room.width), between(p[1], room.depth)];
  return [x - p[0], y - p[1]];
}

/**
 * A document with its room changed: what stood inside and would be outside comes in with the wall,
 * so that a room can be typed in any order. Where that is the first person, the cameras, the lamps
 * and what stands beside them go along. What stood outside before stays there.
 */
export function withRoom(d: Document, change: Partial<Room>): Document {
  const room = { ...d.room, ...change };
  if (room.outdoors) return { ...d, room };
  const top = room.height - UNDER;
  const by = carriedBy(d, room);
  const inside = (p: At) => inRoom(d.room, p);
  const along = (p: At): Point => round([p[0]! + by[0], p[1]! + by[1], ...p.slice(2)]);
  type Thing = { position: At; aim?: At; foot?: At | null };
  const carried = <T extends Thing>(item: T): T => {
    if (!by[0] && !by[1]) return item;
    const aim = item.aim && { aim: along(item.aim) };
    return { ...item, ...stood(item, along(item.position)), ...aim };
  };
  const held = <T extends Thing>(item: T, margin: number): T => {
    if (!inside(item.position)) return item;
    const gone = carried(item),
      p = gone.position;
    if (inRoom(room, p, 0.02) && (p[2] ?? 0) <= top) return gone;
    const at = inRoom(room, p, 0.02) ? p : [...heldIn(room, p, margin), ...p.slice(2)];
    const to = round(at.map((v, k) => (k === 2 ? Math.min(v, top) : v)));
    return { ...gone, ...stood(gone, to) };
  };
  const first = d.figures[0]?.position;
  const beside = (p: At) => !!first && Math.hypot(p[0]! - first[0], p[1]! - first[1]) < BESIDE;
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
      const from = beside(f.position) ? carried(f).position : f.position;
      const [x, y] = standing([from[0], from[1]], f, room, true);
      const fixed = f.position[2] > 0.5 && f.position[2] + f.size[2] > d.room.height - 0.02;
      const z = fixed ? f.position[2] + room.height - d.room.height : f.position[2];
      const moved = Math.hypot(x - f.position[0], y - f.position[1]) > 1e-3 || fixed;
      return moved ? { ...f, position: round([x, y, Math.max(0, z)]) } : f;
    }),
  };
}
