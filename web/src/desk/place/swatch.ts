/** A surface as a screen shows it under white light, and back (sRGB, IEC 61966-2-1). */
import type { Furniture } from "../../app/api";

type Surface = Furniture["surface"];
const LUMINANCE = [0.2126, 0.7152, 0.0722] as const;
const luminance = (rgb: readonly number[]) => rgb.reduce((sum, v, k) => sum + v * LUMINANCE[k]!, 0);
const encode = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
const decode = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);

export function swatchOf({ reflectance, colour }: Surface) {
  const scale = reflectance / Math.max(luminance(colour), 1e-6);
  return `#${colour
    .map((c) =>
      Math.round(255 * Math.min(1, encode(c * scale)))
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
}

export function ofSwatch(hex: string): Surface {
  const rgb = [1, 3, 5].map((at) => decode(parseInt(hex.slice(at, at + 2), 16) / 255));
  const most = Math.max(...rgb, 1e-6);
  const round = (v: number) => Math.round(v * 1e3) / 1e3;
  return {
    reflectance: Math.min(0.95, Math.max(0.004, round(luminance(rgb)))),
    // Paint of one hue alone is none that there is.
    colour: rgb.map((v) => Math.max(0.02, round(v / most))) as Surface["colour"],
  };
}
