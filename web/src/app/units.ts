/** Numbers as people write them, lengths as they measure: all that is converted for the eye. */

export const FOOT = 0.3048;
/** Foot-candles of an illuminance [lx]. */
export const footcandles = (lux: number) => lux * FOOT ** 2;
export type Length = "m" | "ft";

/**
 * A number that was typed: "1,200" and "1 200" are twelve hundred, "2,8" is two point eight, and a
 * minus may be any dash. Null for what is none.
 */
export function numberOf(text: string): number | null {
  let plain = text
    .trim()
    .replace(/[−–]/g, "-")
    .replace(/[\s\u00a0\u202f]/g, "");
  if (/^-?[1-9]\d{0,2}(,\d{3})+(\.\d*)?$/.test(plain)) plain = plain.replace(/,/g, "");
  else plain = plain.replace(",", ".");
  if (!/^-?(\d+\.?\d*|\.\d+)$/.test(plain)) return null;
  const value = Number(plain);
  return Number.isFinite(value) ? value : null;
}

const feet = (metres: number) => {
  const long = metres / FOOT;
  return long < 1 ? `${Math.round(long * 12)} in` : `${+long.toFixed(1)} ft`;
};

/** A sentence or a name in the unit the person measures by: metres and centimetres as feet. */
export function inLength(text: string, unit: Length): string {
  if (unit === "m") return text;
  return text
    .replace(
      /(\d+(?:\.\d+)?)((?: × \d+(?:\.\d+)?)*) (cm|m)\b(?!\/|\^)/g,
      (_, first: string, more: string, measure: string) =>
        [first, ...more.split(" × ").slice(1)]
          .map((n) => feet(Number(n) * (measure === "cm" ? 0.01 : 1)))
          .join(" × "),
    )
    .replace(/\bhalf a metre\b/g, "1½ ft");
}
