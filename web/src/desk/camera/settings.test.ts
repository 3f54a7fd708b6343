import { expect, test } from "vitest";
import { shutterWords } from "./cameraWords";
import { base } from "../frame/scene.fixture";
import {
  isNear,
  leftWords,
  readShutter,
  settingOf,
  settingWords,
  shutterCode,
  shutterName,
  shutterOf,
  stopName,
} from "./settings";

const camera = base.cameras[0]!;

test.each([
  ["stop", 2.8, "T2.8", { t_stop: 2.8 }],
  ["stop", 25.398, "T22 + ⅓", { t_stop: 25.398 }],
  ["index", 1600, "EI 1600", { iso: 1600 }],
  ["angle", 172.8, "172.8°", { shutter: { angle: 172.8, time: null } }],
  ["time", 1 / 120, "1/120 s", { shutter: { angle: null, time: 1 / 120 } }],
  ["nd", 1, "ND 0.3 (1 stop)", { nd: 1 }],
  ["nd", 0, "no ND", { nd: 0 }],
] as const)("a way by %s is said and set alike", (what, value, words, change) => {
  expect(settingWords({ what, value, left: 0 })).toBe(words);
  expect(settingOf({ what, value, left: 0 })).toEqual(change);
});

test("what is left over is said with its side, and a near miss may be set", () => {
  expect(leftWords({ what: "stop", value: 4, left: 0.16 })).toBe(", 0.2 over");
  expect(leftWords({ what: "nd", value: 1, left: -0.41 })).toBe(", 0.4 under");
  expect(leftWords({ what: "stop", value: 4, left: 0.02 })).toBe("");
  expect(isNear({ what: "nd", value: 3, left: 0.5 })).toBe(true);
  expect(isNear({ what: "nd", value: 10, left: 2 })).toBe(false);
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

test.each([
  [2.8, "T2.8"],
  [8.98, "T8 + ⅓"],
  [11, "T11"],
  [3.8, "T3.8"],
])("a lens at %d says %s", (number, words) => expect(stopName(number)).toBe(words));

test("a shutter is read as an angle or as a time, and named as it was typed", () => {
  const named = (text: string) => {
    const code = readShutter(text);
    return code && shutterName(shutterOf(code));
  };
  expect(["172.8", "172.8°", "1/33", "1/33 s", "1/50.5"].map(named)).toEqual([
    "172.8°",
    "172.8°",
    "1/33 s",
    "1/33 s",
    "1/50.5 s",
  ]);
  expect(["361", "1/0", "1/", "half", "0"].map(named)).toEqual([null, null, null, null, null]);
  expect(shutterCode({ angle: null, time: 1 / 48 })).toBe("t48");
});
