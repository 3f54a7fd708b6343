import { expect, test } from "vitest";
import { base } from "../frame/scene.fixture";
import { withPatches } from "./mending";

test("a patch changes the fields it names, brings in what is new, and leaves the rest alone", () => {
  const [first, ...rest] = base.units;
  const made = withPatches(base, [
    { part: "units", id: first!.id, change: { dimmer: 0.25 } },
    { part: "units", id: "new", change: { ...first, id: "new", name: "New" } },
    { part: "cameras", id: base.cameras[0]!.id, change: { iso: 400 } },
  ]);
  expect(made.units[0]).toEqual({ ...first, dimmer: 0.25 });
  expect(made.units.slice(1, -1)).toEqual(rest);
  expect(made.units.at(-1)!.name).toBe("New");
  expect(made.cameras[0]!.iso).toBe(400);
  expect([made.figures, made.grip, base.units[0]]).toEqual([base.figures, base.grip, first]);
});
