import { beforeEach, expect, test } from "vitest";
import type { Grip, Point } from "../../app/api";
import { gesturesOf, openSmall } from "../frame/scene.fixture";
import { act, readDesk, setDesk } from "../store";
import { putPatch, turnedTo } from "./landing";
import { ringPath } from "./LandingMarks";

const minus = (a: readonly number[], b: readonly number[]) => a.map((c, k) => c - b[k]!);
const dot = (a: readonly number[], b: readonly number[]) =>
  a.reduce((sum, c, k) => sum + c * b[k]!, 0);
const unit = (v: readonly number[]) => v.map((c) => c / Math.hypot(...v));

beforeEach(() => openSmall());

test("a mirror turned so throws the lamp's light where it was asked: angle in is angle out", () => {
  const [mirror, lamp, target]: Point[] = [
    [2, 2, 1.5],
    [4, 3, 2],
    [1, 5, 0],
  ];
  const normal = unit(minus(turnedTo(mirror!, lamp!, target!), mirror!)),
    incoming = unit(minus(mirror!, lamp!));
  const out = incoming.map((c, k) => c - 2 * dot(incoming, normal) * normal[k]!);
  unit(minus(target!, mirror!)).forEach((c, k) => expect(out[k]).toBeCloseTo(c, 3));
});

test("put somewhere, a unit is aimed there; with a mirror in hand the mirror is turned", () => {
  const key = readDesk().draft!.units[0]!;
  setDesk({ panel: "unit", chosen: key.id, pointing: "patch" });
  putPatch([1, 1, 0]);
  expect(readDesk().draft!.units[0]!.aim).toEqual([1, 1, 0]);
  expect(readDesk().pointing).toBe(false);
  const glass = {
    id: "m",
    name: "Mirror",
    kind: "mirror",
    material: "mirror",
    position: [2, 2, 1.5],
    aim: [2, 3, 1.5],
    roll: 0,
    size: [0.6, 0.6],
    slat_pitch: 0.1,
    slat_angle: 30,
  } as Grip;
  act((d) => ({ ...d, grip: [glass] }), "mirror in");
  setDesk({ panel: "grip", chosenGrip: "m" });
  putPatch([5, 5, 0]);
  expect(readDesk().draft!.grip[0]!.aim).toEqual(
    turnedTo([2, 2, 1.5], key.position as Point, [5, 5, 0]),
  );
  expect(readDesk().draft!.units[0]!.aim).toEqual([1, 1, 0]);
  expect(gesturesOf().at(-1)).toMatch("Mirror turned");
});

test("a ring is drawn closed, and broken where something hides it", () => {
  expect(
    ringPath([
      [0, 0],
      [1, 0],
      [1, 1],
    ]),
  ).toBe("M0.0 0.0L1.0 0.0L1.0 1.0L0.0 0.0");
  expect(ringPath([[0, 0], null, [1, 1]])).toBe("M0.0 0.0M1.0 1.0L0.0 0.0");
  expect(ringPath([])).toBe("");
});
