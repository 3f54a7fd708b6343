import { beforeEach, describe, expect, it } from "vitest";
import type { Document } from "../../app/api";
import { freeze, thaw, useFrozen } from "./frozen";

const document = { title: "Pilot" } as Document;
const names = (setup: number) =>
  (useFrozen.getState().shots[setup] ?? []).map((s) => s.name.split(",")[0]);

describe("frozen frames", () => {
  beforeEach(() => useFrozen.setState({ shots: {} }));
  it("are kept apart by set-up and let go one by one", () => {
    const first = freeze(1, document);
    freeze(2, document);
    expect([names(1), names(2)]).toEqual([["Frame 1"], ["Frame 1"]]);
    expect(first.document).toBe(document);
    thaw(1, first.id);
    expect([names(1), names(2)]).toEqual([[], ["Frame 1"]]);
  });
  it("are at most eight, the oldest gone, and never two of one name", () => {
    for (let k = 0; k < 11; k++) freeze(1, document);
    expect(names(1)).toHaveLength(8);
    expect(new Set(names(1)).size).toBe(8);
    expect(names(1).at(-1)).toBe("Frame 11");
  });
});
