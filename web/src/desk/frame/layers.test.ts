import { expect, test } from "vitest";
import written from "./layer-case.json";
import { decodeLayer } from "./layers";

const bytes = () => Uint8Array.from(atob(written.bytes), (c) => c.charCodeAt(0)).buffer;
const near = (got: ArrayLike<number>, wanted: number[], part = 1e-6) =>
  wanted.forEach((v, k) =>
    expect(Math.abs(got[k]! - v)).toBeLessThanOrEqual(part * Math.max(Math.abs(v), 1e-9)),
  );

test("a layer is read as the core reads it", () => {
  const layer = decodeLayer(bytes(), written.width, written.height);
  expect(layer.full).toBe(true);
  near(layer.pixels, written.pixels);
  expect([...layer.seen]).toEqual(written.seen);
  near(layer.glow, written.glow);
  near(layer.cover, written.cover);
});

test("a coarse layer is brought to the full size without light made or lost", () => {
  const by = 4,
    width = written.width * by,
    height = written.height * by;
  const layer = decodeLayer(bytes(), width, height);
  expect(layer.full).toBe(false);
  expect(layer.pixels).toHaveLength(width * height * 3);
  const mean = (values: ArrayLike<number>, channel: number) =>
    Array.from(values)
      .filter((_, k) => k % 3 === channel)
      .reduce((s, v) => s + v, 0) /
    (values.length / 3);
  // Pixels at the border count a little more: half a coarse pixel has no neighbour to lean on.
  for (const channel of [0, 1, 2])
    expect(mean(layer.pixels, channel) / mean(written.pixels, channel)).toBeCloseTo(1, 1);
});

test("between coarse pixels light runs straight from the one to the other", () => {
  const by = 8,
    width = written.width * by,
    height = written.height * by;
  const { pixels } = decodeLayer(bytes(), width, height);
  const at = (x: number, y: number) => pixels[(y * width + x) * 3]!;
  const row = by / 2; // within the first coarse row
  for (let x = by / 2; x < width - by - by / 2; x++) {
    const left = Math.floor((x + 0.5) / by - 0.5),
      part = (x + 0.5) / by - 0.5 - left;
    const a = written.pixels[left * 3]!,
      b = written.pixels[(left + 1) * 3]!;
    // A little of the row below is in it.
    const down = (row + 0.5) / by - 0.5,
      c = written.pixels[(written.width + left) * 3]!,
      d = written.pixels[(written.width + left + 1) * 3]!;
    expect(at(x, row)).toBeCloseTo(
      (a + (b - a) * part) * (1 - down) + (c + (d - c) * part) * down,
      3,
    );
  }
  expect(at(0, 0)).toBeCloseTo(written.pixels[0]!, 5);
});

test("a unit seen in a coarse frame covers the same part of the full one", () => {
  const by = 4,
    width = written.width * by,
    height = written.height * by;
  const layer = decodeLayer(bytes(), width, height);
  expect(layer.seen).toHaveLength(written.seen.length * by * by);
  const first = [...layer.seen]
    .filter((_, k) => layer.glow[k]! > 100)
    .map((p) => [p % width, Math.floor(p / width)]);
  expect(Math.min(...first.map(([x]) => x!))).toBe(4 * by);
  expect(Math.max(...first.map(([, y]) => y!))).toBe(by - 1);
});
