/** The desk's gestures: the draft under the hand, what waits to be stored, what is chosen. */
import { create } from "zustand";
import type {
  Camera,
  Document,
  Figure,
  Furniture,
  CameraFacts,
  Grip,
  Inspection,
  Judged,
  Landing,
  LevelMap,
  Look,
  Mix,
  Schemas,
  SetupRecord,
  Unit,
  Walked,
} from "../app/api";
import { keepAims } from "./place/aiming";
import { keepTogether } from "./place/riding";
import type { Standing } from "./session/queue";

export type Panel = "unit" | "grip" | "camera" | "figure" | "room" | "meter";
export type MeterPage =
  "ways" | "ratios" | "fixed" | "targets" | "reach" | "walk" | "marks" | "sound";
export type PlacePage = "room" | "furniture";
export type Plane = Schemas["MapIn"]["plane"] | "none";

export type Desk = {
  record: SetupRecord | null;
  draft: Document | null;
  /** Last document the server has. */
  stored: Document | null;
  /** Last document that was handed to the queue. */
  settled: Document | null;
  /** What stood there before the last gesture of this hand, while it can be compared with. */
  before: { document: Document; gesture: string } | null;
  version: number;
  /** How storing stands, and how many commands wait. */
  standing: Standing;
  unsent: number;
  /** Whether an undo waits whose outcome only the server knows: until then the hand waits. */
  turning: boolean;
  /** What the frame is mixed from; the look follows when the coarse frame is there. */
  mix: Mix | null;
  /** The sky that the mix was asked with: a dragged hour is mixed by its level before that. */
  mixedSky: Document["sky"] | null;
  look: Look | null;
  /** Whether a newer look is on its way. */
  looking: boolean;
  chosen: string | null;
  /** Units chosen besides it: what is set then is set of all. */
  also: string[];
  chosenGrip: string | null;
  /** Which piece of furniture is in hand, and which page of the place is open. */
  chosenPiece: string | null;
  place: PlacePage;
  /** Which wall of the room is in hand, by the number of the corner that it begins at. */
  chosenWall: number | null;
  /** Which person is in hand; null for the subject. */
  chosenFigure: string | null;
  /**
   * What the chosen unit's light does on its way, and whether newer figures of the draft (map and
   * judgement too) are coming.
   */
  inspection: Inspection | null;
  inspecting: boolean;
  /** Whether layers are still on their way. */
  rendering: boolean;
  plane: Plane;
  map: LevelMap | null;
  /** What the camera's settings come to: its curve, noise, bands, depth. */
  cameraFacts: CameraFacts | null;
  /** Whether newer facts are on their way. */
  figuring: boolean;
  /** Places of the frame the spot meter looks at, 0..1 each way. */
  spots: Record<"A" | "B", [number, number] | null>;
  panel: Panel;
  /** Whether the next press on frame or plan says where the meter is held. */
  pointing: false | "mark" | "patch";
  /** What the sun draws on the plan at the hour that stands, while the day is open. */
  sunPatches: readonly Schemas["SunPatch"][];
  /** Where the chosen unit's beam lands, when that is asked for. */
  landing: Landing | null;
  /** Which page of the meter is open, and what the left column shows. */
  meter: MeterPage;
  column: "units" | "order" | "reading";
  /** Key of the reading in hand, drawn on the frame. */
  reading: string | null;
  /** Whether it is drawn on the frame how that was found. */
  drawn: boolean;
  /** The picture judged by its parts: targets, what is fixed, the steps of the order. */
  judged: Judged | null;
  /** A walk through the light, drawn on the plan. */
  walked: Walked | null;
  /** The frame as it would be exposed for a reading. */
  preview: { exposure: number; title: string } | null;
  solo: string | null;
  fault: { text: string; path: string } | null;
  /** What the desk did besides what was asked, for the hand to know. */
  said: string;
};

export const useDesk = create<Desk>(() => ({
  record: null,
  draft: null,
  stored: null,
  settled: null,
  before: null,
  version: 0,
  standing: { kind: "kept" },
  unsent: 0,
  turning: false,
  mix: null,
  mixedSky: null,
  look: null,
  looking: false,
  chosen: null,
  also: [],
  chosenGrip: null,
  chosenPiece: null,
  place: "room",
  chosenWall: null,
  chosenFigure: null,
  inspection: null,
  inspecting: false,
  rendering: false,
  plane: "none",
  map: null,
  cameraFacts: null,
  figuring: false,
  spots: { A: null, B: null },
  panel: "unit",
  pointing: false,
  sunPatches: [],
  landing: null,
  meter: "ways",
  column: "units",
  reading: null,
  drawn: false,
  judged: null,
  walked: null,
  preview: null,
  solo: null,
  fault: null,
  said: "",
}));

const { setState: set, getState: get } = useDesk;

/** Whether what stands on the screen is of the draft in hand, and not of an older one. */
export const isFresh = (desk: Desk) => !desk.looking && !desk.inspecting;
export const mayEdit = (desk: Desk) => desk.record !== null && desk.record.role !== "viewer";

/** Take a record from the server as the truth. */
export function adopt(record: SetupRecord) {
  const same = get().record?.id === record.id;
  const ids = record.document.units.map((u) => u.id);
  const { chosen, chosenGrip, chosenPiece, solo } = get();
  const grip = (record.document.grip ?? []).map((g) => g.id);
  set({
    record,
    draft: record.document,
    stored: record.document,
    version: record.version,
    fault: null,
    settled: record.document,
    before: null,
    also: same ? get().also.filter((id) => ids.includes(id)) : [],
    ...(same ? {} : { mix: null, look: null }),
    chosen: same && chosen && ids.includes(chosen) ? chosen : (ids[0] ?? null),
    chosenGrip: same && chosenGrip && grip.includes(chosenGrip) ? chosenGrip : (grip[0] ?? null),
    chosenPiece:
      same && record.document.furniture.some((f) => f.id === chosenPiece) ? chosenPiece : null,
    solo: same && solo && (ids.includes(solo) || SKY.includes(solo)) ? solo : null,
    ...(same
      ? {}
      : {
          chosenFigure: null,
          chosenWall: null,
          inspection: null,
          map: null,
          plane: "none" as const,
          judged: null,
          walked: null,
          preview: null,
          cameraFacts: null,
          spots: { A: null, B: null },
        }),
  });
}

/** Change the draft under the hand; nothing is stored yet. */
export function move(change: (draft: Document) => Document) {
  const { draft, turning } = get();
  if (draft && !turning && mayEdit(get()))
    set({ draft: keepAims(draft, keepTogether(draft, change(draft))) });
}

type Keeper = (document: Document, gesture: string) => void;
let keeper: Keeper = () => undefined,
  holder: Keeper = () => undefined;
/** Who keeps what is settled, and notes what is not yet: the session. */
export const keepBy = (keep: Keeper, hold: Keeper) => {
  keeper = keep;
  holder = hold;
};

/** In the midst of a gesture of keys: the draft is noted, should the page go. */
export function hold(gesture: string) {
  const { draft, settled } = get();
  if (draft && draft !== settled && mayEdit(get())) holder(draft, gesture);
}

/** End of a gesture: the draft is to be stored as one revision. */
export function settle(gesture: string) {
  const { draft, settled } = get();
  if (!draft || draft === settled || !mayEdit(get())) return;
  set({ settled: draft, before: settled && { document: settled, gesture } });
  keeper(draft, gesture);
}

export function act(change: (draft: Document) => Document, gesture: string) {
  move(change);
  settle(gesture);
}

export const withUnit =
  (id: string, change: (unit: Unit) => Partial<Unit>) =>
  (draft: Document): Document => ({
    ...draft,
    units: draft.units.map((u) => (u.id === id ? { ...u, ...change(u) } : u)),
  });

export const withCamera =
  (change: (camera: Camera) => Partial<Camera>) =>
  (draft: Document): Document => ({
    ...draft,
    cameras: draft.cameras.map((c, at) => (at === 0 ? { ...c, ...change(c) } : c)),
  });

/** Who is in hand: the subject, unless somebody else was chosen. */
export const personOf = ({ draft, chosenFigure }: Pick<Desk, "draft" | "chosenFigure">) =>
  draft!.figures.find((f) => f.id === chosenFigure) ?? draft!.figures[0]!;

export function choosePerson(id: string) {
  set({ chosenFigure: id, panel: "figure" });
}

export const withFigure =
  (id: string, change: (figure: Figure) => Partial<Figure>) =>
  (draft: Document): Document => ({
    ...draft,
    figures: draft.figures.map((f) => (f.id === id ? { ...f, ...change(f) } : f)),
  });

/** Sources that are no units: the sky and the sun, through the windows or outdoors. */
export const SKY = ["@sky", "@sun"];
/** The plain light that a set-up without any is framed by; nobody's unit, and not metered. */
export const WORK = "@work";

export const withGrip =
  (id: string, change: (grip: Grip) => Partial<Grip>) =>
  (draft: Document): Document => ({
    ...draft,
    grip: draft.grip.map((g) => (g.id === id ? { ...g, ...change(g) } : g)),
  });

export function chooseGrip(id: string) {
  set({ chosenGrip: id, panel: "grip" });
}

export const withPiece =
  (id: string, change: (piece: Furniture) => Partial<Furniture>) =>
  (draft: Document): Document => ({
    ...draft,
    furniture: draft.furniture.map((f) => (f.id === id ? { ...f, ...change(f) } : f)),
  });

export function choosePiece(id: string) {
  set({ chosenPiece: id, panel: "room", place: "furniture" });
}

export function chooseWall(k: number) {
  set({ chosenWall: k, panel: "room", place: "room" });
}

export function choose(id: string) {
  set({ chosen: id, also: [], panel: "unit" });
}

/** Take a unit into what is chosen, or out of it. */
export function chooseAlso(id: string) {
  const { chosen, also } = get();
  if (!chosen) return choose(id);
  const all = [chosen, ...also],
    left = all.includes(id) ? all.filter((k) => k !== id) : [...all, id];
  set({ chosen: left[0] ?? null, also: left.slice(1), panel: "unit" });
}

/** Change several units at once, as one gesture. */
export const withUnits =
  (ids: string[], change: (unit: Unit) => Partial<Unit>) =>
  (draft: Document): Document => ({
    ...draft,
    units: draft.units.map((u) => (ids.includes(u.id) ? { ...u, ...change(u) } : u)),
  });

export const setDesk = set;
export const readDesk = get;
