/** Layers from the server: fetched coarse first, decoded, kept by their content's hash. */
import { fetchLayer, type Mix, type Problem } from "../../app/api";
import { setDesk } from "../store";

export type Layer = {
  /** Linear red, green, blue [cd/m^2] of every pixel at the full size. */
  pixels: Float32Array;
  /** Pixels in which the unit itself stands in the frame, its glow there and how much it hides. */
  seen: Uint32Array;
  glow: Float32Array;
  cover: Float32Array;
  full: boolean;
};

const KEEP = 60;

/** Decode a layer (moth.transport.encoding) and bring it to the full size. */
export function decodeLayer(buffer: ArrayBuffer, width: number, height: number): Layer {
  const head = new DataView(buffer);
  const [w, h, scale, count] = [
    head.getUint16(4, true),
    head.getUint16(6, true),
    head.getFloat32(8, true),
    head.getUint32(12, true),
  ];
  const packed = new Uint32Array(buffer, 16, w * h);
  const power = Float32Array.from({ length: 32 }, (_, e) => scale * 2 ** (e - 24));
  const pixels = new Float32Array(w * h * 3);
  for (let i = 0, o = 0; i < packed.length; i++, o += 3) {
    const p = packed[i]!,
      unit = power[p >>> 27]!;
    pixels[o] = (p & 511) * unit;
    pixels[o + 1] = ((p >>> 9) & 511) * unit;
    pixels[o + 2] = ((p >>> 18) & 511) * unit;
  }
  const tail = new DataView(buffer, 16 + w * h * 4);
  const seen = new Uint32Array(count),
    glow = new Float32Array(count),
    cover = new Float32Array(count);
  for (let k = 0; k < count; k++) {
    seen[k] = tail.getUint32(k * 12, true);
    glow[k] = tail.getFloat32(k * 12 + 4, true);
    cover[k] = tail.getFloat32(k * 12 + 8, true);
  }
  if (w === width && h === height) return { pixels, seen, glow, cover, full: true };
  return {
    pixels: enlarge(pixels, w, h, width, height),
    ...enlargeSeen(seen, glow, cover, w, h, width, height),
    full: false,
  };
}

/** Bilinear, across and then down: most of a coarse frame's way to the screen was spent here. */
function enlarge(from: Float32Array, w: number, h: number, width: number, height: number) {
  const wide = new Float32Array(width * h * 3),
    to = new Float32Array(width * height * 3);
  for (let x = 0; x < width; x++) {
    const u = Math.min(Math.max(((x + 0.5) * w) / width - 0.5, 0), w - 1.001),
      x0 = Math.floor(u),
      part = u - x0;
    for (let y = 0, a = x0 * 3, o = x * 3; y < h; y++, a += w * 3, o += width * 3) {
      wide[o] = from[a]! + part * (from[a + 3]! - from[a]!);
      wide[o + 1] = from[a + 1]! + part * (from[a + 4]! - from[a + 1]!);
      wide[o + 2] = from[a + 2]! + part * (from[a + 5]! - from[a + 2]!);
    }
  }
  const row = width * 3;
  for (let y = 0, o = 0; y < height; y++) {
    const v = Math.min(Math.max(((y + 0.5) * h) / height - 0.5, 0), h - 1.001),
      y0 = Math.floor(v),
      part = v - y0;
    for (let a = y0 * row, end = a + row; a < end; a++)
      to[o++] = wide[a]! + part * (wide[a + row]! - wide[a]!);
  }
  return to;
}

function enlargeSeen(
  seen: Uint32Array,
  glow: Float32Array,
  cover: Float32Array,
  w: number,
  h: number,
  width: number,
  height: number,
) {
  const at: number[] = [],
    light: number[] = [],
    hide: number[] = [];
  const fx = width / w,
    fy = height / h;
  seen.forEach((pixel, k) => {
    const x = pixel % w,
      y = Math.floor(pixel / w);
    for (let Y = Math.round(y * fy); Y < Math.round((y + 1) * fy); Y++) {
      for (let X = Math.round(x * fx); X < Math.round((x + 1) * fx); X++) {
        at.push(Y * width + X);
        light.push(glow[k]!);
        hide.push(cover[k]!);
      }
    }
  });
  return {
    seen: Uint32Array.from(at),
    glow: Float32Array.from(light),
    cover: Float32Array.from(hide),
  };
}

/** What each unit shows now: its newest layer, the one before it until that arrives. */
export class LayerShelf {
  private readonly byKey = new Map<string, Layer>();
  private readonly shown = new Map<string, Layer>();
  private stop = new AbortController();
  private wanted = "";

  constructor(
    private readonly setup: number,
    private readonly size: readonly [number, number],
    private readonly changed: () => void,
    private readonly progress: (left: number, of: number) => void,
  ) {}

  of(unit: string) {
    return this.shown.get(unit);
  }

  close() {
    this.stop.abort();
  }

  /** Give up what is still on its way: the frame stays as far as it has come. */
  giveUp() {
    this.stop.abort();
    this.progress(0, 0);
  }

  /** Follow a mix: show what is here, fetch what is not; an older fetch is given up. */
  follow(keys: Mix["layers"]) {
    const wanted = JSON.stringify(keys);
    if (wanted === this.wanted) return;
    this.wanted = wanted;
    this.stop.abort();
    this.stop = new AbortController();
    for (const unit of [...this.shown.keys()]) if (!keys[unit]) this.shown.delete(unit);
    const missing = Object.entries(keys).filter(([unit, { coarse, full }]) => {
      const layer = this.byKey.get(full) ?? this.byKey.get(coarse);
      if (layer) this.shown.set(unit, layer);
      return !this.byKey.has(full);
    });
    this.changed();
    void this.fetchAll(missing, this.stop.signal);
  }

  private async fetchAll(missing: [string, Mix["layers"][string]][], signal: AbortSignal) {
    let left = missing.length;
    this.progress(left, missing.length);
    try {
      await Promise.all(
        missing.map(([unit, { coarse }]) =>
          this.byKey.has(coarse) ? null : this.fetchOne(unit, coarse, signal),
        ),
      );
      await Promise.all(
        missing.map(async ([unit, { full }]) => {
          await this.fetchOne(unit, full, signal);
          this.progress(--left, missing.length);
        }),
      );
      performance.mark("frame-full");
    } catch (error) {
      const { status, message } = error as Problem;
      if (signal.aborted) return;
      // Whatever the end, nothing is on its way any more: what waits for the frame must not wait
      // for ever.
      this.progress(0, 0);
      if (status === 410) return;
      this.wanted = "";
      if (status !== 0) setDesk({ fault: { text: message, path: "" } });
    }
  }

  private async fetchOne(unit: string, key: string, signal: AbortSignal) {
    const layer = decodeLayer(await fetchLayer(this.setup, key, signal), ...this.size);
    if (signal.aborted) return;
    performance.mark(layer.full ? "layer-full" : "layer-coarse");
    this.byKey.set(key, layer);
    for (const old of this.byKey.keys()) {
      if (this.byKey.size <= KEEP) break;
      this.byKey.delete(old);
    }
    this.shown.set(unit, layer);
    this.changed();
  }
}
