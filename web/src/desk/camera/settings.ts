/** Ways to take an exposure difference, as the server answers them. */
import type { Camera, Schemas } from "../../app/api";

export type Way = Schemas["Answer"];

const FULL = [
  "0.5",
  "0.7",
  "1",
  "1.4",
  "2",
  "2.8",
  "4",
  "5.6",
  "8",
  "11",
  "16",
  "22",
  "32",
  "45",
  "64",
];

/** A T-stop as it is engraved, and thirds: as the readings say it. */
export function stopWords(number: number): string {
  const thirds = Math.round(6 * Math.log2(number)),
    rest = ((thirds % 3) + 3) % 3,
    full = FULL[(thirds - rest) / 3 + 2];
  return full ? `T${full}${["", " + ⅓", " + ⅔"][rest]}` : `T${number.toFixed(1)}`;
}

/** Two figures of a number: what a shutter is dialled to. */
const twoFigures = (n: number) => {
  const scale = 10 ** Math.max(0, Math.floor(Math.log10(n)) - 1);
  return Math.round(n / scale) * scale;
};

/** Density and stops are two scales of one filter: both are said, each by its name. */
export const ndWords = (stops: number) =>
  `ND ${(stops * Math.log10(2)).toFixed(1)} (${+stops.toFixed(1)} stops)`;

const SHOWN: Record<Way["what"], (v: number) => string> = {
  stop: stopWords,
  index: (v) => `EI ${twoFigures(v)}`,
  shutter: (v) => `1/${twoFigures(1 / v)} s`,
  nd: ndWords,
};
export const settingWords = (way: Way) => SHOWN[way.what](way.value);

export function settingOf(way: Way): Partial<Camera> {
  return {
    stop: { t_stop: +way.value.toFixed(3) },
    index: { iso: twoFigures(way.value) },
    shutter: { shutter: { angle: null, time: 1 / twoFigures(1 / way.value) } },
    nd: { nd: +way.value.toFixed(3) },
  }[way.what];
}
