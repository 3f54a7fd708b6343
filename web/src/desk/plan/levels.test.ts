import { expect, test } from "vitest";
import type { LevelMap } from "../../app/api";
import { bands, wallGrid, wordPlaces, type Spot } from "./levels";

const map = (lux: number[], columns: number): LevelMap => ({
  plane: "floor",
  corner: [0, 0, 0],
  along: [1, 0, 0],
  up: [0, 1, 0],
  columns,
  rows: lux.length / columns,
  lux,
});

test("bands lie a stop apart under the brightest place but one in a hundred", () => {
  // Halves every column: each line must run straight down between two of them.
  const found = bands(
    map(
      Array.from({ length: 200 }, (_, k) => 1000 / 2 ** (k % 10)),
      10,
    ),
  );
  expect(found.map((b) => Math.round(b.stops))).toEqual([-8, -7, -6, -5, -4, -3, -2, -1, 0]);
  expect(found.at(-1)!.lux).toBeCloseTo(1000);
  // The middle of the second column is where the light is half of the first's.
  for (const [k, x] of [
    [-2, 1.5],
    [-3, 2.5],
    [-5, 4.5],
  ] as const)
    expect(Math.max(...found.at(k)!.rings[0]![0]!.map(([at]) => at!))).toBeCloseTo(x, 1);
});

test("in the dark there are no bands", () => {
  expect(bands(map(Array(100).fill(0) as number[], 10))).toEqual([]);
});

const column = (x: number): Spot[] => Array.from({ length: 10 }, (_, k) => [x, k * 10]);

test("words stand at the top of their line", () => {
  expect(
    wordPlaces([
      { text: "100 fc", along: column(0) },
      { text: "50 fc", along: column(80) },
    ]),
  ).toEqual([
    [0, 0],
    [80, 0],
  ]);
});

test("words that would touch go down their line", () => {
  expect(
    wordPlaces([
      { text: "100 fc", along: column(0) },
      { text: "50 fc", along: column(12) },
      { text: "25 fc", along: column(24) },
    ]),
  ).toEqual([
    [0, 0],
    [12, 20],
    [24, 40],
  ]);
});

test("a line without room has no words, and does not take it from the next", () => {
  expect(
    wordPlaces([
      { text: "100 fc", along: [[0, 0]] },
      { text: "50 fc", along: [[5, 5]] },
      { text: "25 fc", along: [[5, 14]] },
      { text: "x", along: [] },
    ]),
  ).toEqual([[0, 0], null, [5, 14], null]);
});

test("words stay inside the picture", () => {
  const [first, last] = wordPlaces(
    [
      { text: "100 fc", along: [[1, 20]] },
      { text: "50 fc", along: [[259, 20]] },
    ],
    0,
    260,
  );
  expect(first![0]).toBeGreaterThan(15);
  expect(last![0]).toBeLessThan(245);
});

test("a wall's grid is counted in feet from its middle, with stops against it", () => {
  // A lamp 2 m before the middle of a wall of 4 by 2.5 m: E goes with (1 + r^2 / 4)^-1.5.
  const columns = 400,
    rows = 250;
  const lux = Array.from({ length: columns * rows }, (_, k) => {
    const x = ((k % columns) + 0.5) / 100 - 2,
      y = (Math.floor(k / columns) + 0.5) / 100 - 1.25;
    return 800 * (1 + (x * x + y * y) / 4) ** -1.5;
  });
  const wall: LevelMap = { ...map(lux, columns), along: [4, 0, 0], up: [0, 0, 2.5], rows };
  const grid = wallGrid(wall, 0.3048);
  expect(grid.across).toHaveLength(13);
  expect((grid.across[7]! - grid.across[6]!) * 4).toBeCloseTo(0.3048);
  expect(grid.crossings.find(({ u, v }) => u === 0.5 && v === 0.5)!.words).toBe("0");
  for (const { u, v, words } of grid.crossings) {
    const x = (u - 0.5) * 4,
      y = (v - 0.5) * 2.5;
    const stops = -1.5 * Math.log2(1 + (x * x + y * y) / 4);
    expect(Math.abs(Number(words.replace("−", "-")) - stops)).toBeLessThan(0.07);
  }
});

test("a dark wall has a grid and no figures", () => {
  const wall = { ...map(Array(100).fill(0), 10), along: [4, 0, 0], up: [0, 0, 3] } as LevelMap;
  expect(wallGrid(wall, 0.5).crossings).toEqual([]);
});
