import type { Schemas } from "../app/api";
import { clock, minuteOf } from "../app/clock";

export type Day = Schemas["DayOut"];
export type Asked = Schemas["ShootDay"];
export type Shot = Schemas["ShotAsked"];
export type Slot = Schemas["Slot"];

/** Spans as they are typed: "8:30-9:40, 15-16"; null for what is none. */
export function spansOf(text: string): [number, number][] | null {
  if (!text.trim()) return [];
  const found: [number, number][] = [];
  for (const part of text.split(",")) {
    const [from, to, more] = part.split(/[-–]/);
    const begin = minuteOf(from ?? ""),
      end = minuteOf(to ?? "");
    if (begin === null || end === null || more !== undefined || end <= begin) return null;
    found.push([begin, end]);
  }
  return found;
}

export const spanned = (spans: readonly (readonly number[])[]) =>
  spans.map(([a, b]) => `${clock(a!)}–${clock(b!)}`).join(", ");

/** Names as they are typed, a comma between them. */
export const namesOf = (text: string) => [
  ...new Set(
    text
      .split(",")
      .map((n) => n.trim())
      .filter(Boolean),
  ),
];

/** One shot of a day set anew. */
export const withShot =
  (setup: number, change: Partial<Shot>) =>
  (asked: Asked): Asked => ({
    ...asked,
    shots: asked.shots.map((s) => (s.setup === setup ? { ...s, ...change } : s)),
  });

/** The shots as they are to be shown: in the order that was found, what it has not at the end. */
export function inOrder(day: Day): Shot[] {
  const place = new Map(day.plan?.slots.map((s, at) => [Number(s.key), at]));
  return [...day.asked.shots].sort(
    (a, b) => (place.get(a.setup) ?? 99) - (place.get(b.setup) ?? 99),
  );
}
