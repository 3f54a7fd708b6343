import { expect, test } from "vitest";
import { decodeLayer, type Layer } from "./layers";
import { Mixer, type Part } from "./mixer";
import { signalAt } from "../../parts/signal";

const OCTAVES = [-16, 8, 256] as const;
const curve = Uint8Array.from({ length: 24 * 256 }, (_, k) =>
  Math.min(255, Math.round(255 * signalAt(k, OCTAVES))),
);
const none = {
  seen: new Uint32Array(0),
  glow: new Float32Array(0),
  cover: new Float32Array(0),
  full: true,
};
const layer = (...values: number[]): Layer => ({ pixels: Float32Array.from(values), ...none });
const red = (out: Uint32Array) => [...out].map((p) => p & 255);

test("light adds, and a lone change reuses the rest", () => {
  const mixer = new Mixer(2, 1, OCTAVES),
    out = new Uint32Array(2);
  const a = layer(0.2, 0.2, 0.2, 0.4, 0.4, 0.4),
    b = layer(0.1, 0.1, 0.1, 0, 0, 0);
  const parts = (g: number): Part[] => [
    { layer: a, gain: [1, 1, 1] },
    { layer: b, gain: [g, g, g] },
  ];
  mixer.mix(parts(1));
  mixer.develop(out, curve);
  expect(red(out)).toEqual([77, 102]);
  for (const g of [2, 3]) mixer.mix(parts(g));
  mixer.develop(out, curve);
  expect(red(out)).toEqual([128, 102]);
  mixer.mix(parts(0));
  mixer.develop(out, curve);
  expect(red(out)).toEqual([51, 102]);
});

test("over the clip stays white, a unit in the frame hides and glows", () => {
  const mixer = new Mixer(2, 1, OCTAVES),
    out = new Uint32Array(2);
  const lamp: Layer = {
    pixels: Float32Array.from([9, 9, 9, 0.5, 0.5, 0.5]),
    seen: Uint32Array.of(1),
    glow: Float32Array.of(0.2),
    cover: Float32Array.of(1),
    full: true,
  };
  mixer.mix([{ layer: lamp, gain: [1, 1, 1] }]);
  mixer.develop(out, curve);
  expect(red(out)).toEqual([255, 51]);
});

test("decodes shared-exponent pixels and the tail", () => {
  const bytes = new ArrayBuffer(16 + 8 + 12),
    view = new DataView(bytes);
  view.setUint16(4, 2, true);
  view.setUint16(6, 1, true);
  view.setFloat32(8, 1, true);
  view.setUint32(12, 1, true);
  // exponent 16 - 15 - 9 = -8: mantissa 256 is 1.0
  view.setUint32(16, ((16 << 27) | (128 << 18) | (64 << 9) | 256) >>> 0, true);
  view.setUint32(24, 1, true);
  view.setFloat32(28, 7, true);
  view.setFloat32(32, 0.5, true);
  const got = decodeLayer(bytes, 2, 1);
  expect([...got.pixels]).toEqual([1, 0.25, 0.5, 0, 0, 0]);
  expect([got.seen[0], got.glow[0], got.cover[0]]).toEqual([1, 7, 0.5]);
});
