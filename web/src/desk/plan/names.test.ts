import { expect, test } from "vitest";
import { placeNames, spread } from "./names";

const random = (() => {
  let s = 7;
  return () => (s = (s * 16807) % 2147483647) / 2147483647;
})();

test("names of lamps that stand close do not cover each other", () => {
  const units = [
    { id: "a", name: "Cabinet", at: [200, 100] as const },
    { id: "b", name: "Edge", at: [232, 104] as const },
  ];
  const { a, b } = placeNames(units, [], 600, 400);
  const left = ({ x, anchor }: typeof a & object, at: number, wide: number) =>
    anchor === "start" ? at + x : anchor === "end" ? at + x - wide : at + x - wide / 2;
  const [la, lb] = [left(a!, 200, 49), left(b!, 232, 28)];
  const apart = la + 49 <= lb || lb + 28 <= la || Math.abs(100 + a!.y - (104 + b!.y)) >= 14;
  expect(apart).toBe(true);
});

test("a name by the edge stays inside", () => {
  for (const at of [
    [4, 200],
    [596, 200],
    [300, 396],
    [300, 4],
  ] as const) {
    const place = placeNames([{ id: "k", name: "Background 2", at }], [], 600, 400).k!;
    const x = at[0] + place.x,
      y = at[1] + place.y,
      wide = 12 * 7;
    const left = place.anchor === "start" ? x : place.anchor === "end" ? x - wide : x - wide / 2;
    expect(left >= 0 && left + wide <= 600).toBe(true);
    expect(y > 10 && y <= 400).toBe(true);
  }
});

test("labels in a column never overlap and never leave it, wherever their marks are", () => {
  for (let run = 0; run < 200; run++) {
    const n = 1 + Math.floor(random() * 20);
    const marks = Array.from({ length: n }, () => ({ y: random() * 340 }));
    const rows = spread(marks, 14, 10, 300);
    rows.forEach((row, k) => {
      if (k) expect(row.shown - rows[k - 1]!.shown).toBeGreaterThanOrEqual(14 - 1e-9);
      expect(row.shown).toBeLessThanOrEqual(300 + 1e-9);
    });
  }
});
