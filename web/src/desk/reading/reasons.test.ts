import { expect, test } from "vitest";
import { bearing } from "./reasons";

test("a bearing goes clockwise from north as on a map", () => {
  expect(bearing([1, 1], [1, 5])).toBe(0);
  expect(bearing([1, 1], [5, 1])).toBe(90);
  expect(bearing([1, 1], [1, -5])).toBe(180);
  expect(bearing([1, 1], [-5, 1])).toBe(270);
});
