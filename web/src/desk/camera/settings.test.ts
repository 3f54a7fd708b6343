import { expect, test } from "vitest";
import { shutterWords } from "./cameraWords";
import { base } from "../frame/scene.fixture";
import { settingOf, settingWords } from "./settings";

const camera = base.cameras[0]!;

test.each([
  ["stop", 2.8284, "T2.8", { t_stop: 2.828 }],
  ["stop", 25.7, "T22 + ⅓", { t_stop: 25.7 }],
  ["index", 1599.6, "EI 1600", { iso: 1600 }],
  ["shutter", 1 / 120, "1/120 s", { shutter: { angle: null, time: 1 / 120 } }],
  ["shutter", 1 / 6065, "1/6100 s", { shutter: { angle: null, time: 1 / 6100 } }],
  ["nd", 0.9, "ND 0.3 (0.9 stops)", { nd: 0.9 }],
] as const)("a way by %s is said and set alike", (what, value, words, change) => {
  expect(settingWords({ what, value, left: 0 })).toBe(words);
  expect(settingOf({ what, value, left: 0 })).toEqual(change);
});

test.each([
  [{ angle: 180 }, "180°"],
  [{ angle: 172.8 }, "172.8°"],
  [{ angle: null, time: 1 / 50 }, "1/50"],
  [{ angle: null, time: 1 / 59.94 }, "1/59.9"],
  [{ angle: null, time: 1 }, "1 s"],
])("the shutter %o is called %s", (shutter, words) => {
  expect(shutterWords({ ...camera, shutter } as typeof camera)).toBe(words);
});
