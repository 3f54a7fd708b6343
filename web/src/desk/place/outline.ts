/** The room's outline: its walls, what is within them, and how a hand changes them. */
import { polygonArea, polygonContains } from "d3-polygon";
import type { Document } from "../../app/api";
import { usePreferences } from "../../app/preferences";
import { act, move, readDesk, setDesk } from "../store";

type Room = Document["room"];
type Corner = NonNullable<Room["outline"]>[number];
export type Spot = [number, number];
export type Wall = {
  /** Side of a plain room, or the number of the corner that it begins at. */
  key: Document["openings"][number]["wall"];
  at: number;
  from: Spot;
  to: Spot;
  length: number;
  /** Unit vector into the room. */
  inward: Spot;
};

/** In the order of a plain room's corners. */
const COMPASS = ["south", "east", "north", "west"] as const;
const FOOT = 0.3048;
/** How near to a corner's level or plumb another is drawn to it [m]. */
const SQUARE = 0.12;
const SHORTEST = 0.05;

const round = (v: number) => Math.round(v * 1e3) / 1e3;
const grid = () => (usePreferences.getState().length === "ft" ? FOOT / 2 : 0.1);

export function cornersOf(room: Room): Spot[] {
  if (room.outline && !room.outdoors) return room.outline.map((c) => [c.at[0]!, c.at[1]!]);
  const { width: w, depth: d } = room;
  return [
    [0, 0],
    [w, 0],
    [w, d],
    [0, d],
  ];
}

export function boundsOf(room: Room): { low: Spot; high: Spot } {
  const corners = cornersOf(room),
    each = (pick: (...v: number[]) => number): Spot => [
      pick(...corners.map((c) => c[0])),
      pick(...corners.map((c) => c[1])),
    ];
  return { low: each(Math.min), high: each(Math.max) };
}

/** Walls, the room to the left on the way along each. */
export function wallsOf(room: Room): Wall[] {
  const corners = cornersOf(room);
  return corners.map((from, at) => {
    const to = corners[(at + 1) % corners.length]!,
      length = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1e-9;
    return {
      key: room.outline && !room.outdoors ? at : COMPASS[at]!,
      at,
      from,
      to,
      length,
      inward: [-(to[1] - from[1]) / length, (to[0] - from[0]) / length],
    };
  });
}

export const wallName = (key: Wall["key"]) =>
  typeof key === "number" ? `wall ${key + 1}` : key === "ceiling" ? "ceiling" : `${key} wall`;

/** Ends of a window on the plan, along its wall. */
export function onWall(room: Room, key: Wall["key"], along: readonly number[]): Spot[] {
  const wall = wallsOf(room).find((w) => w.key === key);
  if (!wall) return [];
  // North and west walls of a plain room are measured from the corner that they end at.
  const [from, to] =
    key === "north" || key === "west" ? [wall.to, wall.from] : [wall.from, wall.to];
  return along.map((v) => [
    from[0] + (v / wall.length) * (to[0] - from[0]),
    from[1] + (v / wall.length) * (to[1] - from[1]),
  ]);
}

/** Distance of a place from the line of a wall, into the room [m]. */
export const offWall = (wall: Wall, [x, y]: readonly number[]) =>
  (x! - wall.from[0]) * wall.inward[0] + (y! - wall.from[1]) * wall.inward[1];
const along = (wall: Wall, [x, y]: readonly number[]) =>
  (x! - wall.from[0]) * wall.inward[1] - (y! - wall.from[1]) * wall.inward[0];

/** The place of a wall that is nearest. */
function onSegment(wall: Wall, place: readonly number[]): Spot {
  const t = Math.min(Math.max(along(wall, place), 0), wall.length) / wall.length;
  return [
    wall.from[0] + t * (wall.to[0] - wall.from[0]),
    wall.from[1] + t * (wall.to[1] - wall.from[1]),
  ];
}
const distanceTo = (wall: Wall, place: readonly number[]) => {
  const [x, y] = onSegment(wall, place);
  return Math.hypot(place[0]! - x, place[1]! - y);
};

export function nearestWall(room: Room, place: readonly number[]): Wall {
  return wallsOf(room).reduce((best, w) =>
    distanceTo(w, place) < distanceTo(best, place) ? w : best,
  );
}

/** Whether a place is within the walls, and no nearer to one than a margin; always outdoors. */
export function inRoom(room: Room, place: readonly number[], margin = 0): boolean {
  if (room.outdoors) return true;
  return (
    polygonContains(cornersOf(room), [place[0]!, place[1]!]) &&
    wallsOf(room).every((w) => distanceTo(w, place) >= margin)
  );
}

/** The nearest place that is within the walls by a margin, as well as one can be. */
export function heldIn(room: Room, place: readonly number[], margin: number): Spot {
  return clearOfWalls(room, place, () => margin, 0);
}

/**
 * A place moved into the room until walls are as far as they must be; what is within `pull` of that
 * is drawn to the wall. `need` tells how far a wall must be, by its way in [m].
 */
export function clearOfWalls(
  room: Room,
  place: readonly number[],
  need: (inward: Spot) => number,
  pull: number,
): Spot {
  let [x, y] = [place[0]!, place[1]!];
  if (room.outdoors) return [x, y];
  const walls = wallsOf(room);
  if (!polygonContains(cornersOf(room), [x, y]))
    [x, y] = onSegment(nearestWall(room, [x, y]), [x, y]);
  for (let pass = 0; pass < 3; pass++)
    for (const wall of walls) {
      const half = need(wall.inward),
        side = need([wall.inward[1], -wall.inward[0]]);
      const t = along(wall, [x, y]),
        d = offWall(wall, [x, y]);
      // A wall round the corner is not in the way.
      if (t < -side + 1e-6 || t > wall.length + side - 1e-6 || d < -0.01 || d >= half + pull)
        continue;
      [x, y] = [x + (half - d) * wall.inward[0], y + (half - d) * wall.inward[1]];
    }
  return [x, y];
}

/** Where a level way from a place inside first meets a wall. */
export function wallAhead(room: Room, from: readonly number[], way: readonly number[]) {
  let best: { wall: Wall; at: Spot; far: number } | null = null;
  for (const wall of wallsOf(room)) {
    const closing = -(way[0]! * wall.inward[0] + way[1]! * wall.inward[1]);
    if (closing < 1e-9) continue;
    const far = offWall(wall, from) / closing,
      at: Spot = [from[0]! + far * way[0]!, from[1]! + far * way[1]!],
      t = along(wall, at);
    if (far > 0 && t > -1e-6 && t < wall.length + 1e-6 && (!best || far < best.far))
      best = { wall, at, far };
  }
  return best;
}

/** The turn whose front looks the way that a wall does [deg]. */
export const turnFrom = ({ inward: [x, y] }: Wall) =>
  (Math.round((Math.atan2(-x, y) * 180) / Math.PI) + 360) % 360;

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
    (d) => ({ ...d, room: { ...d.room, outline }, openings: d.openings.filter(inCeiling) }),
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
