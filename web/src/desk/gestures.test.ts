import { beforeEach, expect, test, vi } from "vitest";
import type { Document, Head, Look, SetupRecord } from "../app/api";
import { clampDimmer, dimBy, finishNudge, placePolar, polarOf, RING_THIRD, setHeight, toggleOn, unitKey } from "./gestures";
import { bring, strike } from "./rigging";
import { act, adopt, readDesk, setDesk, settle, withUnit } from "./store";


const wall = { reflectance: 0.5, colour: [1, 1, 1] as [number, number, number] };
const base: Document = {
  schema_version: 4, fixed: [], title: "T", notes: "", furniture: [], marks: [], grip: [], openings: [], materials: [], haze: 0,
  sky: { kind: "overcast", level: 10000, cct: 6500, on: true, sun: null },
  room: { width: 6, depth: 7, height: 3, outdoors: false, floor: wall, ceiling: wall, north: wall, south: wall, east: wall, west: wall },
  figures: [{ id: "s", name: "S", figure: "broad-man", pose: "seated", position: [3, 3], facing: 0, spectacles: false }],
  cameras: [{ id: "a", name: "A", position: [3, 5.5, 1.3], aim: [3, 3, 1.2], sensor: "super-35", sensor_width: 24.9, focal_length: 50, t_stop: 2.8, filter_loss: 0, iso: 800, native_iso: 800, curve: "bt709", log: { grey: 0.4, over: 6, under: 8 }, guides: [], shutter: { angle: 180 }, fps: 25, nd: 0, white_balance: 5600, tint: 0 }],
  units: [{ id: "k", name: "Key", role: "key", head: "point-60", position: [4.4, 4.4, 2], aim: [3, 3, 1.2], roll: 0, on: true, dimmer: 0.5, cct: 5600, green: 0, hue: 0, saturation: 0, attachments: [], ies: null, measured: null }],
};
const record = (role: "owner" | "viewer" = "owner"): SetupRecord => ({
  id: 1, version: 3, role, document: base, gesture: "g", undo: null, redo: null, production: { id: 1, title: "P" }, scene: { id: 1, title: "S" },
});
const look = { anchor: [3, 3.1, 1.25], readings: { marks: [{ id: "backdrop", position: [3, 0, 1.2] }] } } as unknown as Look;
const head: Head = {
  key: "panel-small", name: "Soft panel", shape: "rectangle", size: [0.3, 0.3], peak: 1500, beam: 108, field: 154, lumens: 4000, watts: 48, weight: 2,
  cct: [2800, 5000], caution: "mind", group: "panel", colour: false, battery: 0, noise: "silent", distance: 0.1, price: "small kit", figures: "typical",
};
const unit = (id = "k") => readDesk().draft!.units.find((u) => u.id === id)!;

beforeEach(() => {
  setDesk({ record: null });
  adopt(record());
  setDesk({ look });
});

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
  expect(readDesk().queue).toHaveLength(0);
  unitKey("k", "Key", { key: "PageUp", shiftKey: true });
  expect(readDesk().queue.map((g) => g.gesture)).toEqual(["Key round the face"]);
  vi.advanceTimersByTime(600);
  expect(readDesk().queue.map((g) => g.gesture)).toEqual(["Key round the face", "Key up"]);
  expect(unit().position[2]).toBeCloseTo(2.01, 6);
  expect(unitKey("k", "Key", { key: "q", shiftKey: false })).toBe(false);
  vi.useRealTimers();
});

test("a gesture that changes nothing is none", () => {
  settle("nothing");
  expect(readDesk().queue).toHaveLength(0);
  setHeight("k", 2.5);
  settle("height");
  settle("height again");
  expect(readDesk().queue).toHaveLength(1);
});

test("a viewer changes nothing", () => {
  setDesk({ record: null });
  adopt(record("viewer"));
  act(withUnit("k", () => ({ dimmer: 1 })), "x");
  toggleOn("k");
  expect(unit().dimmer).toBe(0.5);
  expect(readDesk().queue).toHaveLength(0);
});

test("units come in at their usual places, inside the room, in their own white", () => {
  bring(head);
  const fill = unit("u2");
  expect([fill.role, fill.name, fill.cct]).toEqual(["fill", "Fill", 5000]);
  expect(polarOf(fill)!.angle).toBeCloseTo(40, 0);
  bring(head);
  bring(head);
  bring(head);
  const units = readDesk().draft!.units;
  expect(units.map((u) => u.name)).toEqual(["Key", "Fill", "Edge", "Background", "Background 2"]);
  expect(units[3]!.aim).toEqual([3, 0, 1.2]);
  for (const { position: [x, y, z] } of units) expect(x > 0.2 && x < 5.8 && y > 0.2 && y < 6.8 && z > 0.1 && z < 2.95).toBe(true);
  expect(new Set(units.map((u) => u.id)).size).toBe(5);
});

test("a struck unit is gone and another is chosen", () => {
  bring(head);
  strike("u2");
  expect(readDesk().draft!.units.map((u) => u.id)).toEqual(["k"]);
  expect(readDesk().chosen).toBe("k");
  expect(readDesk().queue.at(-1)!.gesture).toBe("Fill struck");
});

test("a record that comes back keeps what was chosen", () => {
  bring(head);
  setDesk({ chosen: "u2", solo: "u2" });
  adopt(record());
  expect([readDesk().chosen, readDesk().solo]).toEqual(["k", null]);
});
