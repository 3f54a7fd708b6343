/** Ways to take an exposure difference, as the server answers them. */
import type { Camera, Schemas } from "../../app/api";
import { shutterWords } from "./cameraWords";
import { numberOf } from "../../app/units";

export type Way = Schemas["Answer"];
/** Change the camera that is looked through, as one gesture. */
export type SetCamera = (change: Partial<Camera>, words: string) => void;

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

/** A T-stop as it stands on the camera: engraved where it is a third, else as a number. */
export const stopName = (number: number) =>
  Math.abs(6 * Math.log2(number) - Math.round(6 * Math.log2(number))) < 0.1
    ? stopWords(number)
    : `T${+number.toFixed(2)}`;

/** Reads a typed number between two bounds, what else may be typed about it left away. */
export const within = (least: number, most: number, about: RegExp) => (text: string) => {
  const number = numberOf(text.trim().toLowerCase().replace(about, ""));
  return number !== null && number >= least && number <= most ? number : null;
};

type Shutter = Camera["shutter"];
/** A shutter as a list's value: of an angle, or of parts of a second. */
export const shutterCode = ({ angle, time }: Shutter) =>
  angle != null ? `a${angle}` : `t${+(1 / time!).toFixed(2)}`;
export const shutterOf = (code: string): Shutter => {
  const number = Number(code.slice(1));
  return code.startsWith("a") ? { angle: number, time: null } : { angle: null, time: 1 / number };
};
export const shutterName = (shutter: Shutter) => {
  const words = shutterWords({ shutter });
  return words.startsWith("1/") ? `${words} s` : words;
};
/** A typed shutter as a list's value: 172.8 and 172.8° are angles, 1/33 and 1/33 s times. */
export const readShutter = (text: string) => {
  const plain = text.trim().toLowerCase();
  if (plain.startsWith("1/")) {
    const speed = within(0.1, 1e5, /\s*s$/)(plain.slice(2));
    return speed === null ? null : shutterCode({ angle: null, time: 1 / speed });
  }
  const angle = within(0.1, 360, /\s*(°|deg)$/)(plain);
  return angle === null ? null : shutterCode({ angle, time: null });
};

/** Density and stops are two scales of one filter: both are said, each by its name. */
export const ndWords = (stops: number) =>
  `ND ${(stops * Math.log10(2)).toFixed(1)} (${+stops.toFixed(1)} ${stops === 1 ? "stop" : "stops"})`;

const SHOWN: Record<Way["what"], (v: number) => string> = {
  stop: stopWords,
  index: (v) => `EI ${v}`,
  angle: (v) => `${v}°`,
  time: (v) => `1/${Math.round(1 / v)} s`,
  nd: (v) => (v ? ndWords(v) : "no ND"),
};
export const settingWords = (way: Way) => SHOWN[way.what](way.value);

/** Stops from which what is left over is said. */
const SAID = 0.05;
/** What is left once a way is taken, in words; nothing where it is nothing. */
export const leftWords = ({ left }: Way) =>
  Math.abs(left) < SAID ? "" : `, ${Math.abs(left).toFixed(1)} ${left > 0 ? "over" : "under"}`;
/** Whether a way comes near enough to be worth setting. */
export const isNear = ({ left }: Way) => Math.abs(left) <= 0.5;

export function settingOf(way: Way): Partial<Camera> {
  return {
    stop: { t_stop: way.value },
    index: { iso: way.value },
    angle: { shutter: { angle: way.value, time: null } },
    time: { shutter: { angle: null, time: way.value } },
    nd: { nd: way.value },
  }[way.what];
}
