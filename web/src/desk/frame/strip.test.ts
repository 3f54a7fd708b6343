import { describe, expect, it } from "vitest";
import type { Layer } from "./layers";
import { adds, frameOfStrip, small, SMALL, type Piece } from "./strip";

const [W, H] = [SMALL[0] * 5, SMALL[1] * 5];
const none = {
  seen: new Uint32Array(0),
  glow: new Float32Array(0),
  cover: new Float32Array(0),
  full: true,
};
const layer = (f: (i: number) => number): Layer => ({
  pixels: Float32Array.from({ length: W * H * 3 }, (_, i) => f(i)),
  ...none,
});
const piece = (id: string, value: number, gain: [number, number, number] = [1, 1, 1]): Piece => ({
  id,
  small: small(
    layer(() => value),
    W,
    H,
  ),
  gain,
});

describe("each light's part", () => {
  it("takes the mean of the pixels it stands for, and a lamp's own face where it stands in the picture", () => {
    const spotted = layer((i) =>
      Math.floor(i / 3) % W < 5 && Math.floor(i / 3 / W) < 5 ? i % 2 : 0,
    );
    const mean = small(spotted, W, H);
    expect(mean[0]! + mean[1]! + mean[2]!).toBeGreaterThan(1.3);
    expect(mean[3]).toBe(0);
    const lamp: Layer = {
      ...layer(() => 1),
      seen: Uint32Array.from([0]),
      glow: Float32Array.from([101]),
      cover: Float32Array.from([1]),
    };
    expect(small(lamp, W, H)[0]).toBeCloseTo((24 + 101) / 25, 4);
  });
  it("adds up in the order the units came in, by their gains", () => {
    const pieces = [
      piece("key", 0.4, [1, 0.5, 0]),
      piece("fill", 0.1),
      piece("edge", 0.2, [2, 2, 2]),
    ];
    const first = (mode: "alone" | "sum" | "without", at: number) =>
      [...frameOfStrip(pieces, at, mode).slice(0, 3)].map((v) => +v.toFixed(4));
    expect(first("alone", 0)).toEqual([0.4, 0.2, 0]);
    expect(first("sum", 1)).toEqual([0.5, 0.3, 0.1]);
    expect(first("sum", 2)).toEqual([0.9, 0.7, 0.5]);
    expect(first("without", 2)).toEqual(first("sum", 1));
  });
  it("tells what a unit adds in quarters of four stops", () => {
    const pieces = [piece("key", 0.3), piece("fill", 0.1), piece("off", 0, [0, 0, 0])];
    expect(adds(pieces, 0)[7]).toBeCloseTo(2 / 4, 5);
    expect(adds(pieces, 1)[7]).toBeCloseTo(Math.log2(4 / 3) / 4, 5);
    expect(adds(pieces, 2)[7]).toBe(0);
    expect(adds([piece("key", 0.3)], 0)[7]).toBe(1);
  });
});
