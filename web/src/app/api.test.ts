import { afterEach, expect, test, vi } from "vitest";
import { fetchLook, Problem, type Mix } from "./api";

const question = { document: null, only: null, step: "third" as const, client: "c", picture: true };
const mix = { exposure: 1, levels: {}, colours: {}, layers: { key: { coarse: "a", full: "b" } } };
const look = { anchor: [1, 2, 3] };

/**
 * A server that answers with these pieces, however they are cut, each when the one before it was
 * read.
 */
function answering(pieces: string[], status = 200) {
  const bytes = pieces.map((piece) => new TextEncoder().encode(piece));
  vi.stubGlobal("fetch", () =>
    Promise.resolve(
      new Response(
        new ReadableStream({
          pull(to) {
            const next = bytes.shift();
            if (next) to.enqueue(next);
            else to.close();
          },
        }),
        { status },
      ),
    ),
  );
}
afterEach(() => vi.unstubAllGlobals());

const lines = JSON.stringify({ mix }) + "\n" + JSON.stringify({ look }) + "\n";
const halfway = [
  lines.slice(0, 9),
  lines.slice(9, lines.indexOf("\n") + 5),
  lines.slice(lines.indexOf("\n") + 5),
];

test.each([
  ["in one piece", [lines]],
  ["line by line", lines.split(/(?<=\n)/)],
  ["cut anywhere", halfway],
])("a look comes in two lines, %s", async (_, pieces) => {
  answering(pieces);
  const begun: Mix[] = [];
  expect(await fetchLook(1, question, (m) => begun.push(m))).toEqual(look);
  expect(begun).toEqual([mix]);
});

test("the frame begins before the meter is read", async () => {
  let send: (text: string) => void = () => {};
  const body = new ReadableStream({
    start(to) {
      send = (text) => to.enqueue(new TextEncoder().encode(text));
    },
  });
  vi.stubGlobal("fetch", () => Promise.resolve(new Response(body)));
  let read = false;
  const begun = new Promise<Mix>((tell) => {
    void fetchLook(1, question, tell).then(() => {
      read = true;
    });
    send(JSON.stringify({ mix }) + "\n");
  });
  expect(await begun).toEqual(mix);
  expect(read).toBe(false);
  send(JSON.stringify({ look }) + "\n");
  await vi.waitFor(() => expect(read).toBe(true));
});

test("what goes wrong after the answer has begun is said as any error", async () => {
  answering([
    JSON.stringify({ mix }) + "\n",
    JSON.stringify({
      problem: { status: 422, detail: "A lamp stands in the wall.", path: "units[0]" },
    }) + "\n",
  ]);
  const error = await fetchLook(1, question, () => {}).catch((e: unknown) => e);
  expect(error).toBeInstanceOf(Problem);
  expect(error).toMatchObject({
    status: 422,
    message: "A lamp stands in the wall.",
    path: "units[0]",
  });
});

test("an answer that breaks off is a lost line", async () => {
  answering([JSON.stringify({ mix }) + "\n", '{"look": {"anch']);
  await expect(fetchLook(1, question, () => {})).rejects.toMatchObject({ status: 0 });
});

test("an answer that never begins is the problem it says", async () => {
  answering([JSON.stringify({ detail: "You are viewer here.", path: "" })], 403);
  await expect(fetchLook(1, question, () => {})).rejects.toMatchObject({
    status: 403,
    message: "You are viewer here.",
  });
});
