/** One place at several times: what is kept of each, and how it is turned to. */
import type { Document, Unit } from "../../app/api";
import { act, readDesk } from "../store";

type State = Document["states"][number];

export const MOST = 8;

const levelOf = ({ id, on, dimmer, cct, green, hue, saturation }: Unit) => ({
  id,
  on,
  dimmer,
  cct,
  green,
  hue,
  saturation,
});

/** What a state keeps of a set-up as it stands. */
const kept = (draft: Document) => ({ sky: draft.sky, units: draft.units.map(levelOf) });

/** The set-up with what stands kept in the state that stands. */
const keep = (draft: Document): Document => ({
  ...draft,
  states: draft.states.map((s) => (s.id === draft.state ? { ...s, ...kept(draft) } : s)),
});

const freshId = (states: readonly State[]) => {
  const ids = new Set(states.map((s) => s.id));
  let n = 1;
  while (ids.has(`s${n}`)) n++;
  return `s${n}`;
};

/** The set-up at another time; a unit that was brought in since is off there. */
export const at =
  (id: string) =>
  (draft: Document): Document => {
    const now = keep(draft),
      state = now.states.find((s) => s.id === id);
    if (!state || id === draft.state) return draft;
    return {
      ...now,
      state: id,
      sky: state.sky,
      units: now.units.map((u) => ({
        ...u,
        ...(state.units.find((l) => l.id === u.id) ?? { on: false }),
      })),
    };
  };

export function turnTo(id: string) {
  const state = readDesk().draft?.states.find((s) => s.id === id);
  if (state) act(at(id), `At ${state.name}`);
}

/** Another state, as it stands now; the first one asked for keeps what stood before beside it. */
export function addState(name: string) {
  act((draft) => {
    const before: State[] = draft.states.length
      ? keep(draft).states
      : [{ id: freshId([]), name: "as it was", ...kept(draft) }];
    const made: State = { id: freshId(before), name, ...kept(draft) };
    return { ...draft, states: [...before, made], state: made.id };
  }, `State added: ${name}`);
}

export function renameState(id: string, name: string) {
  act(
    (draft) => ({
      ...draft,
      states: draft.states.map((s) => (s.id === id ? { ...s, name } : s)),
    }),
    `State called ${name}`,
  );
}

/** Take the state that stands away; what stands goes on standing, in no state. */
export function removeState(id: string) {
  const state = readDesk().draft?.states.find((s) => s.id === id);
  if (state)
    act(
      (draft) => ({
        ...draft,
        states: draft.states.filter((s) => s.id !== id),
        state: draft.state === id ? null : draft.state,
      }),
      `State taken away: ${state.name}`,
    );
}
