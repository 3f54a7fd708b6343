/** The hour dragged: sun and sky of a minute, from the day that the server has worked out. */
import type { Document, Schemas } from "../../app/api";

export type Day = Schemas["Day"];
export type Site = Schemas["Site"];
type Sky = Document["sky"];

export const DAY = 1440;
/** Minutes between two hours that the line stops at. */
export const STEP = 5;

/** Nearest minute that the line stops at. */
export const stop = (minute: number) =>
  Math.min(DAY - STEP, Math.max(0, Math.round(minute / STEP) * STEP));

/** A set-up at another minute of its day; what is off stays off. */
export const atMinute =
  (day: Day, minute: number) =>
  (document: Document): Document => {
    const instant = day.instants.find((i) => i.minute === stop(minute));
    if (!instant || !document.site) return document;
    const { sun } = instant.sky;
    const sky: Sky = {
      ...instant.sky,
      on: document.sky.on,
      sun: sun && { ...sun, on: document.sky.sun?.on ?? true },
    };
    return { ...document, site: { ...document.site, minute: instant.minute }, sky };
  };

/** The sun's height through the day as points of a box so wide and high. */
export function curveOf(day: Day, width: number, height: number): string {
  const y = (elevation: number) =>
    height / 2 - (Math.max(-30, Math.min(90, elevation)) / 90) * (height / 2);
  return day.instants
    .filter((_, k) => k % 3 === 0)
    .map((i) => `${((i.minute / DAY) * width).toFixed(1)},${y(i.elevation).toFixed(1)}`)
    .join(" ");
}
