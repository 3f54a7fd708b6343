import { beforeEach, expect, test } from "vitest";
import { base } from "../frame/scene.fixture";
import { readDesk, setDesk } from "../store";
import { holdOverFloor, lineOf, MOST, repeat, type Mark } from "./marking";

const onWall: Mark = {
  id: "m1",
  name: "On the south wall",
  position: [2, 0.025, 1],
  direction: [0, 1, 0],
  receiver: "disc",
};
const at = (marks: { position: readonly number[] }[]) => marks.map((m) => m.position);

beforeEach(() => {
  setDesk({
    record: { id: 1, role: "editor" } as never,
    draft: {
      ...base,
      marks: [onWall],
      room: { ...base.room, outdoors: false, width: 6, depth: 7, height: 3 },
    },
    look: { anchor: [3, 3, 1.2] } as never,
  });
});

test("a line on a wall runs level, to the right of whoever looks at it", () => {
  // The wall looks north, so whoever faces it looks south: right is west.
  expect(at(lineOf(onWall, "across", 3, 0.5))).toEqual([
    [1.5, 0.025, 1],
    [1, 0.025, 1],
  ]);
});

test("what would lie behind a wall is left out", () => {
  expect(at(lineOf(onWall, "across", 8, 0.5))).toHaveLength(3);
});

test("a grid fills rows and columns by name, its own place left out", () => {
  const grid = lineOf(onWall, "grid", 2, 0.3048);
  expect(at(grid)).toEqual([
    [1.695, 0.025, 1],
    [2, 0.025, 1.305],
    [1.695, 0.025, 1.305],
  ]);
  expect(grid.map((m) => m.name)).toEqual([
    "On the south wall B1",
    "On the south wall A2",
    "On the south wall B2",
  ]);
});

test("a walk goes level toward the lens", () => {
  const [x, y] = base.cameras[0]!.position as [number, number, number];
  const [step] = lineOf({ ...onWall, position: [x, y - 2, 1.2] }, "lens", 2, 0.5);
  expect(step!.position).toEqual([x, +(y - 1.5).toFixed(3), 1.2]);
});

test("marks get ids of their own and never more than a set-up holds", () => {
  repeat(onWall, lineOf(onWall, "across", 4, 0.25));
  const { marks } = readDesk().draft!;
  expect(marks).toHaveLength(4);
  expect(new Set(marks.map((m) => m.id)).size).toBe(4);
  repeat(onWall, lineOf(onWall, "grid", 6, 0.1));
  repeat(onWall, lineOf(onWall, "grid", 6, 0.1));
  expect(readDesk().draft!.marks).toHaveLength(MOST);
});

test("a press past a wall holds the meter before it", () => {
  holdOverFloor([9, -2]);
  expect(readDesk().draft!.marks.at(-1)!.position).toEqual([5.9, 0.1, 1.2]);
});

test("over the floor of the plan the meter is as high as the eyes, toward the lens", () => {
  holdOverFloor([1, 2]);
  const mark = readDesk().draft!.marks.at(-1)!;
  expect(mark.position).toEqual([1, 2, 1.2]);
  expect(Math.hypot(...mark.direction)).toBeCloseTo(1, 3);
});
