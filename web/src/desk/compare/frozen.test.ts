import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Document } from "../../app/api";
import { setDesk, readDesk } from "../store";
import { freeze, loadFrozen, nameFrozen, thaw, useFrozen } from "./frozen";

const document = { title: "Pilot" } as Document;
const list = (setup: number) => useFrozen.getState().shots[setup] ?? [];
const names = (setup: number) => list(setup).map((s) => s.name.split(",")[0]);
const as = (role: "viewer" | "editor") =>
  setDesk({ record: { id: 1, role } as never, draft: document, said: "" });

const line = vi.hoisted(() => ({
  there: true,
  kept: new Map<number, { id: number; name: string }>(),
  next: 7,
}));
/** A server that keeps frames, or is not there. */
vi.mock("../../app/api", async (original) => {
  type Asked = { params: { path: { pk: number } }; body?: { name: string } };
  const answer = (change: (asked: Asked) => unknown) => async (_: string, asked: Asked) => {
    if (!line.there) throw new Error("the line is down");
    return change(asked);
  };
  const put = (id: number, { name }: { name: string }) => {
    const frame = { id, name, author: "gaffer", document: { title: "Pilot" } };
    line.kept.set(id, frame);
    return frame;
  };
  return {
    ...(await original<object>()),
    got: (told: Promise<unknown>) => told,
    api: {
      GET: answer(() => [...line.kept.values()]),
      POST: answer(({ body }) => put(line.next++, body!)),
      PUT: answer(({ params, body }) => put(params.path.pk, body!)),
      DELETE: answer(({ params }) => line.kept.delete(params.path.pk)),
    },
  };
});

describe("frozen frames", () => {
  beforeEach(() => {
    useFrozen.setState({ shots: {} });
    line.kept.clear();
    Object.assign(line, { there: true, next: 7 });
    as("editor");
  });

  it("are kept with the set-up, renamed and let go there", async () => {
    const { kept } = line;
    await freeze(1, document);
    expect(list(1)[0]).toMatchObject({ id: "7", picture: "/api/frozen/7/picture.jpg" });
    await nameFrozen(1, "7", "Before lunch");
    expect([names(1), kept.get(7)?.name]).toEqual([["Before lunch"], "Before lunch"]);
    useFrozen.setState({ shots: {} });
    await loadFrozen(1);
    expect(names(1)).toEqual(["Before lunch"]);
    await thaw(1, "7");
    expect([names(1), kept.size]).toEqual([[], 0]);
  });

  it("stay in this browser while the line is down, and say so; none is dropped", async () => {
    line.there = false;
    for (let k = 0; k < 11; k++) await freeze(1, document);
    expect(names(1)).toHaveLength(11);
    expect(new Set(names(1)).size).toBe(11);
    expect(readDesk().said).toContain("in this browser only");
    const first = list(1)[0]!;
    await thaw(1, first.id);
    expect(names(1)).toHaveLength(10);
    line.there = true;
    await loadFrozen(1);
    expect(names(1)).toHaveLength(10);
  });

  it("of a viewer are of this browser", async () => {
    as("viewer");
    const { kept } = line;
    await freeze(1, document);
    expect([names(1), kept.size]).toEqual([["Frame 1"], 0]);
  });
});
