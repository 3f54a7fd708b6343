import { expect, test } from "vitest";
import type { Point } from "../../app/api";
import { base } from "../frame/scene.fixture";
import { toPolar } from "../plan/polar";
import { AS_IT_IS, changing, stepsOf, type Step } from "./sweep";

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

test("a unit's level goes from off to full, and stands among them as it is", () => {
  const at = (dimmer: number, on = true) =>
    stepsOf(
      { ...base, units: base.units.map((u) => (u.id === unit.id ? { ...u, dimmer, on } : u)) },
      "level",
      frame,
      unit.id,
      null,
    );
  const lit = at(0.3);
  expect(lit.map((s) => s.label)).toEqual(
    "off|1.6 %|3.1 %|6.3 %|13 %|as it is|50 %|100 %".split("|"),
  );
  const levels = lit.map((s) => s.changed.units.find((u) => u.id === unit.id)!);
  expect(levels.map((u) => u.on)).toEqual([false, ...Array(7).fill(true)]);
  expect(levels.slice(1).map((u) => u.dimmer)).toEqual([
    2 ** -6,
    2 ** -5,
    2 ** -4,
    1 / 8,
    0.3,
    0.5,
    1,
  ]);
  for (const dark of [at(0), at(0.3, false)]) {
    expect(dark[0]!.label).toBe(AS_IT_IS);
    expect(dark).toHaveLength(8);
  }
});

test("the part of the outline is told of which a sweep says the most", () => {
  const step = (...words: [string, string][]) =>
    ({
      trial: { does: { outlines: words.map(([name, word]) => ({ name, word })) } },
    }) as unknown as Step;
  const waiting = { trial: null } as unknown as Step;
  const steps = [
    step(["arm, camera left", "faint"], ["hair, camera right", "gone"]),
    waiting,
    step(["arm, camera left", "reads"], ["hair, camera right", "reads"]),
    step(["arm, camera left", "reads"], ["hair, camera right", "too much"]),
  ];
  expect(changing(steps)).toBe("hair, camera right");
  expect(changing(steps.slice(2, 3))).toBeNull();
  expect(changing([waiting])).toBeNull();
});
