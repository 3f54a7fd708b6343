/** Room to move: what the person's own moves in the shot do to the light, one after another. */
import { create } from "zustand";
import type { Document, Problem, Schemas } from "../../app/api";
import { readDesk } from "../store";
import { movesIn, tryChange, withPatches } from "./mending";

export type Move = {
  words: string;
  /** Null while it is not tried; a sentence where it cannot be. */
  trial: Schemas["Trial"] | string | null;
};
type Room = {
  /** What the moves begin from: when the hand goes on, they are of something else. */
  draft: Document | null;
  running: boolean;
  /** Null until it is known which there are. */
  moves: Move[] | null;
  fault: string;
};

export const useRoom = create<Room>(() => ({
  draft: null,
  running: false,
  moves: null,
  fault: "",
}));
const set = useRoom.setState;
let stop = new AbortController();

/** Try every move from the draft as it is. */
export async function lookRound() {
  stopLooking();
  const { record, draft } = readDesk();
  if (!record || !draft) return;
  const { signal } = (stop = new AbortController());
  set({ draft, running: true, moves: null, fault: "" });
  try {
    const found = await movesIn(record.id, draft, signal);
    const moves: Move[] = found.map(({ words }) => ({ words, trial: null }));
    set({ moves });
    for (const [i, { words, patches }] of found.entries()) {
      const changed = withPatches(draft, patches);
      const trial = await tryChange(record.id, draft, changed, signal).catch(
        (error: Problem) => error.message,
      );
      if (signal.aborted) return;
      moves[i] = { words, trial };
      set({ moves: [...moves] });
    }
  } catch (error) {
    if (!signal.aborted) set({ fault: (error as Problem).message });
  } finally {
    if (!signal.aborted) set({ running: false });
  }
}

/** Try no more; what was found stays. */
export function stopLooking() {
  stop.abort();
  set({ running: false });
}

/** What a move does, in words: to the face, and what else is lost. */
export function lost({ changes = [], worse = [] }: Schemas["Tried"]) {
  return [...changes, ...worse.map((r) => `${r.name}: ${r.word}`)];
}

/** How many of the tried moves keep the light as it is. */
export function inAll(moves: readonly Move[]) {
  const tried = moves.flatMap((m) => (m.trial && typeof m.trial !== "string" ? [m.trial] : []));
  const kept = tried.filter((t) => !lost(t.does).length).length;
  if (!tried.length) return "";
  return kept === tried.length ? "the light keeps" : `${kept} of ${tried.length} keep the light`;
}
