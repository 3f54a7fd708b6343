import { expect, test } from "vitest";
import type { Mix } from "../../app/api";
import type { Layer } from "./layers";
import { partsOf } from "./painter";
import { base } from "./scene.fixture";

const layer = {} as Layer;
const mix = {
  exposure: 2,
  layers: { k: "key", "@sky": "sky", gone: "of a unit that was struck" },
  levels: { k: 0.9, "@sky": 0.25 },
  colours: { k: [1, 0.5, 0.25], "@sky": [1, 1, 1], gone: [1, 1, 1] },
} as unknown as Mix;
const desk = { draft: base, mix, mixedSky: null, solo: null, preview: null };
const gains = (over: object) =>
  Object.fromEntries(partsOf({ ...desk, ...over }, () => layer).map((p) => [p.id, p.gain]));

test("the hand's dimmer counts, not the last answer's; what is struck adds nothing", () => {
  expect(gains({})).toEqual({ k: [1, 0.5, 0.25], "@sky": [0.5, 0.5, 0.5] });
});

test("a dragged hour is seen at once by the level of the sky, and the sun goes with the evening", () => {
  const sun = { azimuth: 0, elevation: 10, level: 40_000, cct: 4000, on: true };
  const then = { ...base.sky, level: 8000, sun },
    withSun = {
      ...mix,
      layers: { "@sky": "sky", "@sun": "sun" },
      levels: { "@sky": 0.8, "@sun": 0.8 },
    };
  const seen = (sky: object) =>
    gains({
      mix: { ...withSun, colours: { "@sky": [1, 1, 1], "@sun": [1, 1, 1] } },
      mixedSky: then,
      draft: { ...base, sky: { ...then, ...sky } },
    });
  expect(seen({})).toEqual({ "@sky": [1.6, 1.6, 1.6], "@sun": [1.6, 1.6, 1.6] });
  expect(seen({ level: 2000, sun: { ...sun, level: 10_000 } })).toEqual({
    "@sky": [0.4, 0.4, 0.4],
    "@sun": [0.4, 0.4, 0.4],
  });
  expect(seen({ sun: null })).toMatchObject({ "@sun": [0, 0, 0] });
  expect(seen({ on: false })).toMatchObject({ "@sky": [0, 0, 0] });
});

test("a soloed unit shows its light though it is off, and all else is dark", () => {
  const off = { ...base, units: [{ ...base.units[0]!, on: false }] };
  expect(gains({ draft: off })).toMatchObject({ k: [0, 0, 0] });
  expect(gains({ draft: off, solo: "k" })).toEqual({ k: [1, 0.5, 0.25], "@sky": [0, 0, 0] });
});

test("a preview shows the frame at its exposure; what has no layer yet waits", () => {
  expect(gains({ preview: { exposure: 4, title: "" } })).toMatchObject({ "@sky": [1, 1, 1] });
  expect(partsOf(desk, (id) => (id === "k" ? layer : undefined)).map((p) => p.id)).toEqual(["k"]);
});
