/** Lines of equal level: bands of a map, and where their words go. */
import { contours } from "d3-contour";
import type { LevelMap } from "../../app/api";

export type Spot = [number, number];
export type Band = { lux: number; stops: number; rings: number[][][][] };

/**
 * Whole stops under the brightest place: the bands, and their outlines as closed runs of grid
 * places.
 */
export function bands(map: LevelMap): Band[] {
  const sorted = [...map.lux].sort((a, b) => a - b);
  // A lamp's own hot spot would push every line together: the brightest hundredth is left out.
  const top = sorted[Math.floor(sorted.length * 0.99)] ?? 0;
  if (top <= 0) return [];
  const levels = Array.from({ length: 8 }, (_, k) => top / 2 ** (8 - k)).concat(top);
  return contours()
    .size([map.columns, map.rows])
    .thresholds(levels)(map.lux)
    .map((c) => ({ lux: c.value, stops: Math.log2(c.value / top), rings: c.coordinates }));
}

const LINE = 12,
  LETTER = 5.6;

/**
 * Where the words of each line go, the first line's first: as high on the line as they touch no
 * words before them, and not over the edges; null where there is no room.
 */
export function wordPlaces(
  lines: { text: string; along: Spot[] }[],
  left = -Infinity,
  right = Infinity,
): (Spot | null)[] {
  const taken: { x: number; y: number; half: number }[] = [];
  return lines.map(({ text, along }) => {
    const half = (text.length * LETTER) / 2 + 2;
    const free = ([x, y]: Spot) =>
      taken.every((t) => Math.abs(t.y - y) >= LINE || Math.abs(t.x - x) >= t.half + half);
    const inside = ([x, y]: Spot): Spot => [Math.min(Math.max(x, left + half), right - half), y];
    const spot =
      along
        .map(inside)
        .sort((a, b) => a[1] - b[1])
        .find(free) ?? null;
    if (spot) taken.push({ x: spot[0], y: spot[1], half });
    return spot;
  });
}

/** Pixels that a figure takes across and up a wall's map. */
const APART = [0.1, 0.16] as const;

/**
 * A grid over a wall map, counted from its middle: lines (parts of the width and height), and at
 * every crossing that has room the stops of the level there from the middle's.
 */
export function wallGrid(map: LevelMap, every: number) {
  const sides = [Math.hypot(...map.along), Math.hypot(...map.up)] as const;
  const [across, up] = sides.map((side) => {
    const most = Math.floor(side / 2 / every);
    return [...Array(2 * most + 1).keys()].map((k) => 0.5 + ((k - most) * every) / side);
  }) as [number[], number[]];
  const at = (u: number, v: number) => {
    const column = Math.min(map.columns - 1, Math.floor(u * map.columns)),
      row = Math.min(map.rows - 1, Math.floor(v * map.rows));
    return map.lux[row * map.columns + column]!;
  };
  const middle = at(0.5, 0.5);
  const [columns, rows] = [across, up].map((lines, axis) => {
    const step = Math.ceil(APART[axis]! / (every / sides[axis]!)),
      own = (lines.length - 1) / 2;
    return lines.filter((place, k) => (k - own) % step === 0 && place > 0.03 && place < 0.95);
  }) as [number[], number[]];
  const crossings = rows.flatMap((v) =>
    columns.map((u) => {
      const stops = Math.log2(Math.max(at(u, v), 1e-6) / Math.max(middle, 1e-6));
      const words =
        Math.abs(stops) < 0.05 ? "0" : `${stops < 0 ? "−" : "+"}${Math.abs(stops).toFixed(1)}`;
      return { u, v, words: stops < -9 ? "dark" : words };
    }),
  );
  return { across, up, middle, crossings: middle > 1e-3 ? crossings : [] };
}
