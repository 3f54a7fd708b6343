/** Names on the plan: beside their glyphs, clear of each other and of the edge. */

type Place = { x: number; y: number; anchor: "start" | "middle" | "end" };
type Named = { id: string; name: string; at: readonly [number, number] };
type Box = readonly [number, number, number, number];

const LETTER = 7,
  LINE = 14,
  GLYPH = 13;

/** Where a name may stand about its glyph: below, above, right, left, and the corners. */
const TRIES: [number, number, Place["anchor"]][] = [
  [0, 28, "middle"],
  [0, -20, "middle"],
  [18, 4, "start"],
  [-18, 4, "end"],
  [14, 22, "start"],
  [-14, 22, "end"],
  [14, -14, "start"],
  [-14, -14, "end"],
  [0, 42, "middle"],
  [0, -34, "middle"],
];

const boxOf = (name: string, x: number, y: number, anchor: Place["anchor"]): Box => {
  const width = name.length * LETTER,
    left = anchor === "start" ? x : anchor === "end" ? x - width : x - width / 2;
  return [left, y - LINE + 3, left + width, y + 3];
};
const overlap = (a: Box, b: Box) =>
  Math.max(0, Math.min(a[2], b[2]) - Math.max(a[0], b[0])) *
  Math.max(0, Math.min(a[3], b[3]) - Math.max(a[1], b[1]));

/**
 * Offsets of the names from their glyphs, the last given (the chosen unit) first served.
 *
 * `others` are places that no name should cover: the subject, the camera.
 */
export function placeNames(
  units: readonly Named[],
  others: readonly (readonly [number, number])[],
  width: number,
  height: number,
): Record<string, Place> {
  const taken: Box[] = [...units.map((u) => u.at), ...others].map(([x, y]) => [
    x - GLYPH,
    y - GLYPH,
    x + GLYPH,
    y + GLYPH,
  ]);
  const out: Record<string, Place> = {};
  for (const { id, name, at } of [...units].reverse()) {
    let best = TRIES[0]!,
      least = Infinity;
    for (const [k, [dx, dy, anchor]] of TRIES.entries()) {
      const box = boxOf(name, at[0] + dx, at[1] + dy, anchor);
      const across = Math.max(0, -box[0]) + Math.max(0, box[2] - width),
        along = Math.max(0, -box[1]) + Math.max(0, box[3] - height);
      const covered = taken.reduce((sum, t) => sum + overlap(box, t), 0);
      const cost = covered + 40 * (across + along) + k;
      if (cost < least) [least, best] = [cost, TRIES[k]!];
    }
    out[id] = { x: best[0], y: best[1], anchor: best[2] };
    taken.push(boxOf(name, at[0] + best[0], at[1] + best[1], best[2]));
  }
  return out;
}

/**
 * Heights of labels in a column, kept apart by `gap` and between `low` and `high`: each is pushed
 * below the one above it, and all are pushed up again where they would leave at the foot.
 */
export function spread<T extends { y: number }>(
  items: readonly T[],
  gap: number,
  low: number,
  high: number,
): (T & { shown: number })[] {
  const sorted = [...items]
    .sort((a, b) => a.y - b.y)
    .map((item) => ({ ...item, shown: Math.max(item.y, low) }));
  for (let k = 1; k < sorted.length; k++)
    sorted[k]!.shown = Math.max(sorted[k]!.shown, sorted[k - 1]!.shown + gap);
  let most = high;
  for (let k = sorted.length - 1; k >= 0 && sorted[k]!.shown > most; k--) {
    sorted[k]!.shown = most;
    most -= gap;
  }
  return sorted;
}
