import { beforeEach, expect, test } from "vitest";
import { begin, mark, shift, takeTo, openTool, type Judgement } from "./order";
import { gesturesOf, openSmall } from "../frame/scene.fixture";
import { readDesk, setDesk } from "../store";

const plan = {
  key: "three-point",
  name: "Three-point: key, fill, edge",
  steps: ["frame", "key", "fill", "edge"],
} as unknown as Parameters<typeof begin>[0];
const other = {
  key: "natural",
  name: "Natural: what is there first",
  steps: ["frame", "keep", "key"],
} as unknown as Parameters<typeof begin>[0];
const steps = () => readDesk().draft!.order!.steps;
const step = (more: Partial<Judgement>) =>
  ({ key: "key", panel: "unit", unit: null, ...more }) as Judgement;

beforeEach(() => openSmall());

test("a plan begins with every step open, as one gesture", () => {
  begin(plan);
  expect(steps().map((s) => [s.key, s.state])).toEqual([
    ["frame", "open"],
    ["key", "open"],
    ["fill", "open"],
    ["edge", "open"],
  ]);
  expect(gesturesOf()).toEqual(["Order of work: three-point"]);
});

test("what is done stays done under another plan", () => {
  begin(plan);
  mark("key", "done", "Key");
  mark("fill", "skipped", "Fill", "the window does it");
  begin(other);
  expect(steps().map((s) => s.state)).toEqual(["open", "open", "done"]);
  begin(plan);
  expect(steps().find((s) => s.key === "key")!.state).toBe("done");
});

test("a step skipped keeps its reason until it is taken up again", () => {
  begin(plan);
  mark("edge", "skipped", "Separation", "the set is light");
  expect(steps().at(-1)).toMatchObject({ state: "skipped", reason: "the set is light" });
  mark("edge", "open", "Separation");
  expect(steps().at(-1)).toMatchObject({ state: "open", reason: "" });
  expect(gesturesOf().slice(1)).toEqual(["Separation skipped", "Separation taken up again"]);
});

test("steps move past each other and not off either end", () => {
  begin(plan);
  shift("fill", -1, "Fill");
  expect(steps().map((s) => s.key)).toEqual(["frame", "fill", "key", "edge"]);
  shift("frame", -1, "Frame");
  shift("edge", 1, "Edge");
  shift("nothing", 1, "Nothing");
  expect(steps().map((s) => s.key)).toEqual(["frame", "fill", "key", "edge"]);
});

test("a step's tool is put in hand", () => {
  openTool(step({ unit: "k" }));
  expect(readDesk().chosen).toBe("k");
  openTool(step({ key: "fixed", panel: "meter" }));
  expect([readDesk().panel, readDesk().meter]).toEqual(["meter", "fixed"]);
  openTool(step({ key: "eye", panel: "meter" }));
  expect(readDesk().meter).toBe("ways");
  openTool(step({ key: "frame", panel: "camera" }));
  expect(readDesk().panel).toBe("camera");
  setDesk({ panel: "room" });
  openTool(step({ unit: "gone" }));
  expect(readDesk().panel).toBe("room");
});

test("a check's dimmer is one gesture and lights the unit", () => {
  takeTo("k", 0.123456);
  expect(readDesk().draft!.units[0]).toMatchObject({ on: true, dimmer: 0.1235 });
  takeTo("gone", 1);
  expect(gesturesOf()).toEqual(["Key 12 %"]);
});
