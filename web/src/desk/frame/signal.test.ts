import { expect, test } from "vitest";
import {
  histogram,
  indexOf,
  inked,
  lost,
  palette,
  signalAt,
  spot,
  waveform,
  type Linear,
} from "./signal";

const OCTAVES = [-16, 8, 256] as const;
const SIZE = 24 * 256;
/** A curve of code = root of the signal, at 16 bits. */
const table = Uint16Array.from({ length: SIZE }, (_, k) =>
  Math.min(65535, Math.round(65535 * Math.sqrt(signalAt(k, OCTAVES)))),
);

/** A chart of eleven grey steps, a stop apart. */
const steps = Array.from({ length: 11 }, (_, k) => 2 ** (k - 10));
const chart: Linear = {
  width: 22,
  height: 4,
  linear: Float32Array.from(
    { length: 22 * 4 * 3 },
    (_, i) => steps[Math.floor((Math.floor(i / 3) % 22) / 2)]!,
  ),
};

test("the bits of a float find its step", () => {
  for (const x of [1e-4, 0.018, 0.18, 0.999, 1, 3.77, 200])
    expect(signalAt(indexOf(x, OCTAVES), OCTAVES) / x).toBeCloseTo(1, 2);
  expect(indexOf(0, OCTAVES)).toBe(0);
  expect(indexOf(-1, OCTAVES)).toBe(0);
  expect(indexOf(1e9, OCTAVES)).toBe(SIZE - 1);
});

test("the waveform of a stepped chart stands where the curve says, all of it", () => {
  const trace = waveform(chart, table, OCTAVES, "luma", 22, 256);
  for (let x = 0; x < 22; x++) {
    const rows = [...trace.counts[0]!.subarray(x * 256, (x + 1) * 256)].flatMap((n, y) =>
      n ? [[y, n]] : [],
    );
    expect(rows).toHaveLength(1);
    expect(rows[0]![1]).toBe(4);
    expect(Math.abs(rows[0]![0]! - 255 * Math.sqrt(steps[Math.floor(x / 2)]!))).toBeLessThan(0.8);
  }
  expect([...histogram(trace)].reduce((a, b) => a + b)).toBe(88);
});

test("three channels are traced apart", () => {
  const red: Linear = {
    width: 2,
    height: 2,
    linear: Float32Array.from({ length: 12 }, (_, i) => [1, 0.25, 0][i % 3]!),
  };
  const trace = waveform(red, table, OCTAVES, "rgb", 2, 256);
  expect(trace.counts.map((c) => c.findIndex((n) => n > 0))).toEqual(
    [255, 128, 1].map((v, k) => (k === 2 ? expect.any(Number) : v)) as never,
  );
  expect(trace.counts[2]!.findIndex((n) => n > 0)).toBeLessThan(2);
});

type Rgb = [number, number, number];
const PLAIN = { pattern: "", ink: null };

test("bands paint by stops about middle grey, and leave grey what has none", () => {
  const bands = [
    { key: "low", name: "low", low: -99, colour: [1, 2, 3] as Rgb, ...PLAIN },
    { key: "mid", name: "mid", low: -1, colour: null, ...PLAIN },
    {
      key: "top",
      name: "top",
      low: 2,
      colour: [9, 8, 7] as Rgb,
      pattern: "hatch",
      ink: [4, 5, 6] as Rgb,
    },
  ];
  const paint = palette(
    bands,
    OCTAVES,
    table.map((v) => v >> 8),
    0.18,
  );
  const at = (stops: number) => paint.colour[indexOf(0.18 * 2 ** stops, OCTAVES)]!;
  expect(at(-3)).toBe(0xff030201);
  expect(at(-1.02)).toBe(0xff030201);
  expect(at(-0.98) & 255).toBe((at(-0.98) >> 8) & 255);
  expect(at(2.02)).toBe(0xff070809);
  // The ends are told without hue: ink lies on some of their pixels and not on others.
  const top = indexOf(0.18 * 2 ** 2.02, OCTAVES);
  expect([paint.pattern[top], paint.ink[top]]).toEqual([2, 0xff060504]);
  const row = Array.from({ length: 8 }, (_, x) => inked(2, x, 0));
  expect(row.filter(Boolean)).toHaveLength(3);
  expect(inked(0, 0, 0)).toBe(false);
});

test("what clips and what sinks is counted", () => {
  const found = lost(chart, 0.9, 2 ** -8.5);
  expect(found.high).toBeCloseTo(1 / 11, 6);
  expect(found.low).toBeCloseTo(2 / 11, 6);
});

test("a spot is the mean about its place", () => {
  const plain: Linear = {
    width: 100,
    height: 50,
    linear: Float32Array.from({ length: 15_000 }, (_, i) =>
      Math.floor(i / 3) % 100 < 50 ? 0.1 : 0.4,
    ),
  };
  expect(spot(plain, [0.2, 0.5]).luminance).toBeCloseTo(0.1, 6);
  expect(spot(plain, [0.8, 0.5]).luminance / spot(plain, [0.2, 0.5]).luminance).toBeCloseTo(4, 5);
});
