/** Ways to take an exposure difference, as the server answers them. */
import type { Camera, Schemas } from "../../app/api";

export type Way = Schemas["AnswerOut"];

const SHOWN: Record<Way["what"], (v: number) => string> = {
  stop: (v) => `T${v.toFixed(1)}`,
  index: (v) => `EI ${Math.round(v)}`,
  shutter: (v) => `1/${(1 / v).toFixed(0)} s`,
  nd: (v) => `ND ${v.toFixed(1)} stops`,
};
export const settingWords = (way: Way) => SHOWN[way.what](way.value);

export function settingOf(way: Way): Partial<Camera> {
  return {
    stop: { t_stop: +way.value.toFixed(3) },
    index: { iso: Math.round(way.value) },
    shutter: { shutter: { angle: null, time: way.value } },
    nd: { nd: +way.value.toFixed(3) },
  }[way.what];
}
