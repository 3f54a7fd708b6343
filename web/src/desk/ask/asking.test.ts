import { expect, test } from "vitest";
import { base } from "../frame/scene.fixture";
import { best, SHOWN, useAsking, wish, type Found } from "./asking";

const found = (words: string, met: boolean[], costs: string[]): Found => ({
  picture: "",
  offer: {
    setup: base,
    words,
    costs,
    wishes: met.map((m, k) => ({ kind: `${k}`, met: m, words: "" })),
  },
});

test("the best meet most wishes, then have least in the way, and are three", () => {
  const all = [
    found("one", [true, false], []),
    found("both, with a cost", [true, true], ["eye: no glint"]),
    found("none", [false, false], []),
    found("both", [true, true], []),
  ];
  const words = best(all).map((f) => f.offer.words);
  expect(words).toEqual(["both", "both, with a cost", "one"]);
  expect(words).toHaveLength(SHOWN);
  expect(all[0]!.offer.words).toBe("one");
});

test("wishes are put together, changed and given up, and what was found goes with them", () => {
  useAsking.setState({ wishes: [{ kind: "stop" }], found: [found("x", [true], [])] });
  wish("ratio", { low: 2, high: 4 });
  wish("ratio", { low: 3 });
  expect(useAsking.getState().wishes).toEqual([
    { kind: "stop" },
    { kind: "ratio", low: 3, high: 4 },
  ]);
  expect(useAsking.getState().found).toEqual([]);
  wish("stop", null);
  expect(useAsking.getState().wishes.map((w) => w.kind)).toEqual(["ratio"]);
});
