/** How a hand changes the room's outline. */
import { withRoom } from "./resizing";
import { polygonArea } from "d3-polygon";
import type { Document } from "../../app/api";
import { usePreferences } from "../../app/preferences";
import { type Spot, boundsOf, cornersOf, wallsOf } from "./walls";
import { act, move, readDesk, setDesk } from "../store";

type Room = Document["room"];
type Corner = NonNullable<Room["outline"]>[number];
const FOOT = 0.3048;
/** How near to a corner's level or plumb another is drawn to it [m]. */
const SQUARE = 0.12;
const SHORTEST = 0.05;

const round = (v: number) => Math.round(v * 1e3) / 1e3;
const grid = () => (usePreferences.getState().length === "ft" ? FOOT / 2 : 0.1);

/** What is wrong with an outline; the server asks the same. */
export function faultOf(corners: readonly Spot[]): string {
  const n = corners.length;
  for (let i = 0; i < n; i++) {
    const [a, b] = [corners[i]!, corners[(i + 1) % n]!];
    if (Math.hypot(a[0] - b[0], a[1] - b[1]) < SHORTEST) return "a wall would have no length";
    for (let j = i + 2; j < n; j++)
      if ((j + 1) % n !== i && cross(a, b, corners[j]!, corners[(j + 1) % n]!))
        return "the outline would cross itself";
  }
  // Counter-clockwise counts as negative where y points up.
  return polygonArea([...corners]) > 0 ? "the outline would turn inside out" : "";
}

function cross(a: Spot, b: Spot, c: Spot, d: Spot) {
  const side = (p: Spot, q: Spot, r: Spot) =>
    (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
  return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

/** The room with an outline of its own: a plain one's four walls get numbers. */
export function withOutline(d: Document): Document {
  if (d.room.outline) return d;
  const walls = wallsOf(d.room);
  const outline: Corner[] = walls.map((w) => ({ at: w.from, surface: null }));
  return {
    ...d,
    room: { ...d.room, outline },
    openings: d.openings.map((o) => {
      const wall = walls.find((w) => w.key === o.wall);
      if (!wall) return o;
      const turned = o.wall === "north" || o.wall === "west";
      return { ...o, wall: wall.at, along: round(turned ? wall.length - o.along : o.along) };
    }),
  };
}

/** Corners put elsewhere; nothing happens where they would make no room. */
function put(corners: Spot[]) {
  if (faultOf(corners)) return;
  move((d) => {
    const own = withOutline(d);
    const outline = own.room.outline!.map((c, k) => ({
      ...c,
      at: corners[k]!.map(round) as Spot,
    }));
    return { ...own, room: { ...own.room, outline } };
  });
}

const room = () => readDesk().draft?.room;

/** Where a carried corner comes to lie: on the grid, level or plumb with its neighbours. */
export function snapped(corners: readonly Spot[], k: number, to: readonly number[]): Spot {
  const n = corners.length,
    near = [corners[(k + n - 1) % n]!, corners[(k + 1) % n]!];
  return [0, 1].map((axis) => {
    const v = to[axis]!,
      plumb = near.map((c) => c[axis]!).find((c) => Math.abs(c - v) < SQUARE);
    return plumb ?? Math.round(v / grid()) * grid();
  }) as Spot;
}

export function carryCorner(k: number, to: readonly number[], free = false) {
  const own = room();
  if (!own) return;
  const corners = cornersOf(own);
  corners[k] = free ? [to[0]!, to[1]!] : snapped(corners, k, to);
  put(corners);
}

/** Carry a wall along its way in, so far from where its first corner was. */
export function carryWall(k: number, from: readonly Spot[], by: number, free = false) {
  const n = from.length,
    [a, b] = [from[k]!, from[(k + 1) % n]!],
    length = Math.hypot(b[0] - a[0], b[1] - a[1]),
    inward = [-(b[1] - a[1]) / length, (b[0] - a[0]) / length] as const;
  const step = free ? by : Math.round(by / grid()) * grid();
  const corners = from.map((c, at): Spot =>
    at === k || at === (k + 1) % n ? [c[0] + step * inward[0], c[1] + step * inward[1]] : [...c],
  );
  put(corners);
}

/** A wall of a typed length: its far end moves, and the wall after it with that. */
export function setLength(k: number, length: number) {
  const own = room();
  if (!own || length < SHORTEST) return;
  const corners = cornersOf(own),
    wall = wallsOf(own)[k]!,
    n = corners.length,
    by = length - wall.length;
  for (const at of [(k + 1) % n, (k + 2) % n])
    if (at !== k)
      corners[at] = [corners[at]![0] + by * wall.inward[1], corners[at]![1] - by * wall.inward[0]];
  const wrong = faultOf(corners);
  if (wrong) return setDesk({ fault: { text: `So long a wall: ${wrong}.`, path: "room.outline" } });
  put(corners);
}

/** One more corner, in the middle of a wall; what is in the wall stays where it is. */
export function addCorner(k: number) {
  act(
    (d0) => {
      const d = withOutline(d0),
        wall = wallsOf(d.room)[k]!,
        outline = [...d.room.outline!];
      const at: Spot = [(wall.from[0] + wall.to[0]) / 2, (wall.from[1] + wall.to[1]) / 2];
      outline.splice(k + 1, 0, { at: at.map(round) as Spot, surface: outline[k]!.surface ?? null });
      const openings = d.openings.map((o) => {
        if (typeof o.wall !== "number" || o.wall < k) return o;
        if (o.wall > k) return { ...o, wall: o.wall + 1 };
        return o.along < wall.length / 2
          ? o
          : { ...o, wall: k + 1, along: round(o.along - wall.length / 2) };
      });
      return { ...d, room: { ...d.room, outline }, openings };
    },
    `corner in wall ${k + 1}`,
  );
}

/** A corner less; the wall that began there goes, with what was in it. */
export function dropCorner(k: number) {
  const own = room();
  if (!own || cornersOf(own).length < 4) return;
  const left = cornersOf(own).filter((_, at) => at !== k);
  if (faultOf(left)) return;
  act(
    (d0) => {
      const d = withOutline(d0);
      const outline = d.room.outline!.filter((_, at) => at !== k);
      const openings = d.openings
        .filter((o) => o.wall !== k)
        .map((o) => (typeof o.wall === "number" && o.wall > k ? { ...o, wall: o.wall - 1 } : o));
      return { ...d, room: { ...d.room, outline }, openings };
    },
    `corner ${k + 1} away`,
  );
  setDesk({ chosenWall: null });
}

/** Shapes to begin with, in parts of the room's box. */
export const SHAPES: Record<string, Spot[]> = {
  Rectangle: [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ],
  "L-shape": [
    [0, 0],
    [1, 0],
    [1, 0.5],
    [0.55, 0.5],
    [0.55, 1],
    [0, 1],
  ],
  Alcove: [
    [0, 0],
    [1, 0],
    [1, 0.75],
    [0.7, 0.75],
    [0.7, 1],
    [0.3, 1],
    [0.3, 0.75],
    [0, 0.75],
  ],
  "With a corridor": [
    [0, 0],
    [1, 0],
    [1, 0.6],
    [0.65, 0.6],
    [0.65, 1],
    [0.35, 1],
    [0.35, 0.6],
    [0, 0.6],
  ],
};

/** The room in one of the shapes, as large as it is; its windows go with the walls they were in. */
export function shape(name: string) {
  const own = room(),
    parts = SHAPES[name];
  if (!own || !parts) return;
  const { low, high } = boundsOf(own);
  const outline = parts.map(([u, v]) => ({
    at: [low[0] + u * (high[0] - low[0]), low[1] + v * (high[1] - low[1])].map(round) as Spot,
    surface: null,
  }));
  act(
    (d) => ({ ...withRoom(d, { outline }), openings: d.openings.filter(inCeiling) }),
    `room: ${name.toLowerCase()}`,
  );
  setDesk({ chosenWall: null });
}
const inCeiling = (o: Document["openings"][number]) => o.wall === "ceiling";

/** Paint of one wall; null for what the walls on its side are of. */
export function paintWall(k: number, surface: Corner["surface"], words: string) {
  act(
    (d0) => {
      const d = withOutline(d0);
      const outline = d.room.outline!.map((c, at) => (at === k ? { ...c, surface } : c));
      return { ...d, room: { ...d.room, outline } };
    },
    `wall ${k + 1}: ${words}`,
  );
}
