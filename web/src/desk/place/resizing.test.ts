import { expect, test } from "vitest";
import { base } from "../frame/scene.fixture";
import type { Document, Furniture } from "../../app/api";
import { withRoom } from "./resizing";
import { inRoom } from "./walls";

const piece = (over: Partial<Furniture>): Furniture => ({
  id: "f1",
  name: "F",
  kind: "shelf",
  position: [1, 0.2, 0],
  size: [0.9, 0.3, 2],
  turn: 0,
  surface: base.room.north,
  second: null,
  gloss: 0,
  open: 0,
  through: 0,
  locked: false,
  ...over,
});
const camera = (d: Document) => d.cameras[0]!.position;

test("a wall that comes in brings in what stood behind where it is now", () => {
  const shelf = piece({ position: [3, 6.85, 0], turn: 180 });
  const made = withRoom({ ...base, furniture: [shelf] }, { depth: 4 });
  expect(made.room.depth).toBe(4);
  expect(camera(base)[1]).toBeGreaterThan(4);
  expect(camera(made)[1]).toBeCloseTo(3.75);
  expect(camera(made)[0]).toBe(camera(base)[0]);
  // Its back to the wall again, and what was inside anyway stays where it is.
  expect(made.furniture[0]!.position[1]).toBeCloseTo(3.85);
  expect(made.figures[0]!.position).toEqual(base.figures[0]!.position);
  for (const u of made.units) expect(inRoom(made.room, u.position, 0.2)).toBe(true);
});

test("a ceiling that comes down or goes up takes along what is fixed under it", () => {
  const tube = piece({ kind: "ceiling-tube", position: [3, 3, 2.93], size: [1.25, 0.09, 0.07] });
  const high = { ...base, furniture: [tube] };
  for (const height of [2.4, 4]) {
    const made = withRoom(high, { height }).furniture[0]!;
    expect(made.position[2] + made.size[2]).toBeCloseTo(height);
  }
  const lamp = { ...base.units[0]!, position: [3, 4, 2.8] as [number, number, number] };
  expect(withRoom({ ...base, units: [lamp] }, { height: 2.4 }).units[0]!.position[2]).toBeCloseTo(
    2.25,
  );
});

test("what stood outside before stays there, and outdoors nothing is moved", () => {
  const out = { ...base.units[0]!, position: [3, 9, 2] as [number, number, number] };
  const made = withRoom({ ...base, units: [out] }, { width: 4 });
  expect(made.units[0]!.position).toEqual([3, 9, 2]);
  const open = { ...base, room: { ...base.room, outdoors: true } };
  expect(withRoom(open, { depth: 2 }).cameras).toEqual(base.cameras);
});

test("whom a wall would leave outside comes to the middle, with camera, lamps and chair", () => {
  const who = { ...base.figures[0]!, position: [3, 3] as [number, number] };
  const chair = piece({ kind: "chair", position: [3, 2.9, 0], size: [0.45, 0.5, 0.9] });
  const before: Document = { ...base, figures: [who], furniture: [chair] };
  const made = withRoom(before, { width: 2.4 });
  expect(made.figures[0]!.position).toEqual([1.2, 3]);
  expect(made.furniture[0]!.position[0]).toBeCloseTo(1.2);
  const lens = before.cameras[0]!,
    now = made.cameras[0]!;
  expect(now.position[0]).toBeCloseTo(lens.position[0] - 1.8);
  expect(now.aim[0]).toBeCloseTo(lens.aim[0] - 1.8);
  expect(now.aim.slice(1)).toEqual(lens.aim.slice(1));
  for (const u of made.units) {
    expect(inRoom(made.room, u.position, 0.2)).toBe(true);
    const was = before.units.find((v) => v.id === u.id)!;
    expect(u.aim[0]).toBeCloseTo(was.aim[0] - 1.8);
  }
  // The stand of a boom goes along.
  const boom = { ...before.units[0]!, held: "boom" as const, foot: [4.4, 4.4] as [number, number] };
  const [hung] = withRoom({ ...before, units: [boom] }, { width: 2.4 }).units;
  const went = (at: number) => hung!.position[at]! - boom.position[at]!;
  expect(hung!.foot![0]).toBeCloseTo(boom.foot[0] + went(0));
  expect(hung!.foot![1]).toBeCloseTo(boom.foot[1] + went(1));
  // A wall that leaves them room moves nothing.
  expect(withRoom(before, { width: 5 }).cameras).toEqual(before.cameras);
});
