import { expect, test } from "vitest";
import { choicesOf, NOTHING, offered, spread, stackKey, stackOf } from "./axes";
import { plane, sorted, told, within, type Cell, type Figure } from "./figures";

const cell = (row: number, figures: Record<string, number>): Cell => ({
  row,
  column: 0,
  state: "done",
  fault: "",
  figures,
  words: {},
  favourite: false,
});
const cells = [cell(0, { soft: 4, lost: 1 }), cell(1, { lost: 3 }), cell(2, { soft: 30, lost: 2 })];
const rows = (found: readonly Cell[]) => found.map((c) => c.row);

test("cells are sorted by a figure both ways; what lacks it comes last", () => {
  expect(rows(sorted(cells, "soft", false))).toEqual([0, 2, 1]);
  expect(rows(sorted(cells, "soft", true))).toEqual([2, 0, 1]);
  expect(rows(sorted(cells, "", true))).toEqual([0, 1, 2]);
});

test("a bound keeps what is within it, and nothing that lacks the figure", () => {
  expect(rows(within(cells, { key: "soft", how: "at least", value: 10 }))).toEqual([2]);
  expect(rows(within(cells, { key: "lost", how: "at most", value: 2 }))).toEqual([0, 2]);
  expect(rows(within(cells, null))).toEqual([0, 1, 2]);
});

test("the plane spreads what has both figures from corner to corner", () => {
  const dots = plane(cells, "soft", "lost");
  expect(dots.map((d) => [d.cell.row, d.x, d.y])).toEqual([
    [0, 0, 0],
    [2, 1, 1],
  ]);
  expect(plane([cells[0]!], "soft", "lost")[0]).toMatchObject({ x: 0.5, y: 0.5 });
});

test("figures are told with their units, classes in words", () => {
  const figure = (unit: string, digits: number, words: string[] = []): Figure => ({
    key: "k",
    name: "n",
    unit,
    digits,
    better: "",
    words,
  });
  expect(told(figure("stops", 1), -1.25)).toBe("−1.3 stops");
  expect(told(figure("°", 1), 12.34)).toBe("12.3°");
  expect(told(figure(": 1", 1), 4)).toBe("4.0:1");
  expect(told(figure("", 0, ["silent", "loud"]), 1)).toBe("loud");
  expect(told(figure("m", 2), undefined)).toBe("–");
});

test("distances go from–to by ratios, angles by steps", () => {
  expect(spread({ ...NOTHING, of: "distance", from: 1, to: 4, count: 3 })).toEqual([1, 2, 4]);
  expect(spread({ ...NOTHING, of: "angle", from: -60, to: 0, count: 4 })).toEqual([
    -60, -40, -20, 0,
  ]);
  expect(spread({ ...NOTHING, of: "height", from: 10, to: 60, count: 1 })).toEqual([10]);
});

test("an axis sends what was ticked, in the order it was ticked", () => {
  const constants = {
    heads: [
      { key: "a", name: "A" },
      { key: "b", name: "B" },
    ],
    materials: [{ key: "grid", name: "Grid", group: "cloth" }],
    moves: [{ key: "cloth", name: "Cloth" }],
    attachments: [],
  } as never;
  const made = choicesOf({ ...NOTHING, of: "heads", picked: ["b", "a"] }, constants, String);
  expect(made!.map((c) => c.name)).toEqual(["B", "A"]);
  expect(choicesOf(NOTHING, constants, String)).toBeNull();
  const two = offered("moves", constants)["two grid"]!;
  expect(two.steps.map((s) => s.material)).toEqual(["grid", "grid"]);
});

test("a stack of three cloths is sent from the face to the lamp, and named from the lamp on", () => {
  const materials = [
    { key: "a", name: "A", group: "cloth" },
    { key: "b", name: "B", group: "cloth" },
    { key: "c", name: "C", group: "board" },
  ];
  const constants = { heads: [], materials, moves: [], attachments: [] } as never;
  const key = stackKey(["a", "b", "a"]);
  const [made] = choicesOf({ ...NOTHING, of: "moves", picked: [key] }, constants, String)!;
  expect(made!.name).toBe("A, then B, then A");
  expect(made!.steps.map((s) => s.material)).toEqual(["a", "b", "a"]);
  const two = stackOf(stackKey(["a", "b"]), constants)!;
  expect(two.steps.map((s) => s.material)).toEqual(["b", "a"]);
  // A board is no cloth, and one cloth is no stack.
  for (const wrong of [stackKey(["a", "c"]), stackKey(["a"]), "two a"])
    expect(stackOf(wrong, constants)).toBeUndefined();
});
