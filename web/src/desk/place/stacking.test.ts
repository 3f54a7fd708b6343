import { expect, test } from "vitest";
import type { Document, Furniture, Point } from "../../app/api";
import { base } from "../frame/scene.fixture";
import { keepTogether } from "./riding";
import { isUnder } from "./stacking";

const wood = { reflectance: 0.3, colour: [1, 1, 1] as Point };
const piece = (id: string, over: Partial<Furniture>): Furniture => ({
  id,
  name: id,
  kind: "table",
  position: [2, 2, 0],
  size: [1.6, 0.8, 0.75],
  turn: 0,
  surface: wood,
  second: null,
  through: 0,
  gloss: 0,
  open: 0,
  locked: false,
  ...over,
});
const table = piece("table", {});
const crate = piece("crate", { kind: "crate", position: [2.5, 2.1, 0.75], size: [0.4, 0.3, 0.3] });
const books = piece("books", { kind: "books", position: [2.5, 2.1, 1.05], size: [0.2, 0.2, 0.1] });
const chair = piece("chair", { kind: "chair", position: [2, 2.3, 0], size: [0.4, 0.4, 0.8] });
const scene = (...furniture: Furniture[]): Document => ({ ...base, furniture });
const changed = (before: Document, id: string, over: Partial<Furniture>) => {
  const after = {
    ...before,
    furniture: before.furniture.map((f) => (f.id === id ? { ...f, ...over } : f)),
  };
  const found = keepTogether(before, after).furniture;
  return Object.fromEntries(found.map((f) => [f.id, f]));
};

test("what stands on a table goes along, and what stands on that", () => {
  const is = changed(scene(table, crate, books, chair), "table", { position: [3, 1.5, 0] });
  expect(is.crate!.position).toEqual([3.5, 1.6, 0.75]);
  expect(is.books!.position).toEqual([3.5, 1.6, 1.05]);
  expect(is.chair).toBe(chair);
});

test("it turns about the table's middle", () => {
  const is = changed(scene(books, crate, table), "table", { turn: 90 });
  // Half a metre to the table's right hand is half a metre north now.
  expect(is.crate!.position).toEqual([1.9, 2.5, 0.75]);
  expect(is.books!.position).toEqual([1.9, 2.5, 1.05]);
  expect([is.crate!.turn, is.books!.turn]).toEqual([90, 90]);
});

test("a higher table lifts it; a wider one leaves it", () => {
  const high = changed(scene(table, crate), "table", { size: [1.6, 0.8, 0.9] });
  expect(high.crate!.position).toEqual([2.5, 2.1, 0.9]);
  const wide = changed(scene(table, crate), "table", { size: [2.6, 0.8, 0.75] });
  expect(wide.crate!.position).toEqual(crate.position);
  const drawn = changed(scene(table, crate), "table", {
    size: [2.6, 0.8, 0.75],
    position: [2.5, 2, 0],
  });
  expect(drawn.crate!.position).toEqual(crate.position);
});

test("what is locked, lifted off, or moved by the same change is let be", () => {
  const by = { position: [3, 2, 0] as Point };
  const locked = { ...crate, locked: true };
  expect(changed(scene(table, locked), "table", by).crate).toBe(locked);
  const up = { ...crate, position: [2.5, 2.1, 0.85] as Point };
  expect(changed(scene(table, up), "table", by).crate).toBe(up);
  const beside = { ...crate, position: [2.9, 2.1, 0.75] as Point };
  expect(changed(scene(table, beside), "table", by).crate).toBe(beside);
  const before = scene(table, crate),
    after = scene({ ...table, ...by }, { ...crate, position: [1, 1, 0] });
  expect(keepTogether(before, after)).toBe(after);
});

test("what stood on a struck piece comes down to what is under it", () => {
  const before = scene(table, crate, books),
    without = (id: string) => scene(...before.furniture.filter((f) => f.id !== id)),
    left = (id: string) => keepTogether(before, without(id)).furniture;
  expect(left("crate").find((f) => f.id === "books")!.position).toEqual([2.5, 2.1, 0.75]);
  expect(left("table").map((f) => f.position[2])).toEqual([0, 0.3]);
  expect(left("books")).toEqual([table, crate]);
});

test("a table carried through under a thing that stands on another takes nothing", () => {
  const other = piece("other", { position: [2.6, 2.1, 0] });
  expect(changed(scene(table, other, crate), "table", { position: [4, 2, 0] }).crate).toBe(crate);
});

test("a rug is drawn from under what stands on it, a cloth on a table takes what lies on it", () => {
  const rug = piece("rug", { kind: "rug", size: [2, 1.4, 0.012] }),
    on = { ...chair, position: [2, 2.3, 0.012] as Point };
  expect(changed(scene(rug, on), "rug", { position: [4, 2, 0] }).chair).toBe(on);
  const cloth = piece("cloth", { kind: "rug", position: [2, 2, 0.75], size: [1.6, 0.8, 0.012] }),
    lying = { ...books, position: [2.2, 2, 0.762] as Point };
  const is = changed(scene(lying, cloth, table), "table", { position: [1, 2, 0] });
  expect([is.cloth!.position, is.books!.position]).toEqual([
    [1, 2, 0.75],
    [1.2, 2, 0.762],
  ]);
});

test("a piece is under a place that its turned outline holds", () => {
  const turned = piece("t", { turn: 90 });
  expect(isUnder(turned, [2, 2.7])).toBe(true);
  expect(isUnder(turned, [2.7, 2])).toBe(false);
  expect(isUnder(table, [2.7, 2])).toBe(true);
});
