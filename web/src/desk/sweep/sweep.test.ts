import { expect, test } from "vitest";
import type { Point } from "../../app/api";
import { base } from "../frame/scene.fixture";
import { toPolar } from "../plan/polar";
import { AS_IT_IS, stepsOf } from "./sweep";

const frame = { face: [3, 3, 1.2] as Point, lens: base.cameras[0]!.position as Point };
const unit = base.units[0]!;
const polar = (d: typeof base) =>
  toPolar(d.units.find((u) => u.id === unit.id)!.position as Point, frame.face, frame.lens);

test("a unit is carried in one thing, the rest stays; the middle is as it is", () => {
  const now = polar(base);
  for (const of of ["round", "height", "distance"] as const) {
    const steps = stepsOf(base, of, frame, unit.id, null);
    expect(steps.find((s) => s.label === AS_IT_IS)!.changed).toBe(base);
    const found = steps.map((s) => polar(s.changed));
    if (of !== "round") expect(found.every((p) => Math.abs(p.angle - now.angle) < 0.1)).toBe(true);
    if (of !== "height")
      expect(found.every((p) => Math.abs(p.height - now.height) < 0.1)).toBe(true);
    if (of !== "distance")
      expect(found.every((p) => Math.abs(p.distance - now.distance) < 0.01)).toBe(true);
    expect(steps.every((s) => s.changed.cameras === base.cameras)).toBe(true);
  }
  const rings = stepsOf(base, "distance", frame, unit.id, null);
  expect(polar(rings.at(-1)!.changed).distance / now.distance).toBeCloseTo(2, 2);
});

test("the camera goes round alone, or takes the key along; without a unit there is nothing", () => {
  const alone = stepsOf(base, "camera", frame, unit.id, unit.id),
    along = stepsOf(base, "camera-key", frame, unit.id, unit.id);
  expect(alone.every((s) => s.changed.units[0]!.position === unit.position)).toBe(true);
  const [x, y] = along[0]!.changed.units[0]!.position;
  expect([x, y]).not.toEqual(unit.position.slice(0, 2));
  expect(along[0]!.changed.cameras[0]!.position).toEqual(alone[0]!.changed.cameras[0]!.position);
  expect(stepsOf(base, "height", frame, null, null)).toEqual([]);
});

test("each way to meter sets the camera by what it says, within what cameras have", () => {
  const mark = (id: string, against: number | null) => ({
      id,
      name: id,
      against_camera: against,
      stop_words: "T4",
    }),
    marks = [mark("key-side", 1), mark("chin", 20), mark("backdrop", 2), mark("fill-side", null)],
    steps = stepsOf(base, "meter", frame, null, null, marks as never),
    index = (at: number) => steps[at]!.changed.cameras[0]!.iso;
  // The backdrop is nobody's face, and in the dark there is nothing to set.
  expect(steps.map((s) => s.label)).toEqual([AS_IT_IS, "key side", "chin, to the lens"]);
  expect(index(1)).toBe(index(0) / 2);
  expect(index(2)).toBe(25);
});
