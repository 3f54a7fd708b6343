import { beforeEach, expect, test } from "vitest";
import { finishNudge } from "../units/gestures";
import {
  bringGrip,
  carry,
  face,
  gripKey,
  KINDS,
  placeGrip,
  strikeGrip,
  turnGrip,
} from "./gripping";
import { toPolar } from "../plan/polar";
import { away, gesturesOf, look, openSmall } from "../frame/scene.fixture";
import type { Point } from "../../app/api";
import { readDesk, setDesk } from "../store";

const FACE = look.anchor as Point,
  LENS: Point = [3, 5.5, 1.3];
const piece = (id = "g1") => readDesk().draft!.grip.find((g) => g.id === id)!;
const where = (id = "g1") => toPolar(piece(id).position as Point, FACE, LENS);

beforeEach(() => openSmall());

test.each(KINDS.map((k) => k.value))(
  "a %s comes in beside the face, inside the room, facing it",
  (kind) => {
    bringGrip(kind);
    const {
      position: [x, y, z],
      aim,
      size,
    } = piece();
    expect(x > 0.2 && x < 5.8 && y > 0.2 && y < 6.8).toBe(true);
    expect(z! - size[1]! / 2).toBeGreaterThan(0);
    expect(z! + size[1]! / 2).toBeLessThan(3);
    expect(away(aim.slice(0, 2), FACE.slice(0, 2))).toBeLessThan(1e-2);
    expect(readDesk().chosenGrip).toBe("g1");
  },
);

test("it stands on the other side than the chosen unit", () => {
  const unit = toPolar([4.4, 4.4, 2], FACE, LENS).angle;
  bringGrip("board");
  expect(Math.sign(where().angle)).toBe(-Math.sign(unit));
});

test("pieces brought in one after another stand clear of each other and of the heads", () => {
  for (const kind of ["mirror", "board", "flag", "reflector"] as const) bringGrip(kind);
  const { grip, units } = readDesk().draft!;
  const apart = (a: number[], b: number[]) => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!);
  for (const one of grip) {
    for (const other of grip)
      if (other !== one)
        expect(apart(one.position, other.position)).toBeGreaterThan(
          (one.size[0]! + other.size[0]!) / 2 - 1e-3,
        );
    for (const unit of units)
      expect(apart(one.position, unit.position)).toBeGreaterThan(one.size[0]! / 2 + 0.24);
  }
});

test("two of a kind have two names and two ids, and the freed id is used again", () => {
  bringGrip("flag");
  bringGrip("flag");
  expect(readDesk().draft!.grip.map((g) => [g.id, g.name])).toEqual([
    ["g1", "Flag"],
    ["g2", "Flag 2"],
  ]);
  strikeGrip("g1");
  expect(readDesk().chosenGrip).toBe("g2");
  bringGrip("mirror");
  expect(readDesk().draft!.grip.map((g) => g.id)).toEqual(["g2", "g1"]);
  strikeGrip("g1");
  strikeGrip("g2");
  expect(readDesk().chosenGrip).toBeNull();
});

test("carried it faces the way it faced", () => {
  bringGrip("board");
  const before = piece();
  carry("g1", [1, 2, 1.5]);
  expect(piece().position).toEqual([1, 2, 1.5]);
  before.aim.forEach((v, k) =>
    expect(piece().aim[k]! - piece().position[k]!).toBeCloseTo(v - before.position[k]!, 3),
  );
});

test("turned about the upright it keeps its tilt, and a full turn brings it back", () => {
  bringGrip("reflector");
  const before = piece();
  turnGrip("g1", 90);
  const [a, b] = [before, piece()].map((g) => g.aim.map((v, k) => v - g.position[k]!));
  expect(a![0]! * b![0]! + a![1]! * b![1]!).toBeCloseTo(0, 2);
  expect(b![2]).toBeCloseTo(a![2]!, 3);
  for (let k = 0; k < 3; k++) turnGrip("g1", 90);
  before.aim.forEach((v, k) => expect(piece().aim[k]).toBeCloseTo(v, 2));
});

test("half way between, a mirror throws the lamp to the face", () => {
  bringGrip("mirror");
  face("g1", "between");
  const g = piece(),
    lamp = readDesk().draft!.units[0]!.position;
  const way = (q: readonly number[]) => {
    const d = q.map((v, k) => v - g.position[k]!),
      n = Math.hypot(...d);
    return d.map((v) => v / n);
  };
  const normal = way(g.aim),
    to = way(lamp),
    dot = normal.reduce((s, v, k) => s + v * to[k]!, 0);
  way(FACE).forEach((v, k) => expect(2 * dot * normal[k]! - to[k]!).toBeCloseTo(v, 2));
  face("g1", "unit");
  way(lamp).forEach((v, k) => expect(piece().aim[k]! - piece().position[k]!).toBeCloseTo(v, 2));
  setDesk({ chosen: null });
  face("g1", "between");
  expect(gesturesOf()).toEqual(["Mirror in", "Mirror turned", "Mirror turned"]);
});

test("keys go round, out, up and about; others are left to the desk", () => {
  bringGrip("frame");
  const before = where();
  expect(gripKey(piece(), { key: "ArrowRight", shiftKey: false })).toBe(true);
  expect(where().angle).toBeCloseTo(before.angle + 5, 1);
  for (let k = 0; k < 3; k++) gripKey(piece(), { key: "ArrowUp", shiftKey: false });
  expect(where().distance / before.distance).toBeCloseTo(Math.SQRT2, 2);
  gripKey(piece(), { key: "PageDown", shiftKey: true });
  expect(gripKey(piece(), { key: "q", shiftKey: false })).toBe(false);
  finishNudge();
  expect(gesturesOf()).toEqual([
    "Frame with cloth in",
    "Frame with cloth round the face",
    "Frame with cloth out",
    "Frame with cloth down",
  ]);
});

test("nothing comes nearer to the face than 20 cm", () => {
  bringGrip("flag");
  placeGrip("g1", () => ({ distance: 0 }));
  expect(where().distance).toBeCloseTo(0.2, 2);
});

test("a viewer brings nothing in", () => {
  openSmall("viewer");
  bringGrip("flag");
  expect(readDesk().draft!.grip).toEqual([]);
});
