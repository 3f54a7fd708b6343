import { expect, test } from "vitest";
import type { Document, Furniture, Grip, Point, Unit } from "../../app/api";
import { base } from "../frame/scene.fixture";
import { keepTogether, placeOn } from "./riding";

const wood = { reflectance: 0.3, colour: [1, 1, 1] as Point };
const lamp: Furniture = {
  id: "l",
  name: "Lamp",
  kind: "work-lamp",
  position: [1, 2, 0.75],
  size: [0.2, 0.4, 0.5],
  turn: 90,
  surface: wood,
  second: wood,
  through: 0,
  gloss: 0,
  open: 0,
  locked: false,
};
type Pair = [number, number];
const AT = [0, 0.2, 0.72];
const bulb: Unit = {
  ...base.units[0]!,
  id: "b",
  piece: "l",
  position: placeOn(lamp, AT),
  aim: placeOn(lamp, [0, 0.2, -1]),
};
const before: Document = { ...base, furniture: [lamp], units: [...base.units, bulb] };
const withLamp = (change: Partial<Furniture>): Document => ({
  ...before,
  furniture: [{ ...lamp, ...change }],
});
const theBulb = (d: Document) => d.units.find((u) => u.id === "b");

test("a place on a piece turns with it", () => {
  // Its front is to the north at 0, so to the west at 90.
  expect(placeOn(lamp, [0, 0.2, 0.72])).toEqual([0.92, 2, 1.11]);
});

test.each([
  ["moved", { position: [3, 1, 0.4] as Point }],
  ["turned", { turn: 215 }],
  ["resized", { size: [0.3, 0.5, 0.9] as Point }],
  ["all at once", { position: [0.5, 0.5, 0] as Point, turn: -30, size: [0.1, 0.2, 0.3] as Point }],
])("its light goes along when it is %s, and looks where it looked", (_, change) => {
  const after = theBulb(keepTogether(before, withLamp(change)))!;
  placeOn({ ...lamp, ...change }, AT).forEach((v, k) =>
    expect(after.position[k]).toBeCloseTo(v, 3),
  );
  const way = after.aim.map((v, k) => v - after.position[k]!);
  expect(Math.hypot(way[0]!, way[1]!)).toBeLessThan(1e-3);
  expect(way[2]).toBeLessThan(0);
});

test("a light that is dragged takes its piece along, a locked one stays", () => {
  const dragged = (piece: Furniture): Document => ({
    ...before,
    furniture: [piece],
    units: before.units.map((u) =>
      u.id === "b" ? { ...u, position: [u.position[0] + 1, u.position[1], u.position[2]] } : u,
    ),
  });
  const free = keepTogether(before, dragged(lamp));
  expect(free.furniture[0]!.position).toEqual([2, 2, 0.75]);
  expect(theBulb(free)!.position[0]).toBeCloseTo(1.92, 3);
  const locked = { ...lamp, locked: true };
  const held = keepTogether({ ...before, furniture: [locked] }, dragged(locked));
  expect(held.furniture[0]!.position).toEqual(lamp.position);
  expect(theBulb(held)!.position).toEqual(bulb.position);
});

test("a struck piece takes its light with it; a struck light leaves it dark", () => {
  expect(theBulb(keepTogether(before, { ...before, furniture: [] }))).toBeUndefined();
  const dark = keepTogether(before, { ...before, units: base.units });
  expect(dark.furniture).toHaveLength(1);
});

test("what is nobody's part is left alone", () => {
  const after = withLamp({ position: [3, 3, 0] });
  expect(keepTogether(before, after).units[0]).toBe(before.units[0]);
});

const stand = { ...base.units[0]!, id: "s", held: "stand" as const, position: [1, 1, 1] as Point };
const board: Grip = {
  id: "g",
  name: "Board",
  kind: "board",
  material: "foam-white",
  position: [1, 1.6, 2],
  aim: [2, 3, 1],
  aims_at: "",
  throws: "",
  roll: 0,
  size: [0.9, 0.9],
  held: "arm",
  foot: [1, 1],
  bearer: "s",
  slat_pitch: 0.1,
  slat_angle: 30,
};
const borne: Document = { ...base, units: [stand], grip: [board] };

test("what is on a stand by an arm goes along with it, and comes down when that is struck", () => {
  const moved = keepTogether(borne, {
    ...borne,
    units: [{ ...stand, position: [1.5, 0.6, 1.4] }],
  }).grip[0]!;
  expect(moved.foot).toEqual([1.5, 0.6]);
  expect(moved.position).toEqual([1.5, 1.2, 2]);
  expect(moved.aim).toEqual([2.5, 2.6, 1]);
  for (const units of [[], [{ ...stand, held: "hung" as const }]])
    expect(keepTogether(borne, { ...borne, units }).grip[0]).toMatchObject({
      held: "stand",
      bearer: "",
      foot: null,
      position: board.position,
    });
});

test("a stand of a boom takes along what is on it, its head alone does not", () => {
  const boomed = { ...borne, units: [{ ...stand, held: "boom" as const, foot: [2, 2] as Pair }] };
  const on = { ...boomed, grip: [{ ...board, foot: [2, 2] as Pair }] };
  const head = keepTogether(on, {
    ...on,
    units: [{ ...on.units[0]!, position: [0.5, 1, 1] }],
  });
  expect(head.grip[0]).toBe(on.grip[0]);
  const whole = keepTogether(on, { ...on, units: [{ ...on.units[0]!, foot: [2.5, 2] }] });
  expect(whole.grip[0]).toMatchObject({ foot: [2.5, 2], position: [1.5, 1.6, 2] });
});

test("a sheet that is moved leaves the stand where it is", () => {
  const grip = [{ ...board, position: [1.2, 1.7, 2] as Point }];
  expect(keepTogether(borne, { ...borne, grip }).grip).toEqual(grip);
});
