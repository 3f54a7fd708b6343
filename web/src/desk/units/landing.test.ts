import { beforeEach, expect, test } from "vitest";
import type { Grip, Point } from "../../app/api";
import { gesturesOf, openSmall } from "../frame/scene.fixture";
import { act, readDesk, setDesk, withUnit } from "../store";
import { halfWay } from "../place/aiming";
import { putPatch } from "./landing";
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
  const normal = unit(minus(halfWay(mirror!, lamp!, target!)!, mirror!)),
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
  expect(readDesk().draft!.grip[0]!.aim).toEqual(halfWay([2, 2, 1.5], key.position, [5, 5, 0]));
  expect(readDesk().draft!.units[0]!.aim).toEqual([1, 1, 0]);
  expect(gesturesOf().at(-1)).toMatch("Mirror turned");
  // Aimed at the mirror, the unit is thrown by it, and the mirror is what turns.
  act(
    withUnit(key.id, () => ({ aim: [2, 2, 1.5] })),
    "aimed at the mirror",
  );
  setDesk({ panel: "unit" });
  putPatch([1, 5, 0]);
  expect(readDesk().draft!.units[0]!.aim).toEqual([2, 2, 1.5]);
  const put = readDesk().draft!.grip[0]!.aim;
  expect(put).toEqual(halfWay([2, 2, 1.5], key.position, [1, 5, 0]));
  // Nothing is thrown straight on through it, and nothing is turned.
  const behind = [2, 2, 1.5].map((c, k) => 2 * c - key.position[k]!);
  putPatch(behind as Point);
  expect(readDesk().draft!.grip[0]!.aim).toEqual(put);
  expect(readDesk().fault?.text).toMatch("Mirror throws nothing straight on");
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
