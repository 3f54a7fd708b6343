/** What would mend a reading: one way after another tried in the picture, until three do. */
import { create } from "zustand";
import { api, got, type Document, type Problem, type Schemas } from "../../app/api";
import { usePreferences } from "../../app/preferences";
import { act, readDesk } from "../store";
import type { Reading } from "./reading";

export type Way = { words: string; patches: Schemas["Patch"][]; trial: Schemas["Trial"] };
type Mending = {
  /** Of the reading that is to be mended, and the draft that it was read in. */
  key: string | null;
  draft: Document | null;
  running: boolean;
  tried: number;
  /** How many there are to be tried; null until that is known. */
  of: number | null;
  /** Those that mend it. */
  ways: Way[];
  fault: string;
};

const IDLE: Mending = {
  key: null,
  draft: null,
  running: false,
  tried: 0,
  of: null,
  ways: [],
  fault: "",
};
export const useMending = create<Mending>(() => IDLE);
const set = useMending.setState;

const ENOUGH = 3;
let stop = new AbortController();

/** What a change of the draft does to its picture, to one reading above all. */
export const tryChange = (
  pk: number,
  draft: Document,
  changed: Document,
  signal: AbortSignal,
  reading?: string,
) =>
  got<Schemas["Trial"]>(
    api.POST("/api/setups/{pk}/trial", {
      params: { path: { pk } },
      body: { document: draft, changed, reading, step: usePreferences.getState().step },
      signal,
    }),
  );

/** How the first person may move in the shot. */
export const movesIn = (pk: number, document: Document, signal: AbortSignal) =>
  got<Schemas["Proposal"][]>(
    api.POST("/api/setups/{pk}/moves", {
      params: { path: { pk } },
      body: { document, step: usePreferences.getState().step },
      signal,
    }),
  );

/** A set-up with some of its fields anew; what it does not have yet is added. */
export function withPatches(d: Document, patches: readonly Schemas["Patch"][]): Document {
  return patches.reduce((made, { part, id, change }) => {
    const items = made[part] as { id: string }[];
    const known = items.some((item) => item.id === id);
    const changed = known
      ? items.map((item) => (item.id === id ? { ...item, ...change } : item))
      : [...items, { id, ...change }];
    return { ...made, [part]: changed };
  }, d);
}

/** What costs least elsewhere first. */
const cheapest = (ways: Way[]) => {
  const cost = ({ trial }: Way) => trial.does.worse?.length ?? 0;
  return ways.sort((a, b) => cost(a) - cost(b));
};

/** Look for ways to mend a reading. */
export async function mend(reading: Reading) {
  stopMending();
  const { record, draft } = readDesk();
  if (!record || !draft) return;
  const { signal } = (stop = new AbortController());
  set({ ...IDLE, key: reading.key, draft, running: true });
  const asked = {
    params: { path: { pk: record.id } },
    signal,
  };
  const body = { document: draft, reading: reading.key, step: usePreferences.getState().step };
  try {
    const found = await got<Schemas["Proposal"][]>(
      api.POST("/api/setups/{pk}/mends", { ...asked, body }),
    );
    set({ of: found.length });
    for (const { words, patches } of found) {
      const changed = withPatches(draft, patches);
      const trial = await tryChange(record.id, draft, changed, signal, reading.key);
      if (signal.aborted) return;
      const { tried, ways } = useMending.getState();
      const more = trial.does.mends ? cheapest([...ways, { words, patches, trial }]) : ways;
      set({ tried: tried + 1, ways: more });
      if (more.length === ENOUGH) break;
    }
  } catch (error) {
    if (!signal.aborted) set({ fault: (error as Problem).message });
  } finally {
    if (!signal.aborted) set({ running: false });
  }
}

/** Try no more; what was found stays. */
export function stopMending() {
  stop.abort();
  set({ running: false });
}

/** Take one of the ways that were found. */
export function takeWay(way: Way) {
  stopMending();
  act((d) => withPatches(d, way.patches), way.words);
  set(IDLE);
}
