/** The room's walls, and what is within them: geometry alone. */
import { polygonContains } from "d3-polygon";
import type { Document } from "../../app/api";

type Room = Document["room"];
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

/** The wall behind a face as a lens sees it, and where on it; none outdoors. */
export const wallBehind = (room: Room, face: readonly number[], lens: readonly number[]) =>
  room.outdoors ? null : wallAhead(room, face, [face[0]! - lens[0]!, face[1]! - lens[1]!]);

/** The turn whose front looks the way that a wall does [deg]. */
export const turnFrom = ({ inward: [x, y] }: Wall) =>
  (Math.round((Math.atan2(-x, y) * 180) / Math.PI) + 360) % 360;
