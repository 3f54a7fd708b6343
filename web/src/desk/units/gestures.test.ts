import { beforeEach, expect, test, vi } from "vitest";
import {
  clampDimmer,
  dimBy,
  finishNudge,
  placePolar,
  polarOf,
  RING_THIRD,
  setHeight,
  setPosition,
  switchesOf,
  toggleOn,
  turnSwitches,
  unitKey,
} from "./gestures";
import { bring, strike } from "./rigging";
import type { Point } from "../../app/api";
import { gesturesOf, head, kept, look, openSmall, record } from "../frame/scene.fixture";
import { act, adopt, readDesk, setDesk, settle, withUnit } from "../store";

const unit = (id = "k") => readDesk().draft!.units.find((u) => u.id === id)!;

beforeEach(() => openSmall());

test("round the face keeps height and distance", () => {
  const before = polarOf(unit())!;
  placePolar("k", (p) => ({ angle: p.angle + 10 }));
  const after = polarOf(unit())!;
  expect(after.angle).toBeCloseTo(before.angle + 10, 2);
  expect(after.height).toBeCloseTo(before.height, 2);
  expect(after.distance).toBeCloseTo(before.distance, 3);
});

test("three thirds of a ring are a stop by distance", () => {
  const before = polarOf(unit())!.distance;
  for (let k = 0; k < 3; k++) unitKey("k", "Key", { key: "ArrowUp", shiftKey: false });
  expect(2 * Math.log2(polarOf(unit())!.distance / before)).toBeCloseTo(1, 2);
  expect(RING_THIRD ** 6).toBeCloseTo(2, 9);
  finishNudge();
});

test("angles past the back come round, nothing comes nearer than 20 cm", () => {
  placePolar("k", () => ({ angle: 185 }));
  expect(polarOf(unit())!.angle).toBeCloseTo(-175, 2);
  placePolar("k", () => ({ distance: 0.01 }));
  expect(polarOf(unit())!.distance).toBeCloseTo(0.2, 3);
});

test("the dimmer moves in stops and ends at full and at dark", () => {
  dimBy("k", 1 / 3);
  expect(Math.log2(unit().dimmer / 0.5)).toBeCloseTo(1 / 3, 9);
  dimBy("k", 5);
  expect(unit().dimmer).toBe(1);
  dimBy("k", -12);
  expect(unit().dimmer).toBe(0);
  dimBy("k", 1 / 3);
  expect(unit().dimmer).toBeCloseTo(2 ** -10, 9);
  expect(clampDimmer(3)).toBe(1);
});

test("repeated keys are one gesture, another key another", () => {
  vi.useFakeTimers();
  for (let k = 0; k < 4; k++) unitKey("k", "Key", { key: "ArrowLeft", shiftKey: false });
  expect(kept).toHaveLength(0);
  unitKey("k", "Key", { key: "PageUp", shiftKey: true });
  expect(gesturesOf()).toEqual(["Key round the face"]);
  vi.advanceTimersByTime(600);
  expect(gesturesOf()).toEqual(["Key round the face", "Key up"]);
  expect(unit().position[2]).toBeCloseTo(2.01, 6);
  expect(unitKey("k", "Key", { key: "q", shiftKey: false })).toBe(false);
  vi.useRealTimers();
});

test("a gesture that changes nothing is none", () => {
  settle("nothing");
  expect(kept).toHaveLength(0);
  setHeight("k", 2.5);
  settle("height");
  settle("height again");
  expect(kept).toHaveLength(1);
});

test("a viewer changes nothing", () => {
  openSmall("viewer");
  act(
    withUnit("k", () => ({ dimmer: 1 })),
    "x",
  );
  toggleOn("k");
  expect(unit().dimmer).toBe(0.5);
  expect(kept).toHaveLength(0);
});

test("units come in at their usual places, inside the room, in their own white", async () => {
  await bring(head);
  const fill = unit("u2");
  expect([fill.role, fill.name, fill.cct]).toEqual(["fill", "Fill", 5000]);
  expect(polarOf(fill)!.angle).toBeCloseTo(40, 0);
  await bring(head);
  await bring(head);
  await bring(head);
  const units = readDesk().draft!.units;
  expect(units.map((u) => u.name)).toEqual(["Key", "Fill", "Edge", "Background", "Background 2"]);
  expect(units[3]!.aim).toEqual([3, 0, 1.2]);
  for (const {
    position: [x, y, z],
  } of units)
    expect(x > 0.2 && x < 5.8 && y > 0.2 && y < 6.8 && z > 0.1 && z < 2.95).toBe(true);
  expect(new Set(units.map((u) => u.id)).size).toBe(5);
});

test("where the key is at the other side, what comes after it comes in mirrored", async () => {
  placePolar("k", ({ angle }) => ({ angle: -angle }));
  await bring(head);
  await bring(head);
  expect(polarOf(unit("u2"))!.angle).toBeCloseTo(-40, 0);
  expect(polarOf(unit("u3"))!.angle).toBeCloseTo(-140, 0);
});

test.each([
  ["room at both sides", 3, -45, 2],
  ["a wall close at its usual side", 5.3, 45, 2],
  ["a wall close at the other", 0.7, -45, 2],
])("a key with %s", async (_, x, angle, distance) => {
  const there = (p: readonly number[]) => [x, ...p.slice(1)] as Point;
  act(
    (d) => ({
      ...d,
      units: [],
      cameras: d.cameras.map((c) => ({ ...c, position: there(c.position) })),
    }),
    "moved",
  );
  setDesk({ look: { ...look, anchor: [x, 3.1, 1.25] } });
  await bring(head);
  const key = readDesk().draft!.units[0]!;
  expect(key.role).toBe("key");
  expect(polarOf(key)!.angle).toBeCloseTo(angle, 0);
  expect(polarOf(key)!.distance).toBeCloseTo(distance, 1);
});

test("a struck unit is gone and another is chosen", async () => {
  await bring(head);
  strike("u2");
  expect(readDesk().draft!.units.map((u) => u.id)).toEqual(["k"]);
  expect(readDesk().chosen).toBe("k");
  expect(kept.at(-1)!.gesture).toBe("Fill struck");
});

test("a record that comes back keeps what was chosen", async () => {
  await bring(head);
  setDesk({ chosen: "u2", solo: "u2" });
  adopt(record());
  expect([readDesk().chosen, readDesk().solo]).toEqual(["k", null]);
});

test("a boom's stand goes where its lamp goes", () => {
  act(
    withUnit("k", () => ({ held: "boom", foot: [4, 4] })),
    "boomed",
  );
  const [x, y, z] = unit().position;
  setPosition("k", [x + 0.5, y - 0.25, z]);
  expect(unit().foot).toEqual([4.5, 3.75]);
  setHeight("k", 2.2);
  expect(unit().foot).toEqual([4.5, 3.75]);
});

test("a switch of the house turns all that hangs on it, as one gesture, and nothing else", () => {
  act(
    (d) => ({
      ...d,
      units: [
        ...d.units,
        ...["a", "b", "c"].map((id, k) => ({
          ...d.units[0]!,
          id,
          switch: k < 2 ? "ceiling" : "counter",
        })),
      ],
    }),
    "house",
  );
  const lit = () => readDesk().draft!.units.map((u) => u.on);
  expect(switchesOf(readDesk().draft!.units)).toEqual(["ceiling", "counter"]);
  turnSwitches(["ceiling"], false);
  expect(lit()).toEqual([true, false, false, true]);
  turnSwitches(["ceiling", "counter"], false);
  expect(lit()).toEqual([true, false, false, false]);
  turnSwitches(["ceiling", "counter"], true);
  expect(lit()).toEqual([true, true, true, true]);
  expect(gesturesOf().slice(1)).toEqual([
    "Switch ceiling off",
    "House lights off",
    "House lights on",
  ]);
});
