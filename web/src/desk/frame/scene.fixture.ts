/** A small set-up for tests: one key lamp on a seated man in a plain room. */
import type { Document, Head, Look, Point, SetupRecord } from "../../app/api";
import { adopt, keepBy, setDesk } from "../store";

const wall = { reflectance: 0.5, colour: [1, 1, 1] as [number, number, number] };
export const base: Document = {
  schema_version: 7,
  fixed: [],
  title: "T",
  notes: "",
  furniture: [],
  marks: [],
  grip: [],
  openings: [],
  materials: [],
  meant: [],
  bodies_shade: false,
  limits: [],
  reasons: [],
  states: [],
  circuits: [],
  state: null,
  haze: 0,
  sky: { kind: "overcast", level: 10000, cct: 6500, on: true, sun: null },
  room: {
    width: 6,
    depth: 7,
    height: 3,
    outdoors: false,
    rise: 0,
    rises_to: "north",
    gaps: [],
    storey: 0,
    land: wall,
    water: null,
    floor: wall,
    ceiling: wall,
    north: wall,
    south: wall,
    east: wall,
    west: wall,
  },
  figures: [
    {
      id: "s",
      name: "S",
      figure: "broad-man",
      pose: "seated",
      position: [3, 3],
      facing: 0,
      spectacles: false,
      head_turn: 0,
      head_tilt: 0,
      undertone: 0,
      cloth: "plain",
      cut: "grown",
      beard: "none",
      hat: "none",
    },
  ],
  cameras: [
    {
      id: "a",
      name: "A",
      position: [3, 5.5, 1.3],
      aim: [3, 3, 1.2],
      roll: 0,
      follow: "",
      sensor: "super-35",
      sensor_width: 24.9,
      focal_length: 50,
      t_stop: 2.8,
      filter_loss: 0,
      iso: 800,
      native_iso: 800,
      curve: "bt709",
      log: { grey: 0.4, over: 6, under: 8 },
      guides: [],
      shutter: { angle: 180 },
      fps: 25,
      nd: 0,
      filters: [],
      white_balance: 5600,
      tint: 0,
    },
  ],
  units: [
    {
      id: "k",
      name: "Key",
      role: "key",
      head: "point-60",
      position: [4.4, 4.4, 2],
      aim: [3, 3, 1.2],
      roll: 0,
      aims_at: "",
      on: true,
      dimmer: 0.5,
      cct: 5600,
      green: 0,
      hue: 0,
      saturation: 0,
      attachments: [],
      leak: 0,
      held: "stand",
      foot: null,
      bearer: "",
      switch: "",
      piece: "",
      feed: "",
      charge: 1,
      ies: null,
      measured: null,
    },
  ],
};
export const record = (role: "owner" | "viewer" = "owner"): SetupRecord => ({
  id: 1,
  version: 3,
  revision: 3,
  role,
  document: base,
  gesture: "g",
  undo: null,
  redo: null,
  production: { id: 1, title: "P" },
  scene: { id: 1, title: "S" },
});
export const look = {
  anchor: [3, 3.1, 1.25],
  readings: { marks: [{ id: "backdrop", position: [3, 0, 1.2] }], units: [] },
} as unknown as Look;
export const head: Head = {
  key: "panel-small",
  name: "Soft panel",
  shape: "rectangle",
  size: [0.3, 0.3],
  peak: 1500,
  beam: 108,
  field: 154,
  lumens: 4000,
  watts: 48,
  weight: 2,
  cct: [2800, 5000],
  caution: "mind",
  group: "panel",
  colour: false,
  battery: 0,
  leak: 0,
  noise: "silent",
  distance: 0.1,
  price: "small kit",
  of_place: false,
  source: "typical",
};

/** Take the small set-up in hand as if it had just been opened. */
/** What was settled since the set-up was opened. */
export const kept: { document: Document; gesture: string }[] = [];

export function openSmall(role: "owner" | "viewer" = "owner") {
  kept.length = 0;
  keepBy(
    (document, gesture) => kept.push({ document, gesture }),
    () => undefined,
  );
  setDesk({ record: null });
  adopt(record(role));
  setDesk({ look, chosen: "k" });
}

export const gesturesOf = () => kept.map((g) => g.gesture);
export const away = (a: readonly number[], b: readonly number[]) =>
  Math.hypot(...a.map((v, k) => v - (b as Point)[k]!));
