import { describe, expect, it } from "vitest";
import { apart, exceeds, likelyMeasure, scaled, unfitSize } from "./scans";

describe("what a model's file counts in", () => {
  it.each([
    [[0.8, 0.6, 0.9], "metres"],
    [[6, 4, 2.7], "metres"],
    [[600, 400, 270], "centimetres"],
    [[1500, 20, 1200], "millimetres"],
    [[60, 40, 45], "inches"],
  ])("%j is likely %s", (size, measure) => {
    expect(likelyMeasure(size)).toBe(measure);
  });
});

describe("the size of a model", () => {
  it("is never nothing, and told to the millimetre", () => {
    expect(scaled([1500, 0, 1200.4], 0.001)).toEqual([1.5, 0.005, 1.2]);
  });
  it("is refused where nothing could stand or be lit", () => {
    expect(unfitSize([1500, 20, 1200])).toContain("1500 m long");
    expect(unfitSize([0.001, 0.004, 0.002])).toContain("4.0 mm long");
    expect(unfitSize([6, 4, 2.7])).toBe("");
  });
  it("exceeds a room by any side, and never the open land", () => {
    const room = { outdoors: false, width: 5, depth: 6, height: 3, outline: null };
    expect(exceeds(room, [4, 5, 2])).toBe(false);
    expect(exceeds(room, [4, 6.5, 2])).toBe(true);
    expect(exceeds(room, [4, 5, 3.1])).toBe(true);
    expect(exceeds({ ...room, outdoors: true }, [40, 50, 20])).toBe(false);
  });
});

it("two points are as far apart as the picture is wide and high", () => {
  expect(apart({ wide: 4, high: 3 }, [0, 0], [1, 1])).toBeCloseTo(5);
  expect(apart({ wide: 4, high: 3 }, [0.25, 0.5], [0.75, 0.5])).toBeCloseTo(2);
});
