import { describe, expect, it } from "vitest";
import { headHandles, layHead, layTool, whole } from "./heading";
import { handlesOf, without, type Marks, type Spot } from "./marks";

const ASPECT = 9 / 16;
const EMPTY = {
  head: { eye_left: null, eye_right: null, nose_tip: null, chin: null, crown: null },
  edges: [],
  sources: [],
  neutral: null,
  shade: null,
  backdrop: null,
  spots: [],
  figure: { id: "subject", name: "Subject", figure: "young-woman", position: [0, 0] },
} as unknown as Marks;
/** Length between two places, in parts of the width. */
const long = (a: Spot, b: Spot) => Math.hypot(a[0] - b[0], (a[1] - b[1]) * ASPECT);
const head = (marks: Marks) => marks.head as Record<string, Spot>;

describe("a head laid over a still", () => {
  it("has its eyes level, the person's own left on the right, under an upright crown", () => {
    const laid = layTool(ASPECT).put(EMPTY, [
      [0.5, 0.2],
      [0.5, 0.6],
    ]);
    const { eye_left, eye_right, nose_tip, chin, crown } = head(laid);
    expect(whole(laid)).toBe(true);
    expect(eye_left![1]).toBeCloseTo(eye_right![1], 2);
    expect(eye_left![0]).toBeGreaterThan(eye_right![0]);
    expect(nose_tip![1]).toBeGreaterThan(eye_left![1]);
    // As on a head: eyes about half way down it, a third of its length apart.
    const tall = long(crown!, chin!);
    expect(long(eye_left!, eye_right!) / tall).toBeGreaterThan(0.22);
    expect(long(eye_left!, eye_right!) / tall).toBeLessThan(0.36);
  });

  it("leans with the line from crown to chin, keeping its shape", () => {
    const upright = layHead(EMPTY, [0.5, 0.2], [0.5, 0.6], ASPECT);
    const tall = long([0.5, 0.2], [0.5, 0.6]);
    const leaned = layHead(
      EMPTY,
      [0.3, 0.3],
      [0.3 + tall * 0.6, 0.3 + (tall * 0.8) / ASPECT],
      ASPECT,
    );
    for (const part of ["eye_left", "eye_right", "nose_tip"])
      for (const other of ["crown", "chin"])
        expect(long(head(leaned)[part]!, head(leaned)[other]!)).toBeCloseTo(
          long(head(upright)[part]!, head(upright)[other]!),
          6,
        );
  });

  it("is carried, sized and turned as one, and taken away as one", () => {
    const laid = layHead(EMPTY, [0.5, 0.2], [0.5, 0.6], ASPECT);
    const [all, size] = headHandles(laid, ASPECT);
    const carried = all!.move(laid, [all!.at[0] + 0.1, all!.at[1] - 0.05]);
    for (const part of Object.keys(laid.head)) {
      expect(head(carried)[part]![0]).toBeCloseTo(head(laid)[part]![0] + 0.1, 9);
      expect(head(carried)[part]![1]).toBeCloseTo(head(laid)[part]![1] - 0.05, 9);
    }
    // Twice as far out: twice the size; a quarter down: turned by a quarter to the right.
    const [x, y] = all!.at,
      out = size!.at[0] - x;
    const larger = size!.move(laid, [x + 2 * out, y]);
    expect(long(head(larger).crown!, head(larger).chin!)).toBeCloseTo(
      2 * long([0.5, 0.2], [0.5, 0.6]),
      6,
    );
    const turned = size!.move(laid, [x, y + out / ASPECT]);
    expect(head(turned).crown![0]).toBeGreaterThan(x);
    expect(head(turned).crown![1]).toBeCloseTo(y, 6);
    expect(handlesOf(without(laid, "head all"))).toHaveLength(0);
    expect(headHandles(without(laid, "head chin"), ASPECT)).toHaveLength(0);
  });
});
