/** Wishes put together, and set-ups of the units at hand that come nearest to them. */
import { create } from "zustand";
import { api, got, type Document, type Problem, type Schemas } from "../../app/api";
import { usePreferences } from "../../app/preferences";
import { act, readDesk } from "../store";

export type Wish = Schemas["WishIn"];
export type Found = { offer: Schemas["Offer"]; picture: string };
type Asking = {
  wishes: Wish[];
  /** What was asked of it. */
  draft: Document | null;
  running: boolean;
  tried: number;
  of: number | null;
  found: Found[];
  fault: string;
};

const IDLE = { draft: null, running: false, tried: 0, of: null, found: [], fault: "" };
export const useAsking = create<Asking>(() => ({
  wishes: [{ kind: "stop" }, { kind: "ratio", low: 2, high: 4 }, { kind: "outline" }],
  ...IDLE,
}));
const set = useAsking.setState;
let stop = new AbortController();

export const SHOWN = 3;
const met = ({ offer }: Found) => offer.wishes.filter((w) => w.met).length;
const costs = ({ offer }: Found) => offer.costs.length;

/** The best of what was found: most wishes, then least in the way, then what was found first. */
export const best = (found: Found[]) =>
  found.toSorted((a, b) => met(b) - met(a) || costs(a) - costs(b)).slice(0, SHOWN);

export function wish(kind: Wish["kind"], change: Partial<Wish> | null) {
  stopAsking();
  const { wishes } = useAsking.getState(),
    before = wishes.find((w) => w.kind === kind);
  const others = wishes.filter((w) => w.kind !== kind);
  set({
    ...IDLE,
    wishes: change
      ? before
        ? wishes.map((w) => (w === before ? { ...w, ...change } : w))
        : [...wishes, { kind, ...change }]
      : others,
  });
}

/** Look for answers, one place of the key after another. */
export async function ask() {
  stopAsking();
  const { record, draft } = readDesk();
  if (!record || !draft) return;
  const { signal } = (stop = new AbortController());
  const { wishes } = useAsking.getState();
  set({ ...IDLE, draft, running: true });
  try {
    for (let at = 0, of = 1; at < of; at++) {
      const one = await got<Schemas["Asking"]>(
        api.POST("/api/setups/{pk}/ask", {
          params: { path: { pk: record.id } },
          body: { document: draft, wishes, at, step: usePreferences.getState().step },
          signal,
        }),
      );
      if (signal.aborted) return;
      ({ of } = one);
      const { found } = useAsking.getState();
      const { offer, picture } = one;
      set({ of, tried: at + 1, found: offer ? [...found, { offer, picture }] : found });
    }
  } catch (error) {
    if (!signal.aborted) set({ fault: (error as Problem).message });
  } finally {
    if (!signal.aborted) set({ running: false });
  }
}

/** Ask no more; what was found stays. */
export function stopAsking() {
  stop.abort();
  set({ running: false });
}

export function takeAnswer({ offer }: Found) {
  stopAsking();
  act(() => offer.setup, `asked for: ${offer.words}`);
}
