import { expect, test } from "vitest";
import type { Point } from "../../app/api";
import cases from "./polar-cases.json";
import { fromPolar, heightWords, toPolar, wrap } from "./polar";

test.each(cases)("agrees with the core at $angle deg", (c) => {
  const [face, lens, position] = [c.face, c.lens, c.position] as Point[];
  const polar = toPolar(position!, face!, lens!);
  expect(polar.angle).toBeCloseTo(c.angle, 9);
  expect(polar.height).toBeCloseTo(c.height, 9);
  expect(polar.distance).toBeCloseTo(c.distance, 9);
  fromPolar(polar, face!, lens!).forEach((v, k) => expect(v).toBeCloseTo(position![k]!, 9));
});

test("angles wrap at the back", () => {
  expect(wrap(190)).toBe(-170);
  expect(wrap(-185)).toBe(175);
});

test("says above and below, and neither of what is level", () => {
  expect([21.4, -9.6, -0.4].map(heightWords)).toEqual([
    "21° above the eyes",
    "10° below the eyes",
    "level with the eyes",
  ]);
});
