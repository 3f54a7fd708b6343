import { describe, expect, it } from "vitest";
import {
  areaTools,
  edgeTools,
  handlesOf,
  headTools,
  lightOf,
  lightTools,
  next,
  without,
  type Marks,
} from "./marks";

const figure = { id: "subject", name: "Subject", position: [0, 0] } as unknown as Marks["figure"];
const EMPTY: Marks = {
  head: { eye_left: null, eye_right: null, nose_tip: null, chin: null, crown: null },
  edges: [],
  sources: [lightOf("key", "Key", "key")],
  neutral: null,
  shade: null,
  backdrop: null,
  spots: [],
  figure,
};
const tools = [...headTools, ...edgeTools, ...areaTools, ...lightTools("key")];

describe("marks of a still", () => {
  it("are put by every tool, carried by their handles and taken away", () => {
    for (const tool of tools) {
      const at = tool.points.map((_, k) => [0.2 + 0.1 * k, 0.3] as [number, number]);
      const marks = tool.put(EMPTY, at);
      const handles = handlesOf(marks);
      expect(handles, tool.id).toHaveLength(at.length);
      expect(handles.map((h) => h.at)).toEqual(at);
      const moved = handles[0]!.move(marks, [0.9, 0.8]);
      expect(handlesOf(moved)[0]!.at).toEqual([0.9, 0.8]);
      expect(handlesOf(moved).slice(1)).toHaveLength(at.length - 1);
      expect(handlesOf(without(marks, handles[0]!.group)), tool.id).toHaveLength(0);
    }
  });

  it("put a second glint of one eye in the first one's place, and keep the other eye's", () => {
    const [left, right] = lightTools("key");
    const at: [number, number][] = [
      [0.1, 0.1],
      [0.2, 0.1],
      [0.15, 0.1],
    ];
    const both = left!.put(right!.put(left!.put(EMPTY, at), at), at);
    expect(both.sources[0]!.glints.map((g) => g.eye)).toEqual(["right", "left"]);
  });

  it("lead from one part of the head to the next that is open", () => {
    const marks = headTools[1]!.put(EMPTY, [[0.4, 0.4]]);
    expect(next(marks, headTools[0]!)?.id).toBe("head nose_tip");
    expect(next(marks, headTools[4]!)).toBeNull();
    expect(next(marks, areaTools[0]!)).toBeNull();
  });
});
