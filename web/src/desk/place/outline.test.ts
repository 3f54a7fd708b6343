import { beforeEach, expect, test } from "vitest";
import { gesturesOf, openSmall } from "../frame/scene.fixture";
import { usePreferences } from "../../app/preferences";
import { act, readDesk, settle } from "../store";
import { cutWindow } from "./openings";
import {
  addCorner,
  carryCorner,
  carryWall,
  dropCorner,
  faultOf,
  paintWall,
  setLength,
  shape,
} from "./outline";
import {
  clearOfWalls,
  cornersOf,
  inRoom,
  nearestWall,
  wallAhead,
  wallsOf,
  type Spot,
} from "./walls";

const L: Spot[] = [
  [0, 0],
  [6, 0],
  [6, 3],
  [3, 3],
  [3, 7],
  [0, 7],
];
const room = () => readDesk().draft!.room;
const take = (corners: Spot[]) =>
  act(
    (d) => ({
      ...d,
      room: { ...d.room, outline: corners.map((at) => ({ at, surface: null })) },
    }),
    "shaped",
  );

beforeEach(() => {
  openSmall();
  usePreferences.setState({ length: "m" });
});

test("a plain room's walls are called by their sides and look inward", () => {
  expect(wallsOf(room()).map((w) => [w.key, ...w.inward.map((v) => v + 0)])).toEqual([
    ["south", 0, 1],
    ["east", -1, 0],
    ["north", 0, -1],
    ["west", 1, 0],
  ]);
  expect(nearestWall(room(), [5.5, 3]).key).toBe("east");
});

test("what is in the notch of an L is not in the room, and walls keep their margin", () => {
  take(L);
  expect(inRoom(room(), [4, 5])).toBe(false);
  expect(inRoom(room(), [1, 5])).toBe(true);
  expect(inRoom(room(), [2.9, 5], 0.2)).toBe(false);
  // Past the inner corner neither of its walls is in the way.
  expect(clearOfWalls(room(), [2.9, 2.5], () => 0.3, 0)).toEqual([2.9, 2.5]);
  expect(clearOfWalls(room(), [2.9, 5], () => 0.3, 0)).toEqual([2.7, 5]);
  // Carried out of the room, a thing comes back to the wall that it went through.
  const [x, y] = clearOfWalls(room(), [4, 5], () => 0.3, 0);
  expect(inRoom(room(), [x, y], 0.29)).toBe(true);
});

test("a way from inside meets the first wall, round no corner", () => {
  take(L);
  expect(wallAhead(room(), [1, 5], [1, 0])).toMatchObject({ at: [3, 5], far: 2 });
  expect(wallAhead(room(), [1, 2], [1, 0])).toMatchObject({ at: [6, 2], far: 5 });
});

test("a corner carried near its neighbour's level lies level with it; else on the grid", () => {
  take(L);
  carryCorner(3, [2.43, 3.08]);
  expect(cornersOf(room())[3]).toEqual([2.4, 3]);
  carryCorner(3, [2.43, 3.08], true);
  expect(cornersOf(room())[3]).toEqual([2.43, 3.08]);
});

test("a corner that would make no room stays where it is", () => {
  take(L);
  carryCorner(3, [-2, -1]);
  expect(cornersOf(room())).toEqual(L);
  expect(faultOf([L[0]!, L[2]!, L[1]!, L[3]!])).toMatch("cross itself");
  expect(faultOf([...L].reverse())).toMatch("inside out");
  expect(faultOf(L)).toBe("");
});

test("a wall carried out takes both its corners along its own way only", () => {
  const from = cornersOf(room());
  carryWall(1, from, -1.04);
  settle("wall moved");
  expect(cornersOf(room())).toEqual([
    [0, 0],
    [7, 0],
    [7, 7],
    [0, 7],
  ]);
  expect(gesturesOf()).toEqual(["wall moved"]);
});

test("a typed length moves the wall after it, so that a square room stays square", () => {
  setLength(0, 4.25);
  expect(cornersOf(room())).toEqual([
    [0, 0],
    [4.25, 0],
    [4.25, 7],
    [0, 7],
  ]);
});

test("windows keep their place when walls get numbers, corners come and go", () => {
  cutWindow(wallsOf(room()).find((w) => w.key === "north"));
  const at = () => readDesk().draft!.openings[0]!;
  act((d) => ({ ...d, openings: [{ ...d.openings[0]!, along: 1.5 }] }), "moved");
  addCorner(0);
  // Measured from the west before, from the corner it begins at now: the north wall is number 4.
  expect(at()).toMatchObject({ wall: 3, along: 4.5 });
  addCorner(3);
  expect(at()).toMatchObject({ wall: 4, along: 1.5 });
  dropCorner(1);
  expect(at()).toMatchObject({ wall: 3, along: 1.5 });
  dropCorner(3);
  expect(readDesk().draft!.openings).toEqual([]);
});

test("a shape takes the room's size; a wall is painted by itself", () => {
  shape("L-shape");
  const corners = cornersOf(room());
  expect(corners).toHaveLength(6);
  expect(Math.max(...corners.map((c) => c[0]))).toBe(6);
  expect(faultOf(corners)).toBe("");
  paintWall(2, { reflectance: 0.1, colour: [1, 1, 1] }, "dark");
  expect(room().outline!.map((c) => c.surface?.reflectance ?? null)).toEqual([
    null,
    null,
    0.1,
    null,
    null,
    null,
  ]);
});

test("every shape to begin with is a room", () => {
  for (const name of ["Rectangle", "Alcove", "With a corridor"]) {
    shape(name);
    expect([name, faultOf(cornersOf(room()))]).toEqual([name, ""]);
  }
});
