// @vitest-environment happy-dom
import { act as rendered, cleanup, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api, type Document, type Schemas } from "../../app/api";
import { openSmall, record } from "../frame/scene.fixture";
import { act, adopt, readDesk, setDesk } from "../store";
import { PutBack } from "./PutBack";

type Restored = Schemas["Restored"];
const nothing: Restored = { anew: false, levers: [], stops: 0, words: "", ways: [] };
const lost: Restored = { ...nothing, stops: -1, words: "Key −1" };
const nudged = (by: number) => (d: Document) => ({
  ...d,
  units: d.units.map((u) => ({ ...u, position: [u.position[0] + by, ...u.position.slice(1)] })),
});
/** What the server was asked with, and what it answers next. */
let asked: Document[] = [],
  answers: Restored[] = [];

beforeEach(() => {
  vi.useFakeTimers();
  asked = [];
  openSmall();
  vi.spyOn(api, "POST").mockImplementation(((_: string, { body }: { body: never }) => {
    asked.push((body as { before: Document }).before);
    return Promise.resolve({ data: answers.shift() ?? nothing, response: new Response() });
  }) as never);
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.restoreAllMocks();
});

/** A gesture, and the moment after which it is asked about. */
async function gesture(by: number, ...next: Restored[]) {
  answers = next;
  await rendered(async () => {
    act(nudged(by) as never, "Key moved");
    await vi.advanceTimersByTimeAsync(700);
  });
}
const offered = () => screen.queryByText("Key −1");

test("what a gesture took is told after another that took nothing", async () => {
  render(<PutBack />);
  const first = readDesk().settled!;
  await gesture(0.5, lost);
  expect(offered()).not.toBeNull();
  await gesture(0.01, nothing, lost);
  expect(offered()).not.toBeNull();
  // The second question is against what stood before the first gesture.
  expect(asked[2]).toBe(first);
  await gesture(-0.51, nothing, nothing);
  expect(offered()).toBeNull();
});

test("who dims means to, and is not asked", async () => {
  render(<PutBack />);
  answers = [lost];
  await rendered(async () => {
    act((d) => ({ ...d, units: d.units.map((u) => ({ ...u, dimmer: 0.1 })) }), "Key dimmed");
    await vi.advanceTimersByTimeAsync(700);
  });
  expect(asked).toEqual([]);
});

test("what one set-up lost is nothing to the next that is opened", async () => {
  render(<PutBack />);
  await gesture(0.5, lost);
  const other = { ...record(), id: record().id + 1 };
  await rendered(async () => {
    setDesk({ record: null });
    adopt(other);
    await vi.advanceTimersByTimeAsync(0);
  });
  expect(offered()).toBeNull();
  asked = [];
  await gesture(0.2, nothing, lost);
  expect(asked.length).toBe(1);
  expect(offered()).toBeNull();
});
