/** How this person wants numbers shown; kept in the browser. */
import { create } from "zustand";
import { persist } from "zustand/middleware";
import { FOOT, inLength } from "./units";

export type StripMode = "alone" | "sum" | "without" | "adds";

type Preferences = {
  length: "m" | "ft";
  light: "fc" | "lx";
  step: "third" | "tenth";
  /** What the frame shows, and the instruments beside it. */
  instruments: boolean;
  picture: "monitor" | "recorded" | "bands";
  grain: boolean;
  trace: "luma" | "rgb";
  /** Whether the lens is drawn: what is off the focus, soft. */
  depth: boolean;
  /** Whether the line of the day is under the frame. */
  day: boolean;
  /** Small frames of each light's part under the frame, and what they show. */
  parts: boolean;
  strip: StripMode;
  /** Whether the outline is drawn of where the chosen unit's beam lands. */
  landing: boolean;
  /** Whether it is told what the person's own moves do to the light. */
  room: boolean;
  /** How the floor is shown: about the subject, or north up. */
  plan: "rings" | "place";
  /** Where bands begin that were moved by hand [stops about middle grey]. */
  edges: Record<string, number>;
  /** Lines of one's own over the waveform [percent of the signal]. */
  lines: number[];
};

export const usePreferences = create<Preferences>()(
  persist(
    () =>
      ({
        length: "m",
        light: "fc",
        step: "third",
        instruments: false,
        picture: "monitor",
        grain: false,
        trace: "luma",
        depth: false,
        day: false,
        parts: false,
        strip: "alone",
        landing: false,
        room: false,
        plan: "rings",
        edges: {},
        lines: [],
      }) as Preferences,
    { name: "inkwell-preferences" },
  ),
);

/** Lengths in the chosen unit. */
export function useLength() {
  const unit = usePreferences((p) => p.length);
  const factor = unit === "ft" ? 1 / FOOT : 1;
  return {
    unit,
    show: (m: number) => m * factor,
    take: (shown: number) => shown / factor,
    text: (m: number, digits = unit === "ft" ? 1 : 2) => `${(m * factor).toFixed(digits)} ${unit}`,
  };
}

const digits = (value: number) =>
  value < 0.005
    ? "0"
    : value >= 1000
      ? Math.round(value).toLocaleString("en-GB")
      : value >= 100
        ? value.toFixed(0)
        : value >= 10
          ? value.toFixed(1)
          : value.toFixed(2);

/** Illuminance in the chosen unit; the server sends both. */
export function useLight() {
  const unit = usePreferences((p) => p.light);
  return {
    unit,
    text: (lux: number, footcandles: number) =>
      `${digits(unit === "fc" ? footcandles : lux)} ${unit}`,
  };
}

/** Names and sentences with their lengths in the chosen unit. */
export function useWords() {
  const unit = usePreferences((p) => p.length);
  return (text: string) => inLength(text, unit);
}
