import { beforeEach, expect, test } from "vitest";
import type { Point } from "../../app/api";
import { gesturesOf, openSmall } from "../frame/scene.fixture";
import { act, personOf, readDesk } from "../store";
import {
  addReverse,
  bringPerson,
  carryPerson,
  makeSubject,
  sendAway,
  through,
  turnToward,
} from "./people";
import { eyesOf } from "./aiming";

const people = () => readDesk().draft!.figures;
const cameras = () => readDesk().draft!.cameras;
const names = () => people().map((f) => f.name);

beforeEach(() => openSmall());

test("somebody comes in beside the subject, face to face, out of the lens's way", () => {
  bringPerson("young-woman");
  const [subject, other] = people();
  const off = Math.hypot(...other!.position.map((v, k) => v - subject!.position[k as 0 | 1]));
  expect(off).toBeGreaterThan(0.8);
  expect(off).toBeLessThan(1.6);
  // The way from the lens (3, 5.5) to the face (3, 3) stays clear.
  expect(Math.abs(other!.position[0] - 3)).toBeGreaterThan(0.5);
  const nose = [
    -Math.sin((other!.facing * Math.PI) / 180),
    Math.cos((other!.facing * Math.PI) / 180),
  ];
  const to = subject!.position.map((v, k) => (v - other!.position[k as 0 | 1]) / off);
  expect(nose[0]! * to[0]! + nose[1]! * to[1]!).toBeGreaterThan(0.999);
  expect(personOf(readDesk()).id).toBe(other!.id);
});

test("eight stand apart and inside; there is no ninth", () => {
  for (let k = 0; k < 12; k++) bringPerson("broad-man");
  expect(people().length).toBeLessThanOrEqual(8);
  people().forEach((a, at) =>
    people()
      .slice(at + 1)
      .forEach((b) =>
        expect(
          Math.hypot(a.position[0] - b.position[0], a.position[1] - b.position[1]),
        ).toBeGreaterThan(0.6),
      ),
  );
  expect(new Set(people().map((f) => f.id)).size).toBe(people().length);
});

test("a person is carried, never through the wall, and turned to another", () => {
  bringPerson("young-woman");
  const id = people()[1]!.id;
  carryPerson(id, [5, 3]);
  carryPerson(id, [9, 3]);
  expect(people()[1]!.position).toEqual([5, 3]);
  turnToward(id, people()[0]!.position, "S");
  expect(people()[1]!.facing).toBe(90);
});

test("the picture is made theirs: they come first, and the camera remembers it", () => {
  bringPerson("young-woman");
  const id = people()[1]!.id;
  makeSubject(id);
  expect(people()[0]!.id).toBe(id);
  expect(cameras()[0]!.subject).toBe(id);
});

test("a reverse camera has its own subject; looking through the first brings hers back", () => {
  bringPerson("young-woman");
  const [subject, other] = people();
  addReverse(other!.id);
  expect(names()[0]).toBe(other!.name);
  expect(cameras()).toHaveLength(2);
  const [reverse, first] = cameras();
  expect(reverse!.subject).toBe(other!.id);
  expect(first!.subject).toBe(subject!.id);
  // From beyond the subject, at the other's eyes.
  const eyes = eyesOf(other!);
  const away = (p: readonly number[]) => Math.hypot(p[0]! - eyes[0], p[1]! - eyes[1]);
  expect(away(reverse!.position)).toBeGreaterThan(away(subject!.position as unknown as Point));
  expect(Math.hypot(reverse!.aim[0] - eyes[0], reverse!.aim[1] - eyes[1])).toBeLessThan(1e-3);
  act(through(first!.id), "back");
  expect([cameras()[0]!.id, people()[0]!.id]).toEqual([first!.id, subject!.id]);
  act(through(reverse!.id), "there");
  expect(people()[0]!.id).toBe(other!.id);
});

test("who is sent away is nobody's subject; the last one stays", () => {
  bringPerson("young-woman");
  const id = people()[1]!.id;
  makeSubject(id);
  sendAway(id);
  expect(people()).toHaveLength(1);
  expect(cameras()[0]!.subject).toBeNull();
  sendAway(people()[0]!.id);
  expect(people()).toHaveLength(1);
  expect(gesturesOf()).toHaveLength(3);
});
