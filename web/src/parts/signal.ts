/**
 * Instruments on a picture: tables looked up by the bits of a float, waveform, histogram, bands,
 * spots. No figure is made here that the server's tables do not give.
 */
import type { Schemas } from "../app/api";

export type Octaves = readonly [lowest: number, highest: number, steps: number];
export type Band = Schemas["Band"];
export type Linear = { linear: Float32Array; width: number; height: number };

const LUMA = [0.2126, 0.7152, 0.0722] as const;
const scratch = new Float32Array(1),
  scratchBits = new Int32Array(scratch.buffer);

/** Shift and base that turn the bits of a 32-bit float into the index of an octave table. */
export const reader = ([lowest, , steps]: Octaves) => ({
  shift: 23 - Math.log2(steps),
  base: (127 + lowest) * steps,
});

export function indexOf(value: number, octaves: Octaves) {
  const { shift, base } = reader(octaves),
    top = (octaves[1] - octaves[0]) * octaves[2] - 1;
  scratch[0] = value;
  return Math.min(Math.max((scratchBits[0]! >> shift) - base, 0), top);
}

/** Linear signal at the middle of a table's step. */
export const signalAt = (index: number, [lowest, , steps]: Octaves) =>
  2 ** (lowest + Math.floor(index / steps)) * (1 + ((index % steps) + 0.5) / steps);

/**
 * A colour for every step of luminance; null leaves the picture grey. Bands rise, in stops about
 * middle grey.
 */
export type Palette = { colour: Uint32Array; ink: Uint32Array; pattern: Uint8Array };
const PATTERNS: Record<string, number> = { dots: 1, hatch: 2 };
const packed = ([r, g, b]: readonly number[]) => 0xff000000 | (b! << 16) | (g! << 8) | r!;

/** Colours of the bands by signal, and the pattern that lies over those of the two ends. */
export function palette(
  bands: Band[],
  octaves: Octaves,
  display: ArrayLike<number>,
  grey: number,
): Palette {
  const n = display.length,
    out = { colour: new Uint32Array(n), ink: new Uint32Array(n), pattern: new Uint8Array(n) };
  for (let k = 0, at = 0; k < n; k++) {
    const stops = Math.log2(signalAt(k, octaves) / grey);
    while (at < bands.length - 1 && stops >= bands[at + 1]!.low) at++;
    const code = display[k]!,
      { colour, ink, pattern } = bands[at]!;
    out.colour[k] = packed(colour ?? [code, code, code]);
    out.ink[k] = packed(ink ?? [0, 0, 0]);
    out.pattern[k] = PATTERNS[pattern] ?? 0;
  }
  return out;
}

/** Whether a pattern's ink lies on a pixel. */
export const inked = (pattern: number, x: number, y: number) =>
  pattern === 1 ? (x & 3) === 0 && (y & 3) === 0 : pattern === 2 && (x + y) % 8 < 3;

export type Trace = { mode: "luma" | "rgb"; columns: number; rows: number; counts: Uint16Array[] };

/** How many pixels of each column have each code value; rows run from code 0 up. */
export function waveform(
  { linear, width, height }: Linear,
  table: Uint16Array,
  octaves: Octaves,
  mode: Trace["mode"],
  columns = 256,
  rows = 128,
): Trace {
  const { shift, base } = reader(octaves),
    top = table.length - 1,
    bits = new Int32Array(linear.buffer, linear.byteOffset, linear.length);
  const counts = Array.from(
    { length: mode === "rgb" ? 3 : 1 },
    () => new Uint16Array(columns * rows),
  );
  const scale = (rows - 1) / 65535,
    luma = counts[0]!;
  const column = Int32Array.from(
    { length: width },
    (_, x) => Math.floor((x * columns) / width) * rows,
  );
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 3) {
      let a = (bits[i]! >> shift) - base,
        b = (bits[i + 1]! >> shift) - base,
        c = (bits[i + 2]! >> shift) - base;
      a = a < 0 ? 0 : a > top ? top : a;
      b = b < 0 ? 0 : b > top ? top : b;
      c = c < 0 ? 0 : c > top ? top : c;
      const r = table[a]!,
        g = table[b]!,
        bl = table[c]!,
        at = column[x]!;
      if (mode === "luma")
        luma[at + Math.round((LUMA[0] * r + LUMA[1] * g + LUMA[2] * bl) * scale)]!++;
      else {
        counts[0]![at + Math.round(r * scale)]!++;
        counts[1]![at + Math.round(g * scale)]!++;
        counts[2]![at + Math.round(bl * scale)]!++;
      }
    }
  }
  return { mode, columns, rows, counts };
}

/** Pixels by code value of their luma, summed from a luma trace. */
export function histogram({ counts, columns, rows }: Trace) {
  const out = new Uint32Array(rows);
  for (const channel of counts)
    for (let x = 0; x < columns; x++)
      for (let y = 0; y < rows; y++) out[y]! += channel[x * rows + y]!;
  return out;
}

/** Parts of the frame that clip in any channel, and whose luminance lies under the floor. */
export function lost({ linear }: Linear, clip: number, floor: number) {
  let high = 0,
    low = 0;
  for (let i = 0; i < linear.length; i += 3) {
    const r = linear[i]!,
      g = linear[i + 1]!,
      b = linear[i + 2]!;
    if (r >= clip || g >= clip || b >= clip) high++;
    else if (LUMA[0] * r + LUMA[1] * g + LUMA[2] * b < floor) low++;
  }
  return { high: (3 * high) / linear.length, low: (3 * low) / linear.length };
}

/**
 * Mean linear signal about a place of the frame (0..1 each way), over a spot a fiftieth of its
 * width.
 */
export function spot({ linear, width, height }: Linear, [x, y]: readonly [number, number]) {
  const half = Math.round(width / 100),
    cx = Math.round(x * (width - 1)),
    cy = Math.round(y * (height - 1));
  const sum = [0, 0, 0];
  let n = 0;
  for (let v = Math.max(cy - half, 0); v <= Math.min(cy + half, height - 1); v++) {
    for (let u = Math.max(cx - half, 0); u <= Math.min(cx + half, width - 1); u++, n++)
      for (let c = 0; c < 3; c++) sum[c]! += linear[(v * width + u) * 3 + c]!;
  }
  const [r, g, b] = sum.map((s) => s / n) as [number, number, number];
  return { r, g, b, luminance: LUMA[0] * r + LUMA[1] * g + LUMA[2] * b };
}

/** Counts to brightness: a few pixels must be seen, many must not blind. */
const GLOW = Uint8Array.from({ length: 400 }, (_, n) =>
  Math.min(255, Math.round(70 * Math.log2(1 + n))),
);

/** Draw a trace, code 0 at the foot, on a canvas of as many columns and rows. */
export function drawTrace(context: CanvasRenderingContext2D, { counts, columns, rows }: Trace) {
  const image = context.createImageData(columns, rows),
    pixels = new Uint32Array(image.data.buffer),
    [a, b = a!, c = a!] = counts;
  for (let x = 0; x < columns; x++)
    for (let y = 0; y < rows; y++) {
      const at = x * rows + y;
      pixels[(rows - 1 - y) * columns + x] =
        0xff000000 |
        (GLOW[Math.min(c[at]!, 399)]! << 16) |
        (GLOW[Math.min(b[at]!, 399)]! << 8) |
        GLOW[Math.min(a![at]!, 399)]!;
    }
  context.putImageData(image, 0, 0);
}

/**
 * Linear signal of a picture as a monitor shows it.
 *
 * rgba: its codes 0..255; display: the code of each step of the octaves.
 */
export function undone(
  rgba: Uint8ClampedArray,
  [width, height]: readonly [number, number],
  display: ArrayLike<number>,
  octaves: Octaves,
): Linear {
  const of = new Float32Array(256),
    linear = new Float32Array(width * height * 3);
  // The middle of the steps that have a code; where none has, as the one below.
  for (let k = 0, first = 0; k < display.length; k++) {
    if (display[k] !== display[first]) first = k;
    of[display[k]!] = Math.sqrt(signalAt(first, octaves) * signalAt(k, octaves));
  }
  for (let code = 1; code < 256; code++) of[code] ||= of[code - 1]!;
  for (let p = 0, i = 0; p < rgba.length; p += 4, i += 3)
    for (let c = 0; c < 3; c++) linear[i + c] = of[rgba[p + c]!]!;
  return { linear, width, height };
}

/** Paint a picture by its bands of stops; those without a colour stay as they are. */
export function paintBands(
  rgba: Uint8ClampedArray,
  frame: Linear,
  bands: Palette,
  octaves: Octaves,
) {
  const pixels = new Uint32Array(rgba.buffer, rgba.byteOffset, rgba.length / 4);
  for (let p = 0; p < pixels.length; p++) {
    const [r, g, b] = [0, 1, 2].map((c) => frame.linear[3 * p + c]!) as [number, number, number];
    const k = indexOf(LUMA[0] * r + LUMA[1] * g + LUMA[2] * b, octaves),
      pattern = bands.pattern[k]!;
    pixels[p] =
      pattern && inked(pattern, p % frame.width, Math.floor(p / frame.width))
        ? bands.ink[k]!
        : bands.colour[k]!;
  }
}
