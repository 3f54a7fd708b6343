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
