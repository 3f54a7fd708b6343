import { expect, test } from "vitest";
import type { Document, Point } from "../../app/api";
import { planReach, planScale } from "./planScale";

const face: Point = [3, 3, 1.2],
  lens: Point = [2, 5.5, 1.3];

test("the face is in the middle, the camera straight down, camera left on the left", () => {
  const scale = planScale(600, 400, 4, face, lens);
  expect(scale.toScreen(face)).toEqual([300, 200]);
  const [x, y] = scale.toScreen(lens);
  expect(x).toBeCloseTo(300, 9);
  expect(y).toBeGreaterThan(200);
  // The lens looks south-east; its left is on the east side.
  expect(scale.toScreen([4, 4.2])[0]).toBeLessThan(300);
});

test("the plan is in true scale and goes both ways", () => {
  const scale = planScale(600, 400, 4, face, lens);
  expect(scale.zoom).toBe(50);
  const [ax, ay] = scale.toScreen([1, 1]),
    [bx, by] = scale.toScreen([1, 2]);
  expect(Math.hypot(ax - bx, ay - by)).toBeCloseTo(50, 9);
  const back = scale.toFloor(...scale.toScreen([1.3, 4.7]));
  expect(back[0]).toBeCloseTo(1.3, 9);
  expect(back[1]).toBeCloseTo(4.7, 9);
});

test("it reaches out to the farthest unit", () => {
  const document = {
    units: [{ position: [3, 9, 2] }],
    cameras: [{ position: lens }],
  } as unknown as Document;
  expect(planReach(document, face)).toBeCloseTo(6 * 1.13, 9);
});
