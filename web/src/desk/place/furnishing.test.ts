import { beforeEach, expect, test } from "vitest";
import type { Furniture, Piece, Point } from "../../app/api";
import { away, gesturesOf, openSmall } from "../frame/scene.fixture";
import { usePreferences } from "../../app/preferences";
import { finishNudge } from "../units/gestures";
import { act, readDesk, settle } from "../store";
import { bringPiece, copyPiece } from "./bringing";
import { carryPiece, pieceKey, setDown, strikePiece, toWall, turnPiece } from "./furnishing";
import { halfReach, outsideOf, standing } from "./standing";
import { under } from "./stacking";
import { ofSwatch, swatchOf } from "./swatch";

const wood = { reflectance: 0.3, colour: [1, 0.6, 0.4] as Point };
const kind = (over: Partial<Piece> = {}): Piece => ({
  key: "table",
  name: "Table",
  group: "tables",
  size: [1.4, 0.8, 0.75],
  base: 0,
  round: false,
  wall: false,
  high: false,
  ceiling: false,
  opens: false,
  surface: wood,
  second: null,
  gloss: false,
  outside: false,
  shaded: false,
  through: 0,
  lamp: null,
  ...over,
});
const item = (id = "f1") => readDesk().draft!.furniture.find((f) => f.id === id)!;
const change = (over: Partial<Furniture>) =>
  act(
    (d) => ({ ...d, furniture: d.furniture.map((f) => (f.id === "f1" ? { ...f, ...over } : f)) }),
    "changed",
  );

beforeEach(() => {
  openSmall();
  usePreferences.setState({ length: "m" });
});

test("a piece comes in behind the face, its front to the lens, and is in hand", () => {
  bringPiece(kind(), []);
  // The lens looks south from (3, 5.5) to the man at (3, 3).
  const [x, y] = item().position;
  expect(x).toBeCloseTo(3, 1);
  expect(y).toBeLessThan(2.2);
  expect(item().turn).toBe(0);
  expect(readDesk()).toMatchObject({ chosenPiece: "f1", panel: "room", place: "furniture" });
  expect(gesturesOf()).toEqual(["Table in"]);
});

test("what hangs on the wall comes to the wall behind the face, flush, facing the room", () => {
  bringPiece(kind({ key: "picture", wall: true, size: [0.8, 0.04, 0.6], base: 1.3 }), []);
  expect(item()).toMatchObject({ turn: 0, position: [3, 0.02, 1.3] });
  // Where one hangs, the next comes beside it; over what is low, there is room.
  bringPiece(kind({ key: "wall-cupboard", wall: true, size: [1.2, 0.3, 0.7], base: 1.45 }), []);
  expect(item("f2").position[1]).toBeCloseTo(0.15);
  expect(Math.abs(item("f2").position[0] - 3)).toBeGreaterThanOrEqual(0.99);
  bringPiece(kind({ key: "sideboard", wall: true, size: [1.5, 0.45, 0.8] }), []);
  expect(item("f3").position).toEqual([3, 0.225, 0]);
});

test("a second table takes no other's place", () => {
  bringPiece(kind(), []);
  bringPiece(kind(), []);
  const [a, b] = [item().position, item("f2").position];
  expect(Math.abs(a[0] - b[0])).toBeGreaterThanOrEqual(1.39);
});

test("a rug lies under the person; names and ids differ", () => {
  bringPiece(kind({ key: "rug", name: "Rug", group: "floor", size: [2, 1.4, 0.012] }), []);
  bringPiece(kind({ key: "rug", name: "Rug", group: "floor", size: [2, 1.4, 0.012] }), []);
  expect(Math.hypot(item().position[0] - 3, item().position[1] - 3)).toBeLessThan(0.2);
  expect([item().name, item("f2").name]).toEqual(["Rug", "Rug 2"]);
});

test.each([
  [
    [2.04, 2.26],
    [2.0, 2.3],
  ],
  [
    [0.75, 3.0],
    [0.7, 3.0],
  ],
  [
    [-5, 6.52],
    [0.7, 6.6],
  ],
] as const)("carried to %j it stands at %j", (at, to) => {
  const table = { size: [1.4, 0.8, 0.75] as Point, turn: 0 };
  const room = readDesk().draft!.room;
  standing(at, table, room).forEach((v, k) => expect(v).toBeCloseTo(to[k]!, 6));
});

test("feet snap to half feet; a free hand snaps to nothing and still stays in the room", () => {
  usePreferences.setState({ length: "ft" });
  const table = { size: [1, 1, 1] as Point, turn: 0 },
    room = readDesk().draft!.room;
  expect(standing([2.04, 3], table, room)[0]! / 0.1524).toBeCloseTo(13, 6);
  expect(standing([2.04, 9], table, room, true)).toEqual([2.04, 6.5]);
});

test("a turned piece reaches as far as its corners", () => {
  const [x, y] = halfReach({ size: [2, 1, 1], turn: 90 });
  expect([x, y].map((v) => +v.toFixed(6))).toEqual([0.5, 1]);
  expect(halfReach({ size: [1, 1, 1], turn: 45 })[0]).toBeCloseTo(Math.SQRT1_2);
});

test("a locked piece is neither carried, turned nor struck", () => {
  bringPiece(kind(), []);
  change({ locked: true });
  const before = item();
  carryPiece("f1", [1, 1]);
  turnPiece("f1", 15);
  toWall("f1");
  setDown("f1");
  strikePiece("f1");
  expect(item()).toEqual(before);
  expect(pieceKey(item(), { key: "ArrowLeft", shiftKey: false })).toBe(false);
});

test("a copy stands beside it on the side that is free", () => {
  bringPiece(kind(), []);
  change({ position: [5.3, 2, 0] });
  copyPiece("f1");
  expect(item("f2").position[0]).toBeCloseTo(5.3 - 1.45);
  expect(item("f2")).toMatchObject({ name: "Table 2", turn: item().turn });
});

test("what is set down stands on the highest thing under its middle, or on the floor", () => {
  bringPiece(kind(), []);
  bringPiece(kind({ key: "books", name: "Books", size: [0.2, 0.3, 0.2] }), []);
  carryPiece("f2", item().position.slice(0, 2) as [number, number], true);
  setDown("f2");
  expect(item("f2").position[2]).toBeCloseTo(0.75);
  carryPiece("f2", [1, 6], true);
  setDown("f2");
  expect(item("f2").position[2]).toBe(0);
  const beside = { ...item("f2"), position: [3 + 0.71, item().position[1], 0] as Point };
  expect(under(beside, [item()])).toBe(0);
});

test.each([
  [[1, 3], 270, [0.4, 3]],
  [[5, 3], 90, [5.6, 3]],
  [[3, 6], 180, [3, 6.6]],
] as const)("from %j it goes to the nearest wall, turned %d°", (at, turn, to) => {
  bringPiece(kind(), []);
  change({ position: [...at, 0] as Point });
  toWall("f1");
  expect(item().turn).toBe(turn);
  to.forEach((v, k) => expect(item().position[k]).toBeCloseTo(v));
  // Pressed again it goes to the next wall round, and so to every wall.
  const turns = [0, 1, 2, 3].map(() => (toWall("f1"), item().turn));
  expect(new Set(turns)).toEqual(new Set([0, 90, 180, 270]));
  expect(turns[3]).toBe(turn);
});

test("keys move it as the plan shows it, as one gesture", () => {
  bringPiece(kind(), []);
  change({ position: [3, 2, 0] });
  // The camera is at the foot of the plan: up is away from it, right its right hand.
  pieceKey(item(), { key: "ArrowUp", shiftKey: false });
  pieceKey(item(), { key: "ArrowUp", shiftKey: false });
  pieceKey(item(), { key: "ArrowRight", shiftKey: true });
  expect(item().position).toEqual([2.99, 1.8, 0]);
  pieceKey(item(), { key: "]", shiftKey: false });
  expect(item().turn).toBe(345);
  finishNudge();
  expect(gesturesOf().slice(-2)).toEqual(["Table moved", "Table turned"]);
  settle("nothing");
  expect(gesturesOf().length).toBe(4);
});

test.each(["#808080", "#c04020", "#203a10"])("a swatch %s comes back from its surface", (hex) => {
  expect(swatchOf(ofSwatch(hex))).toBe(hex);
});

test("mid grey of a screen reflects a fifth", () => {
  expect(ofSwatch("#808080")).toMatchObject({ reflectance: 0.216, colour: [1, 1, 1] });
});

test("a house comes to stand outside, is carried there, and is not carried in", () => {
  bringPiece(kind({ key: "house", name: "House", size: [10, 8, 6.5], outside: true }), []);
  const house = () => item();
  const { room } = readDesk().draft!;
  expect(outsideOf(room, house().position)).toBe(true);
  const from = house().position;
  carryPiece("f1", [from[0] + 1.04, from[1]]);
  expect(house().position[0]).toBeCloseTo(Math.round((from[0] + 1.04) * 10) / 10, 6);
  const before = house().position;
  carryPiece("f1", [room.width / 2, room.depth / 2]);
  expect(house().position).toEqual(before);
  // A second one takes another place.
  bringPiece(kind({ key: "house", name: "House", size: [10, 8, 6.5], outside: true }), []);
  expect(away(item("f2").position, house().position)).toBeGreaterThan(10);
});

test("a small thing is stood on the table that is near, and beside what stands there", () => {
  bringPiece(kind(), []);
  const books = () =>
    bringPiece(kind({ key: "books", name: "Books", size: [0.3, 0.22, 0.2], base: 0.75 }), []);
  books();
  books();
  const [one, two] = [item("f2"), item("f3")];
  expect(one.position[2]).toBeCloseTo(0.75, 6);
  expect(two.position[2]).toBeCloseTo(0.75, 6);
  expect(away(one.position, two.position)).toBeGreaterThan(0.2);
});

test("strips of light come under the wall cupboards, one under each", () => {
  const cupboard = { size: [1.2, 0.35, 0.7] as Point, base: 1.45, wall: true };
  bringPiece(kind({ key: "wall-cupboard", name: "Wall cupboard", ...cupboard }), []);
  copyPiece("f1");
  const strip = { size: [0.6, 0.05, 0.03] as Point, base: 1.42, wall: true };
  for (const id of ["f3", "f4"]) {
    bringPiece(kind({ key: "strip-light", name: "Strip", ...strip }), []);
    const over = readDesk().draft!.furniture.filter(
      (f) => f.kind === "wall-cupboard" && Math.abs(f.position[0] - item(id).position[0]) < 0.01,
    );
    expect(over).toHaveLength(1);
    expect(item(id).position[2] + item(id).size[2]).toBeCloseTo(over[0]!.position[2]);
  }
  expect(item("f3").position[0]).not.toBeCloseTo(item("f4").position[0]);
});
