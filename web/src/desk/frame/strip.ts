/**
 * Small frames of each unit's part: what it gives alone, the sum as it is built, what it adds. No
 * rule of light is known here but that light adds.
 */
import type { StripMode } from "../../app/preferences";
import type { Layer } from "./layers";
import { reader, type Octaves } from "../../parts/signal";

export const SMALL: readonly [number, number] = [128, 72];

export type Small = Float32Array;

const made = new WeakMap<Layer, Small>();

/** A layer at the strip's size, each pixel the mean of those it stands for. */
export function small(layer: Layer, width: number, height: number): Small {
  const kept = made.get(layer);
  if (kept) return kept;
  const [w, h] = SMALL,
    out = new Float32Array(w * h * 3),
    bx = width / w,
    by = height / h;
  const pixels = Float32Array.from(layer.pixels);
  layer.seen.forEach((pixel, k) => {
    for (let c = 0; c < 3; c++) pixels[pixel * 3 + c] = layer.glow[k]!;
  });
  for (let y = 0, o = 0; y < h; y++) {
    for (let x = 0; x < w; x++, o += 3) {
      let n = 0;
      for (let v = Math.floor(y * by); v < Math.floor((y + 1) * by); v++) {
        for (let u = Math.floor(x * bx); u < Math.floor((x + 1) * bx); u++, n++) {
          const i = (v * width + u) * 3;
          out[o] = out[o]! + pixels[i]!;
          out[o + 1] = out[o + 1]! + pixels[i + 1]!;
          out[o + 2] = out[o + 2]! + pixels[i + 2]!;
        }
      }
      out[o] = out[o]! / n;
      out[o + 1] = out[o + 1]! / n;
      out[o + 2] = out[o + 2]! / n;
    }
  }
  made.set(layer, out);
  return out;
}

export type Piece = { id: string; small: Small; gain: [number, number, number] };

/** Linear signal of one frame of the strip. */
export function frameOfStrip(pieces: Piece[], at: number, mode: StripMode): Float32Array {
  const out = new Float32Array(SMALL[0] * SMALL[1] * 3);
  pieces.forEach(({ small: from, gain }, k) => {
    if (
      mode === "alone" ? k !== at : mode === "sum" ? k > at : mode === "without" ? k === at : false
    )
      return;
    for (let i = 0; i < out.length; i++) out[i] = out[i]! + from[i]! * gain[i % 3]!;
  });
  return out;
}

/** Stops that a unit adds at each pixel, 0 to 4, as a part of four. */
export function adds(pieces: Piece[], at: number): Float32Array {
  const all = frameOfStrip(pieces, -1, "adds"),
    rest = frameOfStrip(pieces, at, "without");
  const out = new Float32Array(SMALL[0] * SMALL[1]);
  for (let p = 0; p < out.length; p++) {
    const with_ = 0.2126 * all[p * 3]! + 0.7152 * all[p * 3 + 1]! + 0.0722 * all[p * 3 + 2]!;
    const less = 0.2126 * rest[p * 3]! + 0.7152 * rest[p * 3 + 1]! + 0.0722 * rest[p * 3 + 2]!;
    out[p] = with_ <= 1e-7 ? 0 : Math.min(4, Math.log2(with_ / Math.max(less, with_ / 16))) / 4;
  }
  return out;
}

export function developSmall(
  linear: Float32Array,
  curve: Uint8Array,
  octaves: Octaves,
  out: Uint32Array,
) {
  const { shift, base } = reader(octaves),
    top = curve.length - 1,
    bits = new Int32Array(linear.buffer);
  const code = (i: number) => {
    const at = (bits[i]! >> shift) - base;
    return curve[at < 0 ? 0 : at > top ? top : at]!;
  };
  for (let p = 0, i = 0; p < out.length; p++, i += 3)
    out[p] = 0xff000000 | (code(i + 2) << 16) | (code(i + 1) << 8) | code(i);
}
