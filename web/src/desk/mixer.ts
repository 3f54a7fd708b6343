/** The frame: layers times gains, summed, looked up in the curve. Nothing else is computed here. */
import type { Layer } from "./layers";

export type Part = { layer: Layer; gain: [number, number, number] };

const same = (a: Part | undefined, b: Part | undefined) =>
  !!a && !!b && a.layer === b.layer && a.gain.every((g, k) => g === b.gain[k]);

export class Mixer {
  private readonly sum: Float32Array;
  private readonly rest: Float32Array;
  private restWithout = -1;
  private before: Part[] = [];

  constructor(readonly width: number, readonly height: number, private readonly curve: Uint8Array) {
    this.sum = new Float32Array(width * height * 3);
    this.rest = new Float32Array(width * height * 3);
  }

  /** Mix into RGBA pixels. When one part alone changes again and again, the sum of the others is kept. */
  mix(parts: Part[], out: Uint32Array) {
    const changed = parts.flatMap((p, k) => (same(p, this.before[k]) ? [] : [k]));
    const lone = parts.length === this.before.length && changed.length === 1 ? changed[0]! : -1;
    if (lone < 0) {
      if (changed.length || parts.length !== this.before.length) this.restWithout = -1;
      this.add(this.sum, null, parts);
    } else {
      if (this.restWithout !== lone) this.add(this.rest, null, parts.filter((_, k) => k !== lone));
      this.restWithout = lone;
      this.add(this.sum, this.rest, [parts[lone]!]);
    }
    this.before = parts;
    if (parts.some(({ layer }) => layer.seen.length)) this.placeUnits(parts);
    this.develop(out);
  }

  private add(to: Float32Array, start: Float32Array | null, parts: Part[]) {
    const lit = parts.filter(({ gain }) => gain[0] + gain[1] + gain[2] > 0);
    if (start) { if (!lit.length) return to.set(start); } else if (!lit.length) return to.fill(0);
    lit.forEach(({ layer: { pixels }, gain: [r, g, b] }, k) => {
      const base = k === 0 ? start : to;
      const n = to.length;
      if (base) for (let i = 0; i < n; i += 3) { to[i] = base[i]! + pixels[i]! * r; to[i + 1] = base[i + 1]! + pixels[i + 1]! * g; to[i + 2] = base[i + 2]! + pixels[i + 2]! * b; }
      else for (let i = 0; i < n; i += 3) { to[i] = pixels[i]! * r; to[i + 1] = pixels[i + 1]! * g; to[i + 2] = pixels[i + 2]! * b; }
    });
  }

  /** Units that stand in the frame hide what is behind them and glow. */
  private placeUnits(parts: Part[]) {
    for (const { layer: { seen, cover } } of parts) {
      seen.forEach((pixel, k) => { const open = 1 - cover[k]!; for (let c = 0; c < 3; c++) this.sum[pixel * 3 + c]! *= open; });
    }
    for (const { layer: { seen, glow }, gain } of parts) {
      seen.forEach((pixel, k) => { for (let c = 0; c < 3; c++) this.sum[pixel * 3 + c]! += glow[k]! * gain[c]!; });
    }
  }

  private develop(out: Uint32Array) {
    const { sum, curve } = this, top = curve.length - 1;
    for (let i = 0, p = 0; i < sum.length; i += 3, p++) {
      const r = sum[i]! * top + 0.5, g = sum[i + 1]! * top + 0.5, b = sum[i + 2]! * top + 0.5;
      out[p] = 0xff000000 | (curve[b < top ? b | 0 : top]! << 16) | (curve[g < top ? g | 0 : top]! << 8) | curve[r < top ? r | 0 : top]!;
    }
  }
}
