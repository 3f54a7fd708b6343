import { expect, test } from "vitest";
import { base } from "../frame/scene.fixture";
import { atSocket, cableOf } from "./feeding";

const circuit = {
  id: "a",
  name: "A",
  kind: "mains" as const,
  volts: 230,
  amperes: 16,
  wire: 2.5,
  sockets: [
    [0, 0],
    [5, 4],
  ] as [number, number][],
};
const unit = { ...base.units[0]!, feed: "a", run: null, position: [4, 1, 2] as never };

test("a cable goes square to the walls to the nearest socket along its way", () => {
  // 4 + 1 from the one, 1 + 3 from the other.
  expect(cableOf([circuit], unit)).toEqual([
    [5, 4],
    [5, 1],
    [4, 1],
  ]);
  expect(cableOf([circuit], { ...unit, position: [1, 1, 2] })![0]).toEqual([0, 0]);
});

test("none is drawn whose length is typed, on a battery, or where no socket is known", () => {
  expect(cableOf([circuit], { ...unit, run: 12 })).toBeNull();
  expect(cableOf([circuit], { ...unit, feed: "@battery" })).toBeNull();
  expect(cableOf([{ ...circuit, sockets: [] }], unit)).toBeNull();
});

test("one socket of several is moved", () => {
  const moved = atSocket("a", 1, [2, 2])({ ...base, circuits: [circuit] });
  expect(moved.circuits[0]!.sockets).toEqual([
    [0, 0],
    [2, 2],
  ]);
});
