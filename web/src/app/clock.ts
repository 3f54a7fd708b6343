/** Hours of the day, typed and told: minutes since a midnight. */

/** A minute as a clock shows it; past midnight it goes on. */
export const clock = (minute: number) =>
  `${String(Math.floor(minute / 60) % 24).padStart(2, "0")}:${String(Math.round(minute) % 60).padStart(2, "0")}`;

/** Minute of a clock as it is typed: "7:05", "0705", "7"; null for what is none. */
export function minuteOf(text: string): number | null {
  const found = /^\s*(\d{1,2})(?:[:.h ]?(\d{2}))?\s*$/.exec(text);
  if (!found) return null;
  const hour = Number(found[1]),
    minute = Number(found[2] ?? 0);
  return hour < 24 && minute < 60 ? 60 * hour + minute : null;
}
