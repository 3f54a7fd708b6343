import { describe, expect, it } from "vitest";
import { Defocus } from "./defocus";

const W = 128,
  H = 64;
const picture = (f: (x: number, y: number) => number) =>
  Float32Array.from({ length: W * H * 3 }, (_, i) =>
    f(Math.floor(i / 3) % W, Math.floor(i / 3 / W)),
  );
const widths = (f: (x: number, y: number) => number) =>
  Float32Array.from({ length: W * H }, (_, i) => f(i % W, Math.floor(i / W)));
const at = (p: Float32Array, x: number, y: number) => p[(y * W + x) * 3]!;

describe("the lens drawn", () => {
  it("leaves what is sharp as it is", () => {
    const lens = new Defocus(W, H),
      from = picture((x, y) => (x * 7 + y * 3) % 11);
    lens.take(widths(() => 1));
    expect(lens.idle).toBe(true);
    expect(lens.apply(from)).toEqual(from);
  });
  it("keeps an even field even and its light", () => {
    const lens = new Defocus(W, H);
    lens.take(widths(() => 16));
    const out = lens.apply(picture(() => 0.5));
    for (const v of out) expect(v).toBeCloseTo(0.5, 5);
  });
  it("spreads a line by the deviation of a disc of its width", () => {
    for (const wide of [8, 16, 32]) {
      const lens = new Defocus(W, H);
      lens.take(widths(() => wide));
      const out = lens.apply(picture((x) => (x === 64 ? 1 : 0)));
      let sum = 0,
        mean = 0,
        square = 0;
      for (let x = 0; x < W; x++) {
        const v = at(out, x, 32);
        sum += v;
        mean += v * x;
        square += v * x * x;
      }
      mean /= sum;
      expect(sum).toBeCloseTo(1, 1);
      expect(Math.sqrt(square / sum - mean * mean) / (wide / 4)).toBeGreaterThan(0.75);
      expect(Math.sqrt(square / sum - mean * mean) / (wide / 4)).toBeLessThan(1.3);
    }
  });
  it("sends nothing of a sharp face into the wall behind it", () => {
    const lens = new Defocus(W, H),
      face = (x: number) => x < 48;
    lens.take(widths((x) => (face(x) ? 0 : 16)));
    const out = lens.apply(picture((x) => (face(x) ? 5 : 1)));
    expect(at(out, 47, 32)).toBe(5);
    for (let x = 49; x < W; x++) expect(at(out, x, 32)).toBeCloseTo(1, 4);
  });
});
