import "fake-indexeddb/auto";
import { clear, createStore, entries, set } from "idb-keyval";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { setPerson, type Document, type SetupRecord } from "../../app/api";
import { base, record } from "../frame/scene.fixture";
import { outlook, without, type Command } from "./commands";
import { tryNow, useLine } from "./line";
import { leaveSession, openSession, type Session } from "./queue";
import { windowName } from "./unsent";

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

type Sent = { path: string; body: Record<string, unknown> | null; person: string | null };
type Answer = { status: number; body?: unknown } | "down" | "lost";
let sent: Sent[], answers: Answer[];
/** What a server with one hand would have: it stores, recognises keys and compares versions. */
let server: {
  version: number;
  documents: Document[];
  keys: Map<string, SetupRecord>;
  person: string;
};

const dimmed = (dimmer: number): Document => ({
  ...base,
  units: base.units.map((u) => ({ ...u, dimmer })),
});
const shown = (): SetupRecord => ({
  ...record(),
  version: server.version,
  revision: server.documents.length,
  document: server.documents.at(-1)!,
});

function carriedOut({ path, body, person }: Sent): Answer {
  if (path.endsWith("/session")) return { status: 200, body: {} };
  if (person !== server.person) return { status: 401, body: { detail: "not signed in" } };
  const { key, base_version, document } = body as {
    key: string;
    base_version: number;
    document: Document;
  };
  const before = server.keys.get(key);
  if (before) return { status: 200, body: before };
  if (path.endsWith("/branches")) return { status: 201, body: {} };
  if (base_version !== server.version) {
    const theirs = { ...shown(), gesture: "theirs", author: "pilot" };
    return { status: 409, body: theirs };
  }
  if (path.endsWith("/undo")) server.documents.pop();
  else server.documents.push(document);
  server.version++;
  server.keys.set(key, shown());
  return { status: 200, body: shown() };
}

beforeEach(async () => {
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] });
  sent = [];
  answers = [];
  server = { version: 3, documents: [base, base, base], keys: new Map(), person: "gaffer" };
  setPerson({ username: "gaffer", csrf: "c" });
  useLine.setState({ line: { state: "up" } });
  await clear(createStore("inkwell-moth", "unsent"));
  line.answer = async (request) => {
    const text = await request.text(),
      path = new URL(request.url).pathname;
    const asked = {
      path,
      body: text ? JSON.parse(text) : null,
      person: request.headers.get("X-Person"),
    };
    if (!path.endsWith("/session")) sent.push(asked);
    const planned = path.endsWith("/session") ? undefined : answers.shift();
    if (planned === "down") throw new TypeError("refused");
    const answer = planned === undefined || planned === "lost" ? carriedOut(asked) : planned;
    if (planned === "lost" || answer === "down" || answer === "lost") throw new TypeError("lost");
    return new Response(JSON.stringify(answer.body ?? {}), { status: answer.status });
  };
});
afterEach(() => {
  vi.useRealTimers();
});

let ids = 100;
async function opened(id = ids++, notice: (s: Session, fresh: Document | null) => void = () => {}) {
  const found = await openSession({ ...shown(), id }, notice);
  return found.session;
}
const settled = (session: Session) =>
  vi.waitFor(() => expect(["sending"]).not.toContain(session.standing.kind));
const notes = async () =>
  (await entries<string, { commands: Command[] }>(createStore("inkwell-moth", "unsent"))).map(
    ([, n]) => n.commands.length,
  );
const gestures = () => sent.map((s) => s.body?.gesture ?? s.path.split("/").at(-1));

test("what will stand is known as far as the commands tell", () => {
  const save = (d: number): Command => ({
    key: `${d}`,
    way: "save",
    document: dimmed(d),
    gesture: "g",
  });
  const undo: Command = { key: "u", way: "undo" },
    redo: Command = { key: "r", way: "redo" };
  expect(outlook(base, [])).toBe(base);
  expect(outlook(base, [save(0.1), save(0.2), undo])!.units[0]!.dimmer).toBe(0.1);
  expect(outlook(base, [save(0.1), undo])).toBe(base);
  expect(outlook(base, [save(0.1), undo, redo])!.units[0]!.dimmer).toBe(0.1);
  expect(outlook(base, [undo])).toBeNull();
  expect(outlook(base, [undo, save(0.3)])!.units[0]!.dimmer).toBe(0.3);
  expect(outlook(base, [redo])).toBeNull();
  // An undo right behind what was refused meant it.
  expect(without([save(0.1), undo, save(0.2)], "0.1").map((c) => c.key)).toEqual(["0.2"]);
});

test("gestures go one after the other, each on the version the last one made", async () => {
  const session = await opened();
  for (const d of [0.1, 0.2, 0.3]) session.save(dimmed(d), `to ${d}`);
  await settled(session);
  expect(sent.map((s) => s.body!.base_version)).toEqual([3, 4, 5]);
  expect(new Set(sent.map((s) => s.body!.key)).size).toBe(3);
  expect([session.standing.kind, session.version, session.idle]).toEqual(["kept", 6, true]);
  await vi.waitFor(async () => expect(await notes()).toEqual([]));
});

test("undo pressed twice quickly undoes twice, and meets no conflict with oneself", async () => {
  server.documents = [base, dimmed(0.1), dimmed(0.2)];
  const fresh: (Document | null)[] = [];
  const session = await opened(undefined, (_, f) => fresh.push(f));
  session.turn("undo");
  session.turn("undo");
  await settled(session);
  expect(sent.map((s) => s.body!.base_version)).toEqual([3, 4]);
  expect([session.standing.kind, session.stored]).toEqual(["kept", base]);
  expect(fresh.at(-1)).toEqual(base);
});

test("an answer that was lost is asked for again and recognised: stored once, no conflict", async () => {
  const session = await opened();
  answers = ["lost"];
  session.save(dimmed(0.4), "key 0.4");
  await settled(session);
  expect([session.standing.kind, useLine.getState().line.state]).toEqual(["waiting", "down"]);
  expect(await notes()).toEqual([1]);
  tryNow();
  await vi.waitFor(() => expect(session.standing.kind).toBe("kept"));
  expect(server.documents).toHaveLength(4);
  expect(sent[0]!.body!.key).toBe(sent[1]!.body!.key);
});

test.each([
  [401, "waiting"],
  [403, "not-yours"],
  [413, "refused"],
])("an answer of %i throws no edit away", async (status, kind) => {
  const session = await opened();
  answers = [{ status, body: { detail: "no" } }];
  session.save(dimmed(0.4), "key 0.4");
  session.save(dimmed(0.5), "key 0.5");
  if (status === 413) answers.push({ status, body: { detail: "too large" } });
  await vi.waitFor(() => expect(session.standing.kind).toBe(kind));
  expect(session.outlook!.units[0]!.dimmer).toBe(0.5);
  expect((await notes())[0]).toBeGreaterThan(0);
  if (status === 401) {
    expect(useLine.getState().line.state).toBe("signed-out");
    useLine.setState({ line: { state: "up" } });
  } else if (status === 403) session.tryAgain();
  else session.save(dimmed(0.6), "key 0.6");
  await vi.waitFor(() => expect(session.standing.kind).toBe("kept"));
  expect(server.documents.at(-1)!.units[0]!.dimmer).toBe(status === 413 ? 0.6 : 0.5);
});

test("a gesture that is refused steps aside, and the next, which holds it, goes through", async () => {
  const session = await opened();
  answers = [{ status: 422, body: { detail: "It is in the ceiling.", path: "units[0].position" } }];
  session.save(dimmed(0.7), "above the eyes 75°");
  session.save(dimmed(0.8), "distance 1.0 m");
  await settled(session);
  expect(gestures()).toEqual(["above the eyes 75°", "distance 1.0 m"]);
  expect([session.standing.kind, server.documents.at(-1)!.units[0]!.dimmer]).toEqual(["kept", 0.8]);
});

test("one that is refused with nothing after it stays in hand until it is put right or put back", async () => {
  const session = await opened();
  answers = [{ status: 422, body: { detail: "It is in the ceiling.", path: "units[0].position" } }];
  session.save(dimmed(0.7), "above the eyes 75°");
  await settled(session);
  expect(session.standing).toEqual({
    kind: "refused",
    text: "It is in the ceiling.",
    path: "units[0].position",
  });
  expect(session.outlook!.units[0]!.dimmer).toBe(0.7);
  await session.pump();
  expect(sent).toHaveLength(1); // it is not asked for ever
  session.save(dimmed(0.8), "distance 1.0 m");
  await settled(session);
  expect([session.standing.kind, session.version]).toEqual(["kept", 4]);
  answers = [{ status: 422, body: { detail: "no" } }];
  session.save(dimmed(0.9), "again");
  await settled(session);
  session.turn("undo");
  expect([session.standing.kind, session.outlook!.units[0]!.dimmer]).toEqual(["kept", 0.8]);
  expect(sent).toHaveLength(3);
});

test("nothing to undo is said, and nothing else is lost", async () => {
  const session = await opened();
  answers = [{ status: 422, body: { detail: "There is nothing to undo." } }];
  session.turn("undo");
  session.save(dimmed(0.2), "key 0.2");
  await settled(session);
  expect([session.standing.kind, session.stored.units[0]!.dimmer]).toEqual(["kept", 0.2]);
  answers = [{ status: 422, body: { detail: "There is nothing to undo." } }];
  session.turn("undo");
  await settled(session);
  expect(session.standing).toEqual({ kind: "kept", said: "There is nothing to undo." });
});

test("a lasting fault of the server is told as one and not asked for ever", async () => {
  const session = await opened();
  answers = Array.from({ length: 40 }, () => ({
    status: 500,
    body: { detail: "Something broke." },
  }));
  session.save(dimmed(0.4), "key 0.4");
  for (let k = 0; k < 30; k++) {
    await vi.advanceTimersByTimeAsync(61_000);
    await settled(session);
  }
  const { line: now } = useLine.getState();
  expect(now).toMatchObject({ state: "faulty", text: "Something broke.", resting: true });
  expect(sent.length).toBeLessThan(10);
  answers = [];
  tryNow();
  await vi.waitFor(() => expect(session.standing.kind).toBe("kept"));
});

test("after a conflict theirs is taken, and mine is kept beside it", async () => {
  const session = await opened();
  server.version = 9;
  server.documents.push(dimmed(0.9));
  const mine = dimmed(0.4);
  session.save(mine, "key 0.4");
  await vi.waitFor(() => expect(session.standing.kind).toBe("conflict"));
  answers = ["down"];
  await session.takeTheirs(mine);
  expect(session.standing).toMatchObject({ kind: "conflict" }); // not kept yet: nothing is dropped
  await session.takeTheirs(mine);
  expect(sent.at(-1)).toMatchObject({ path: "/api/setups/" + session.id + "/branches" });
  expect(sent.at(-1)!.body).toMatchObject({ parent: 3, document: { units: [{ dimmer: 0.4 }] } });
  expect([session.standing.kind, session.version, session.idle]).toEqual(["kept", 9, true]);
});

test("after a conflict that an undo met, mine on top sends the document", async () => {
  const session = await opened();
  server.version = 9;
  session.turn("undo");
  await vi.waitFor(() => expect(session.standing.kind).toBe("conflict"));
  session.putMineOnTop(dimmed(0.4));
  await vi.waitFor(() => expect(session.standing.kind).toBe("kept"));
  expect(sent.at(-1)!.body).toMatchObject({
    base_version: 9,
    document: { units: [{ dimmer: 0.4 }] },
  });
});

test("a desk left while storing goes on, and coming back meets no conflict with oneself", async () => {
  const id = ids++,
    session = await opened(id);
  let answered = () => {};
  const usual = line.answer;
  line.answer = async (request) => {
    await new Promise<void>((go) => (answered = go));
    return usual(request);
  };
  session.save(dimmed(0.4), "key 0.4");
  leaveSession(session);
  const back = await opened(id); // the record it brings is of before
  expect(back).toBe(session);
  line.answer = usual;
  answered();
  await settled(back);
  back.save(dimmed(0.5), "key 0.5");
  await settled(back);
  expect([back.standing.kind, back.version]).toEqual(["kept", 5]);
});

test("edits of an earlier visit are sent before anything else, under the name of who gave them", async () => {
  const id = ids++,
    at = (user: string) => `${user}\n${id}\n${windowName}`;
  const note = (d: number) => ({
    version: 3,
    revision: 3,
    at: 1,
    commands: [{ key: `n${d}`, way: "save", document: dimmed(d), gesture: `note ${d}` }],
  });
  const store = createStore("inkwell-moth", "unsent");
  await set(at("gaffer"), note(0.3), store);
  await set(at("pilot"), note(0.9), store);
  const session = await opened(id);
  session.save(dimmed(0.4), "now");
  await settled(session);
  expect(gestures()).toEqual(["note 0.3", "now"]);
  expect(sent.every((s) => s.person === "gaffer")).toBe(true);
  // The pilot's waits for the pilot.
  await vi.waitFor(async () => expect(await notes()).toEqual([1]));
});

test("another person at this browser sends nothing of mine", async () => {
  const session = await opened();
  answers = ["down"];
  session.save(dimmed(0.4), "key 0.4");
  await settled(session);
  setPerson({ username: "pilot", csrf: "d" });
  useLine.setState({ line: { state: "up" } });
  await session.pump();
  expect(sent).toHaveLength(1);
  expect(await notes()).toEqual([1]);
});

test("a damaged note is dropped and counted, and the set-up opens", async () => {
  const id = ids++,
    store = createStore("inkwell-moth", "unsent");
  await set(`gaffer\n${id}\n${windowName}`, { commands: "?" }, store);
  const found = await openSession({ ...shown(), id }, () => {});
  expect([found.damaged, found.session.idle]).toEqual([1, true]);
  expect(await notes()).toEqual([]);
});

test("what keys are still making is noted at each press, and is one gesture whoever sends it", async () => {
  vi.stubGlobal("localStorage", {
    setItem(this: Record<string, string>, at: string, text: string) {
      this[at] = text;
    },
    getItem(this: Record<string, string>, at: string) {
      return this[at];
    },
    removeItem(this: Record<string, string>, at: string) {
      delete this[at];
    },
  });
  const atOnce = () => Object.keys(localStorage).filter((k) => k.includes("leaving"));
  const session = await opened();
  session.hold(dimmed(0.2), "dimmed");
  session.hold(dimmed(0.1), "dimmed");
  expect(atOnce()).toHaveLength(1);
  // The page went without a word: its note is the next visit's. Then the last of it comes late.
  const left = localStorage.getItem(atOnce()[0]!)!;
  session.save(dimmed(0.1), "dimmed");
  await settled(session);
  expect(atOnce()).toEqual([]);
  localStorage.setItem(`inkwell-leaving\ngaffer\n${ids}\n${windowName}`, left);
  const next = await opened();
  await settled(next);
  expect(sent.map((s) => s.body!.key)).toEqual([sent[0]!.body!.key, sent[0]!.body!.key]);
  expect([server.version, next.outlook!.units[0]!.dimmer]).toEqual([4, 0.1]);
  // A document from the server takes the place of what keys were making: no note is left of it.
  next.hold(dimmed(0.3), "dimmed");
  next.turn("undo");
  await settled(next);
  expect(atOnce()).toEqual([]);
  vi.unstubAllGlobals();
});
