import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { base, gesturesOf, openSmall, record } from "../frame/scene.fixture";
import { flushed, resolve, step, takeUp } from "./saving";
import { act, readDesk, setDesk, withUnit } from "../store";

/** The client takes hold of fetch and Request as it is made, and in Node addresses are whole. */
const line = vi.hoisted(() => {
  const Whole = globalThis.Request,
    held = {
      answer: (request: Request): Promise<Response> => Promise.reject(new TypeError(request.url)),
    };
  globalThis.Request = class extends Whole {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(typeof input === "string" ? new URL(input, "http://desk") : input, init);
    }
  };
  globalThis.fetch = (request) => held.answer(request as Request);
  return held;
});

const KEPT = "inkwell-unsent-1";
type Answer = { status: number; body: unknown };
let store: Map<string, string>;
let asked: { method: string; path: string; body: Record<string, unknown> | null }[];
let answers: (Answer | "down")[];

/**
 * The server stands here only to fail as a real one hardly can be made to; what it does when it
 * answers is tested in the browser.
 */
beforeEach(() => {
  store = new Map();
  asked = [];
  answers = [];
  vi.stubGlobal("localStorage", {
    getItem: (k: string) => store.get(k) ?? null,
    setItem: (k: string, v: string) => store.set(k, v),
    removeItem: (k: string) => store.delete(k),
  });
  line.answer = async (request) => {
    const text = await request.text();
    asked.push({
      method: request.method,
      path: new URL(request.url).pathname,
      body: text ? JSON.parse(text) : null,
    });
    const answer = answers.shift() ?? "down";
    if (answer === "down") throw new TypeError("refused");
    return new Response(JSON.stringify(answer.body), {
      status: answer.status,
      headers: { "Content-Type": "application/json" },
    });
  };
  openSmall();
  setDesk({ status: "kept", conflict: null, fault: null, queue: [] });
});
afterEach(() => {
  setDesk({ queue: [], status: "kept", conflict: null });
  vi.unstubAllGlobals();
});

const dim = (dimmer: number) =>
  act(
    withUnit("k", () => ({ dimmer })),
    `Key ${dimmer}`,
  );
const stored = (dimmer: number, version: number) => ({
  status: 200,
  body: { ...record(), version, document: { ...base, units: [{ ...base.units[0]!, dimmer }] } },
});
const settle = () => vi.waitFor(() => expect(readDesk().status).not.toBe("saving"));

test("gestures are sent one after the other, each on the version before it", async () => {
  answers = [stored(0.4, 4), stored(0.3, 5)];
  dim(0.4);
  dim(0.3);
  await flushed();
  expect(asked.map((a) => [a.method, a.body?.base_version, a.body?.gesture])).toEqual([
    ["PUT", 3, "Key 0.4"],
    ["PUT", 4, "Key 0.3"],
  ]);
  expect([readDesk().version, readDesk().draft!.units[0]!.dimmer]).toEqual([5, 0.3]);
  expect(store.has(KEPT)).toBe(false);
});

test("a lost line keeps the edits, in the browser too", async () => {
  dim(0.2);
  await settle();
  expect(readDesk().status).toBe("offline");
  expect(JSON.parse(store.get(KEPT)!)).toMatchObject({
    version: 3,
    queue: [{ gesture: "Key 0.2" }],
  });
  expect(gesturesOf()).toEqual(["Key 0.2"]);
});

test("a busy or broken server is a lost line, not a lost edit", async () => {
  answers = [{ status: 503, body: { detail: "later" } }];
  dim(0.2);
  await settle();
  expect([readDesk().status, gesturesOf()]).toEqual(["offline", ["Key 0.2"]]);
});

test("a gesture that cannot be goes back to what is stored and says why", async () => {
  answers = [
    { status: 422, body: { detail: "It stands in the wall.", path: "units[0].position" } },
  ];
  dim(0.9);
  await settle();
  expect(readDesk().draft!.units[0]!.dimmer).toBe(0.5);
  expect(readDesk().fault).toEqual({ text: "It stands in the wall.", path: "units[0].position" });
  expect(gesturesOf()).toEqual([]);
});

test("somebody else's change waits for a choice: theirs drops mine", async () => {
  const theirs = { ...base, title: "Theirs" };
  answers = [
    { status: 409, body: { detail: "newer", version: 9, document: theirs, gesture: "moved" } },
  ];
  dim(0.1);
  await settle();
  expect(readDesk().conflict).toMatchObject({ version: 9 });
  resolve("theirs");
  expect([readDesk().draft!.title, readDesk().version, gesturesOf()]).toEqual(["Theirs", 9, []]);
});

test("and mine goes on top of theirs", async () => {
  answers = [
    { status: 409, body: { detail: "newer", version: 9, document: base, gesture: "moved" } },
    stored(0.1, 10),
  ];
  dim(0.1);
  await settle();
  resolve("mine");
  await flushed();
  expect(asked.at(-1)!.body).toMatchObject({
    base_version: 9,
    gesture: "kept mine over a newer change",
  });
  expect(readDesk().version).toBe(10);
});

test("edits of an earlier visit are taken up before anything is stored over them", () => {
  const mine = { ...base, title: "Mine" };
  store.set(KEPT, JSON.stringify({ version: 3, queue: [{ document: mine, gesture: "title" }] }));
  setDesk({ record: null });
  takeUp(record());
  expect([readDesk().draft!.title, readDesk().version, gesturesOf()]).toEqual([
    "Mine",
    3,
    ["title"],
  ]);
});

test("undo waits until all is stored, and says when there is nothing", async () => {
  answers = [stored(0.4, 4), { status: 422, body: { detail: "There is nothing to undo." } }];
  dim(0.4);
  await step("undo");
  expect(asked.map((a) => a.path)).toEqual(["/api/setups/1", "/api/setups/1/undo"]);
  expect(asked[1]!.body).toEqual({ base_version: 4 });
  expect(readDesk().fault!.text).toBe("There is nothing to undo.");
});
