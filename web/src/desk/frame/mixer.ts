/** The frame: layers times gains, summed, looked up in the curve. Nothing else is computed here. */
import type { Layer } from "./layers";
import { inked, reader, type Octaves, type Palette } from "../../parts/signal";

export type Part = { layer: Layer; gain: [number, number, number] };

const same = (a: Part | undefined, b: Part | undefined) =>
  !!a && !!b && a.layer === b.layer && a.gain.every((g, k) => g === b.gain[k]);

export class Mixer {
  /** Linear signal of every pixel, as last mixed. */
  readonly sum: Float32Array;
  /** What is shown of it: the same, or the same through the lens. */
  view: Float32Array;
  private readonly rest: Float32Array;
  private restWithout = -1;
  private before: Part[] = [];

  constructor(
    readonly width: number,
    readonly height: number,
    private readonly octaves: Octaves,
  ) {
    this.sum = new Float32Array(width * height * 3);
    this.view = this.sum;
    this.rest = new Float32Array(width * height * 3);
  }

  /**
   * Sum the layers; says whether the sum is another than before. When one part alone changes again
   * and again, the sum of the others is kept.
   */
  mix(parts: Part[]) {
    const changed = parts.flatMap((p, k) => (same(p, this.before[k]) ? [] : [k]));
    if (parts.length && parts.length === this.before.length && !changed.length) return false;
    const lone = parts.length === this.before.length && changed.length === 1 ? changed[0]! : -1;
    if (lone < 0) {
      if (changed.length || parts.length !== this.before.length) this.restWithout = -1;
      this.add(this.sum, null, parts);
    } else {
      if (this.restWithout !== lone)
        this.add(
          this.rest,
          null,
          parts.filter((_, k) => k !== lone),
        );
      this.restWithout = lone;
      this.add(this.sum, this.rest, [parts[lone]!]);
    }
    this.before = parts;
    if (parts.some(({ layer }) => layer.seen.length)) this.placeUnits(parts);
    return true;
  }

  private add(to: Float32Array, start: Float32Array | null, parts: Part[]) {
    const lit = parts.filter(({ gain }) => gain[0] + gain[1] + gain[2] > 0);
    if (start) {
      if (!lit.length) return to.set(start);
    } else if (!lit.length) return to.fill(0);
    lit.forEach(({ layer: { pixels }, gain: [r, g, b] }, k) => {
      const base = k === 0 ? start : to;
      const n = to.length;
      if (base)
        for (let i = 0; i < n; i += 3) {
          to[i] = base[i]! + pixels[i]! * r;
          to[i + 1] = base[i + 1]! + pixels[i + 1]! * g;
          to[i + 2] = base[i + 2]! + pixels[i + 2]! * b;
        }
      else
        for (let i = 0; i < n; i += 3) {
          to[i] = pixels[i]! * r;
          to[i + 1] = pixels[i + 1]! * g;
          to[i + 2] = pixels[i + 2]! * b;
        }
    });
  }

  /** Units that stand in the frame hide what is behind them and glow. */
  private placeUnits(parts: Part[]) {
    for (const {
      layer: { seen, cover },
    } of parts) {
      seen.forEach((pixel, k) => {
        const open = 1 - cover[k]!;
        for (let c = 0; c < 3; c++) this.sum[pixel * 3 + c]! *= open;
      });
    }
    for (const {
      layer: { seen, glow },
      gain,
    } of parts) {
      seen.forEach((pixel, k) => {
        for (let c = 0; c < 3; c++) this.sum[pixel * 3 + c]! += glow[k]! * gain[c]!;
      });
    }
  }

  /**
   * Add what photons and reading add, from the deviations of the table; the picture is then no
   * longer the layers' sum.
   */
  addNoise(deviation: Float32Array) {
    const sum = this.view,
      { shift, base } = reader(this.octaves),
      top = deviation.length - 1,
      bits = new Int32Array(sum.buffer);
    for (let i = 0, g = (Math.random() * GRAIN.length) | 0; i < sum.length; i++) {
      const at = (bits[i]! >> shift) - base;
      sum[i]! += deviation[at < 0 ? 0 : at > top ? top : at]! * GRAIN[g]!;
      g = g + 1 === GRAIN.length ? 0 : g + 1;
    }
    this.restWithout = -1;
    this.before = [];
  }

  /** Into RGBA pixels, each channel by a table of display codes. */
  develop(out: Uint32Array, curve: Uint8Array) {
    const sum = this.view,
      { shift, base } = reader(this.octaves),
      top = curve.length - 1,
      bits = new Int32Array(sum.buffer);
    for (let i = 0, p = 0; i < sum.length; i += 3, p++) {
      const r = (bits[i]! >> shift) - base,
        g = (bits[i + 1]! >> shift) - base,
        b = (bits[i + 2]! >> shift) - base;
      out[p] =
        0xff000000 |
        (curve[b < 0 ? 0 : b > top ? top : b]! << 16) |
        (curve[g < 0 ? 0 : g > top ? top : g]! << 8) |
        curve[r < 0 ? 0 : r > top ? top : r]!;
    }
  }

  /** Into RGBA pixels by luminance alone: the banded picture, patterns at its two ends. */
  band(out: Uint32Array, { colour, ink, pattern }: Palette) {
    const sum = this.view,
      { shift, base } = reader(this.octaves),
      top = colour.length - 1,
      width = this.width;
    const one = new Float32Array(1),
      bits = new Int32Array(one.buffer);
    for (let i = 0, p = 0; i < sum.length; i += 3, p++) {
      one[0] = 0.2126 * sum[i]! + 0.7152 * sum[i + 1]! + 0.0722 * sum[i + 2]!;
      const step = (bits[0]! >> shift) - base,
        at = step < 0 ? 0 : step > top ? top : step;
      const over = pattern[at]! && inked(pattern[at]!, p % width, Math.floor(p / width));
      out[p] = over ? ink[at]! : colour[at]!;
    }
  }
}

/** Normal deviates, drawn once: a grain that begins at another place every frame. */
const GRAIN = Float32Array.from(
  { length: 65_521 },
  () => Math.sqrt(-2 * Math.log(1 - Math.random())) * Math.cos(2 * Math.PI * Math.random()),
);
