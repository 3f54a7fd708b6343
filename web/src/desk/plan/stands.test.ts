import { expect, test } from "vitest";
import type { Grip } from "../../app/api";
import cases from "./stand-cases.json";
import { gripStands } from "./stands";

const board: Grip = {
  id: "b",
  name: "Board",
  kind: "board",
  material: "foam-white",
  position: [0, 0, 1],
  aim: [0, 1, 1],
  aims_at: "",
  throws: "",
  roll: 0,
  size: [2.4, 1.2],
  held: "stand",
  foot: null,
  bearer: "",
  slat_pitch: 0.1,
  slat_angle: 30,
};
const feet = (change: Partial<Grip>) =>
  gripStands({ ...board, ...change }).map((s) => s.foot.map((v) => Math.round(v * 1e3) / 1e3 + 0));

test("stands stand where the core has them, however a sheet is turned, rolled and held", () => {
  for (const { piece, stands } of cases) {
    const found = gripStands(piece as Grip);
    expect(found.map((s) => s.arm)).toEqual(stands.map((s) => s.arm));
    found.forEach((s, k) =>
      s.foot.forEach((v, axis) => expect(v).toBeCloseTo(stands[k]!.foot[axis]!, 3)),
    );
  }
  expect(cases.filter((c) => c.stands.length === 2).length).toBeGreaterThan(2);
});

test("a large sheet stands on two stands, under its sides, the right one first", () => {
  expect(feet({})).toEqual([
    [1.2, 0],
    [-1.2, 0],
  ]);
});

test("a small one stands on the side that was chosen", () => {
  expect(feet({ size: [1.2, 0.6] })).toEqual([[0.6, 0]]);
  expect(feet({ size: [1.2, 0.6], foot: [-3, 0] })).toEqual([[-0.6, 0]]);
});

test("rolled by a quarter, it is held at what were its top and foot", () => {
  expect(feet({ size: [0.6, 1.2], roll: 90 })).toEqual([[0.6, 0]]);
});

test("tilted, it stands where its sides are seen from above", () => {
  expect(feet({ size: [1.2, 0.6], aim: [0, 1, 2] })).toEqual([[0.6, 0]]);
});

test("a boom's stand is where it was put; what hangs or is held has none", () => {
  expect(gripStands({ ...board, held: "boom", foot: [2, 3] })).toEqual([
    { foot: [2, 3], arm: true },
  ]);
  for (const held of ["", "hung", "built-in", "hand"] as const)
    expect(gripStands({ ...board, held })).toEqual([]);
});
