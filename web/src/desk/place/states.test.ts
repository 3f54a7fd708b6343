import { beforeEach, expect, test } from "vitest";
import { gesturesOf, openSmall } from "../frame/scene.fixture";
import { act, readDesk, withUnit } from "../store";
import { addState, removeState, renameState, turnTo } from "./states";

const draft = () => readDesk().draft!;
const key = () => draft().units.find((u) => u.id === "k")!;
const stateCalled = (name: string) => draft().states.find((s) => s.name === name)!.id;
const dim = (dimmer: number) =>
  act(
    withUnit("k", () => ({ dimmer })),
    "dimmed",
  );

beforeEach(() => openSmall());

test("the first state asked for keeps what stood before beside it", () => {
  const before = key().dimmer;
  addState("night");
  expect(draft().states.map((s) => s.name)).toEqual(["as it was", "night"]);
  expect(draft().state).toBe(stateCalled("night"));
  dim(0.03);
  turnTo(stateCalled("as it was"));
  expect(key().dimmer).toBe(before);
  turnTo(stateCalled("night"));
  expect(key().dimmer).toBe(0.03);
  expect(gesturesOf()).toEqual(["State added: night", "dimmed", "At as it was", "At night"]);
});

test("each has its own sky and whites; places are the same in all", () => {
  addState("night");
  act(
    (d) => ({
      ...d,
      sky: { ...d.sky, level: 20, cct: 9000 },
      units: d.units.map((u) => ({ ...u, cct: 2900, position: [4.1, 4.2, 2] })),
    }),
    "night made",
  );
  turnTo(stateCalled("as it was"));
  expect(draft().sky.level).toBe(10000);
  expect(key()).toMatchObject({ cct: 5600, position: [4.1, 4.2, 2] });
  turnTo(stateCalled("night"));
  expect(draft().sky).toMatchObject({ level: 20, cct: 9000 });
  expect(key().cct).toBe(2900);
});

test("a unit brought in at night is off by day, and one struck is missed by none", () => {
  addState("night");
  act((d) => ({ ...d, units: [...d.units, { ...key(), id: "n", name: "Moon" }] }), "moon in");
  turnTo(stateCalled("as it was"));
  expect(draft().units.map((u) => u.on)).toEqual([true, false]);
  act((d) => ({ ...d, units: d.units.filter((u) => u.id !== "k") }), "key struck");
  turnTo(stateCalled("night"));
  expect(draft().units.map((u) => [u.id, u.on])).toEqual([["n", true]]);
});

test("a state is called otherwise, and taken away without changing what stands", () => {
  addState("night");
  dim(0.03);
  renameState(draft().state!, "deep night");
  removeState(draft().state!);
  expect(draft()).toMatchObject({ state: null });
  expect(draft().states.map((s) => s.name)).toEqual(["as it was"]);
  expect(key().dimmer).toBe(0.03);
  turnTo(stateCalled("as it was"));
  expect(key().dimmer).not.toBe(0.03);
});

test("turning to the one that stands changes nothing", () => {
  addState("night");
  const before = draft();
  turnTo(draft().state!);
  expect(draft()).toBe(before);
});
