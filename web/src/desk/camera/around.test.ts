import { beforeEach, expect, test } from "vitest";
import type { Point } from "../../app/api";
import { openSmall } from "../frame/scene.fixture";
import { readDesk } from "../store";
import { goneRound, offTheNose, turned } from "./around";

const FACE: Point = [3, 3, 1.2];
const draft = () => readDesk().draft!;
const far = ([x, y]: readonly number[]) => Math.hypot(x! - FACE[0], y! - FACE[1]);

beforeEach(() => openSmall());

test("a quarter turn counter-clockwise takes north to west, heights stay", () => {
  expect(turned([3, 5, 2], FACE, 90)).toEqual([1, 3, 2]);
  expect(turned([3, 5], FACE, -90)).toEqual([5, 3]);
});

test("a camera goes round on its circle, and turns its aim with it", () => {
  const before = draft().cameras[0]!,
    after = goneRound(draft(), FACE, 40, "alone", null).cameras[0]!;
  expect(far(after.position)).toBeCloseTo(far(before.position), 3);
  expect(after.position[2]).toBe(before.position[2]);
  expect(offTheNose({ ...draft(), cameras: [after] }, FACE)).toBeCloseTo(
    offTheNose(draft(), FACE) + 40,
    2,
  );
});

test("the key goes with it when asked, its angle to the lens kept; house lights never do", () => {
  const key = draft().units[0]!;
  const d = { ...draft(), units: [key, { ...key, id: "h", switch: "ceiling" }] };
  const alone = goneRound(d, FACE, 30, "alone", key.id),
    withKey = goneRound(d, FACE, 30, "key", key.id),
    all = goneRound(d, FACE, 30, "all", key.id);
  expect(alone.units).toEqual(d.units);
  const off = (u: { position: Point }, c: { position: Point }) =>
    Math.atan2(u.position[1] - 3, u.position[0] - 3) -
    Math.atan2(c.position[1] - 3, c.position[0] - 3);
  expect(Math.cos(off(withKey.units[0]!, withKey.cameras[0]!))).toBeCloseTo(
    Math.cos(off(key, d.cameras[0]!)),
    3,
  );
  expect(all.units[1]).toEqual(d.units[1]);
});

test("the nose is where the head is turned to", () => {
  const d = draft(),
    person = d.figures[0]!;
  const straight = offTheNose(d, FACE),
    turnedHead = offTheNose({ ...d, figures: [{ ...person, head_turn: 25 }] }, FACE);
  expect(turnedHead).toBeCloseTo(straight - 25, 6);
});
