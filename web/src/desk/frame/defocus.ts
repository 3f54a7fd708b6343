/**
 * The lens drawn: what lies off the focus is spread by the width that the server works out for each
 * pixel. Outlines of what is sharp stay sharp.
 */

/** Widths [px] that blurred pictures are made for; those between are mixed from two. */
const WIDTHS = [4, 8, 16, 32, 64];
/** Below this width [px] a point still looks sharp. */
const SHARP = 2.5;

export class Defocus {
  private readonly w: number;
  private readonly h: number;
  private readonly half: Float32Array;
  private readonly spread: Float32Array;
  private readonly line: Float32Array;
  private readonly out: Float32Array;
  private widths: Float32Array | null = null;
  private halfWidths: Float32Array;
  private most = 0;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    [this.w, this.h] = [width >> 1, height >> 1];
    this.half = new Float32Array(this.w * this.h * 3);
    this.spread = new Float32Array(this.w * this.h * 4);
    this.line = new Float32Array(Math.max(this.w, this.h) * 4);
    this.out = new Float32Array(width * height * 3);
    this.halfWidths = new Float32Array(this.w * this.h);
  }

  /** Take the width of every pixel's spot [px]; null draws all sharp. */
  take(widths: Float32Array | null) {
    this.widths = widths;
    this.most = 0;
    if (!widths) return;
    for (let y = 0, o = 0; y < this.h; y++)
      for (let x = 0; x < this.w; x++, o++)
        this.halfWidths[o] = widths[2 * y * this.width + 2 * x]!;
    for (const v of widths) if (v > this.most) this.most = v;
  }

  get idle() {
    return !this.widths || this.most < SHARP;
  }

  /** A linear picture through the lens. */
  apply(from: Float32Array): Float32Array {
    const { widths, width, w, h, half, out, spread } = this;
    out.set(from);
    if (!widths || this.idle) return out;
    for (let y = 0, o = 0; y < h; y++) {
      for (let x = 0; x < w; x++, o += 3) {
        const i = (2 * y * width + 2 * x) * 3,
          j = i + width * 3;
        for (let c = 0; c < 3; c++)
          half[o + c] = (from[i + c]! + from[i + 3 + c]! + from[j + c]! + from[j + 3 + c]!) / 4;
      }
    }
    WIDTHS.forEach((level, k) => {
      if (k > 0 && this.most < WIDTHS[k - 1]!) return;
      // Only what is about as far off the focus is spread: a sharp face sends nothing into the wall
      // behind it.
      for (let p = 0; p < w * h; p++) {
        const m = this.halfWidths[p]! >= Math.max(SHARP, level * 0.4) ? 1 : 0;
        spread[p * 4] = half[p * 3]! * m;
        spread[p * 4 + 1] = half[p * 3 + 1]! * m;
        spread[p * 4 + 2] = half[p * 3 + 2]! * m;
        spread[p * 4 + 3] = m;
      }
      // Two boxes have the variance of a disc of that width, D^2 / 16.
      const box = Math.max(0, Math.round(((0.61 * level) / 2 - 1) / 2));
      for (let pass = 0; pass < 2 && box > 0; pass++) {
        this.boxes(box, w, h, 4, w * 4);
        this.boxes(box, h, w, w * 4, 4);
      }
      this.lay(level, WIDTHS[k - 1] ?? SHARP, WIDTHS[k + 1] ?? Infinity);
    });
    return out;
  }

  /**
   * Running mean of 2 r + 1 along lines of `n` places, `step` apart, for `lines` lines `stride`
   * apart.
   */
  private boxes(r: number, n: number, lines: number, step: number, stride: number) {
    const { spread, line } = this;
    for (let l = 0; l < lines; l++) {
      const base = l * stride;
      let a = 0,
        b = 0,
        c = 0,
        m = 0;
      for (let i = 0; i < n; i++) {
        const at = base + i * step;
        line[i * 4] = spread[at]!;
        line[i * 4 + 1] = spread[at + 1]!;
        line[i * 4 + 2] = spread[at + 2]!;
        line[i * 4 + 3] = spread[at + 3]!;
      }
      for (let i = -r; i < n; i++) {
        const add = (i + r) * 4,
          drop = (i - r - 1) * 4;
        if (i + r < n) {
          a += line[add]!;
          b += line[add + 1]!;
          c += line[add + 2]!;
          m += line[add + 3]!;
        }
        if (drop >= 0) {
          a -= line[drop]!;
          b -= line[drop + 1]!;
          c -= line[drop + 2]!;
          m -= line[drop + 3]!;
        }
        if (i >= 0) {
          const at = base + i * step;
          spread[at] = a;
          spread[at + 1] = b;
          spread[at + 2] = c;
          spread[at + 3] = m;
        }
      }
    }
  }

  /**
   * Mix a level into the pixels whose width is near it: full at its own width, none at the level
   * before; the one after covers it again.
   */
  private lay(level: number, before: number, after: number) {
    const { widths, width, height, w, h, spread, out } = this;
    const from = Math.log2(before),
      to = Math.log2(level);
    for (let y = 0; y < height; y++) {
      const v = Math.min(Math.max((y - 0.5) / 2, 0), h - 1.001),
        y0 = v | 0,
        fy = v - y0;
      for (let x = 0; x < width; x++) {
        const p = y * width + x,
          d = widths![p]!;
        if (d <= before || d >= after) continue;
        const u = Math.min(Math.max((x - 0.5) / 2, 0), w - 1.001),
          x0 = u | 0,
          fx = u - x0,
          i = (y0 * w + x0) * 4,
          j = i + w * 4;
        const aa = (1 - fx) * (1 - fy),
          ba = fx * (1 - fy),
          ab = (1 - fx) * fy,
          bb = fx * fy;
        const m =
          spread[i + 3]! * aa + spread[i + 7]! * ba + spread[j + 3]! * ab + spread[j + 7]! * bb;
        if (m <= 1e-6) continue;
        const part = d >= level ? 1 : (Math.log2(d) - from) / (to - from);
        for (let c = 0; c < 3; c++) {
          const soft =
              (spread[i + c]! * aa +
                spread[i + 4 + c]! * ba +
                spread[j + c]! * ab +
                spread[j + 4 + c]! * bb) /
              m,
            o = p * 3 + c;
          out[o] = out[o]! + part * (soft - out[o]!);
        }
      }
    }
  }
}
