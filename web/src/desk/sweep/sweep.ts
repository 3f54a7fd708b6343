/** One thing from–to as a row of small frames: the camera round the subject, a unit's place. */
import { create } from "zustand";
import type { Document, Point, Problem, Schemas } from "../../app/api";
import { goneRound, type Along } from "../camera/around";
import { act, readDesk, withUnit } from "../store";
import { movesIn, tryChange, withPatches } from "../reading/mending";
import { frameOf, placedPolar } from "../units/gestures";

export type Of =
  "camera" | "camera-key" | "round" | "height" | "distance" | "level" | "moves" | "meter";
/** Sweeps of the chosen unit. */
export const OF_UNIT: readonly Of[] = ["round", "height", "distance", "level"];
type Mark = Schemas["Readings"]["marks"][number];
export type Step = {
  label: string;
  /** More than the label holds. */
  words?: string;
  changed: Document;
  /** Null while it is not worked out; a sentence where it cannot be. */
  trial: Schemas["Trial"] | string | null;
};
type Sweep = {
  shown: boolean;
  of: Of;
  /** What it begins with: when the hand goes on, it is of something else. */
  draft: Document | null;
  /** The unit that is carried. */
  unit: string | null;
  steps: Step[];
  running: boolean;
  /** Why there are no steps. */
  fault: string;
};

export const useSweep = create<Sweep>(() => ({
  shown: false,
  of: "camera",
  draft: null,
  unit: null,
  steps: [],
  running: false,
  fault: "",
}));
const set = useSweep.setState;
let stop = new AbortController();

/** Standard marks by which a face is exposed, in few words. */
const WAYS: Record<string, string> = {
  "key-side": "key side",
  chin: "chin, to the lens",
  "fill-side": "shade, to the lens",
  "fill-toward": "shade, to the fill",
  "fill-shaded": "shade, key shaded",
};
export const AS_IT_IS = "as it is";
const ROUND = [-60, -45, -30, -15, 0, 15, 30, 45, 60],
  UNIT_ROUND = [-45, -30, -15, 0, 15, 30, 45],
  HIGHER = [-30, -20, -10, 0, 10, 20, 30],
  RINGS = [-3, -2, -1, 0, 1, 2, 3],
  /** Stops under full. */
  LEVELS = [6, 5, 4, 3, 2, 1, 0];
const signed = (v: number, unit: string) =>
  v === 0 ? AS_IT_IS : `${v > 0 ? "+" : "−"}${Math.abs(v)}${unit}`;

/** The steps of a sweep: what each changes. */
export function stepsOf(
  d: Document,
  of: Of,
  frame: { face: Point; lens: Point },
  unit: string | null,
  key: string | null,
  marks: readonly Mark[] = [],
): Omit<Step, "trial">[] {
  if (of === "camera" || of === "camera-key") {
    const along: Along = of === "camera" ? "alone" : "key";
    return ROUND.map((by) => ({
      label: signed(by, "°"),
      changed: by ? goneRound(d, frame.face, by, along, key) : d,
    }));
  }
  if (of === "meter") return waysOf(d, marks);
  if (!unit) return [];
  const carried = (change: Parameters<typeof placedPolar>[2]) =>
    placedPolar(unit, frame, change)(d);
  if (of === "round")
    return UNIT_ROUND.map((by) => ({
      label: signed(by, "°"),
      changed: by ? carried((now) => ({ angle: now.angle + by })) : d,
    }));
  if (of === "height")
    return HIGHER.map((by) => ({
      label: signed(by, "°"),
      changed: by ? carried((now) => ({ height: now.height + by })) : d,
    }));
  if (of === "level") return levelsOf(d, unit);
  // Rings of a stop are √2 of a distance apart: thirds of two stops nearer and farther.
  return RINGS.map((by) => ({
    label: by === 0 ? AS_IT_IS : `${(2 ** (by / 3)).toFixed(2)} ×`,
    changed: by ? carried((now) => ({ distance: now.distance * 2 ** (by / 3) })) : d,
  }));
}

/** A unit off, and by whole stops up to full; where it stands takes the place of the nearest. */
function levelsOf(d: Document, id: string) {
  const unit = d.units.find((u) => u.id === id);
  if (!unit) return [];
  const lit = unit.on && unit.dimmer > 0,
    now = lit ? Math.min(LEVELS[0]!, Math.round(-Math.log2(unit.dimmer))) : null,
    own = { label: AS_IT_IS, words: lit ? percent(unit.dimmer) : "off", changed: d };
  const off = { label: "off", changed: withUnit(id, () => ({ on: false }))(d) };
  return [
    lit ? off : own,
    ...LEVELS.map((stops) => {
      const dimmer = 2 ** -stops,
        changed = withUnit(id, () => ({ on: true, dimmer }))(d);
      return stops === now ? own : { label: percent(dimmer), changed };
    }),
  ];
}
const percent = (part: number) => `${+(100 * part).toFixed(part < 0.1 ? 1 : 0)} %`;

/**
 * The part of the outline that a sweep changes most: of which the steps say the most different
 * things. Null where every part stays what it is.
 */
export function changing(steps: readonly Step[]): string | null {
  const said = new Map<string, Set<string>>();
  for (const { trial } of steps)
    if (trial && typeof trial !== "string")
      for (const { name, word } of trial.does.outlines ?? [])
        said.set(name, (said.get(name) ?? new Set()).add(word));
  const [most] = [...said].sort(([, a], [, b]) => b.size - a.size);
  return most && most[1].size > 1 ? most[0] : null;
}

/** The camera set to what the meter says at each standard mark of the first person. */
function waysOf(d: Document, marks: readonly Mark[]) {
  const camera = d.cameras[0]!,
    own = marks.filter((m) => m.id in WAYS && m.against_camera != null);
  return [
    { label: AS_IT_IS, changed: d },
    ...own.map((mark) => {
      // The same stop and shutter: what differs between the pictures is only how bright they are.
      const iso = camera.iso * 2 ** -mark.against_camera!,
        held = Math.min(204800, Math.max(25, iso));
      return {
        label: WAYS[mark.id]!,
        words: `${mark.name}: ${mark.stop_words}`,
        changed: {
          ...d,
          cameras: d.cameras.map((c, at) => (at ? c : { ...c, iso: +held.toFixed(1) })),
        },
      };
    }),
  ];
}

/** How the person may move in the shot, and in the middle how it is. */
async function movesOf(pk: number, draft: Document, signal: AbortSignal) {
  const moves = (await movesIn(pk, draft, signal)).map(({ words, patches }) => ({
    label: words,
    changed: withPatches(draft, patches),
  }));
  return moves.toSpliced(moves.length >> 1, 0, { label: AS_IT_IS, changed: draft });
}

export function openSweep(of = useSweep.getState().of) {
  set({ shown: true, of });
  void run();
}

export function closeSweep() {
  stopSweep();
  set({ shown: false, steps: [], draft: null });
}

export function stopSweep() {
  stop.abort();
  set({ running: false });
}

/** Work the steps out, from the middle on. */
async function run() {
  stopSweep();
  const { record, draft, chosen, look } = readDesk(),
    frame = frameOf();
  if (!record || !draft || !frame) return;
  const { signal } = (stop = new AbortController());
  const key = look?.readings.key ?? null,
    { of } = useSweep.getState();
  const marks = look?.readings.marks;
  set({ steps: [], draft, unit: chosen, running: true, fault: "" });
  let found: Omit<Step, "trial">[];
  try {
    found =
      of === "moves"
        ? await movesOf(record.id, draft, signal)
        : stepsOf(draft, of, frame, chosen, key, marks);
  } catch (error) {
    if (!signal.aborted) set({ running: false, fault: (error as Problem).message });
    return;
  }
  if (signal.aborted) return;
  const steps: Step[] = found.map((s) => ({ ...s, trial: null }));
  set({ steps });
  const middle = (steps.length - 1) / 2,
    order = steps.map((_, k) => k).sort((a, b) => Math.abs(a - middle) - Math.abs(b - middle));
  for (const at of order) {
    let trial: Step["trial"];
    try {
      trial = await tryChange(record.id, draft, steps[at]!.changed, signal);
    } catch (error) {
      if (signal.aborted) return;
      trial = (error as Problem).message;
    }
    if (signal.aborted) return;
    set((s) => ({ steps: s.steps.map((step, k) => (k === at ? { ...step, trial } : step)) }));
  }
  set({ running: false });
}

const WORDS: Record<Of, string> = {
  camera: "Camera round the subject",
  "camera-key": "Camera and key round the subject",
  round: "round the subject",
  height: "height",
  distance: "distance",
  level: "level",
  moves: "moved",
  meter: "Set by the meter",
};

/** Go where a small frame was taken. */
export function takeStep(step: Step) {
  const { of, unit } = useSweep.getState(),
    { draft } = readDesk();
  const name =
    of === "moves" ? draft?.figures[0]?.name : draft?.units.find((u) => u.id === unit)?.name;
  act(
    () => step.changed,
    of.startsWith("camera") || of === "meter" ? WORDS[of] : `${name ?? ""} ${WORDS[of]}`,
  );
}
