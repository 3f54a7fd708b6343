import { expect, test } from "vitest";
import {
  histogram,
  indexOf,
  inked,
  lost,
  paintBands,
  palette,
  signalAt,
  spot,
  undone,
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

test("a monitor's codes are undone to the signal that they stand for", () => {
  // A display of code = 255 root(signal), clipped at one.
  const display = Array.from({ length: SIZE }, (_, k) =>
    Math.min(255, Math.round(255 * Math.sqrt(signalAt(k, OCTAVES)))),
  );
  const codes = [3, 40, 108, 180, 254];
  const rgba = Uint8ClampedArray.from(codes.flatMap((c) => [c, c, c, 255]));
  const { linear } = undone(rgba, [codes.length, 1], display, OCTAVES);
  codes.forEach((code, k) => {
    const low = ((code - 0.5) / 255) ** 2,
      high = ((code + 0.5) / 255) ** 2;
    expect(linear[3 * k]).toBeGreaterThan(0.99 * low);
    expect(linear[3 * k]).toBeLessThan(1.01 * high);
  });
  // What clips is told as far over, not as one.
  const white = Uint8ClampedArray.from([255, 255, 255, 255]);
  expect(undone(white, [1, 1], display, OCTAVES).linear[0]).toBeGreaterThan(2);
});

test("a picture is painted by the band that each pixel's stops are in", () => {
  const display = Array.from({ length: SIZE }, (_, k) =>
    Math.min(255, Math.round(255 * Math.sqrt(signalAt(k, OCTAVES)))),
  );
  const bands = [
    { key: "low", name: "low", low: -99, colour: [10, 20, 30], pattern: "", ink: null },
    { key: "mid", name: "mid", low: -1, colour: null, pattern: "", ink: null },
    { key: "high", name: "high", low: 1, colour: [200, 100, 0], pattern: "", ink: null },
  ] as never;
  const grey = 0.18;
  const code = (stops: number) => Math.round(255 * Math.sqrt(grey * 2 ** stops));
  const rgba = Uint8ClampedArray.from([-2, 0, 2].flatMap((s) => [...Array(3).fill(code(s)), 255]));
  const frame = undone(rgba, [3, 1], display, OCTAVES);
  paintBands(rgba, frame, palette(bands, OCTAVES, display, grey), OCTAVES);
  expect([...rgba.slice(0, 3)]).toEqual([10, 20, 30]);
  expect(Math.abs(rgba[4]! - code(0))).toBeLessThan(2);
  expect([...rgba.slice(8, 11)]).toEqual([200, 100, 0]);
});
