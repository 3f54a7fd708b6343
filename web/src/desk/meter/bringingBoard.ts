/** A board brought in for a ratio: one size and angle after another, until one does it. */
import { api, got, type Problem, type Schemas } from "../../app/api";
import { act, readDesk } from "../store";

export type School = "cheeks" | "combined" | "single";
export type Side = "left" | "right";
export type Tried = { tried: number; of: number };
type Board = Schemas["BoardOut"];

/**
 * Look for a board and bring it in. What is said comes back; null where the looking was stopped or
 * the hand did something meanwhile.
 */
export async function bringBoard(
  asked: { target: number; school: School; side: Side },
  signal: AbortSignal,
  onTried: (tried: Tried) => void,
): Promise<{ words: string; caution: string } | null> {
  const { record, draft } = readDesk();
  if (!record || !draft) return null;
  let nearest: Board | null = null;
  for (let at = 0, of = 1; at < of; at++) {
    let one: Board;
    try {
      one = await got<Board>(
        api.POST("/api/setups/{pk}/board", {
          params: { path: { pk: record.id } },
          body: { document: draft, ...asked, at },
          signal,
        }),
      );
    } catch (error) {
      return signal.aborted ? null : { words: (error as Problem).message, caution: "" };
    }
    if (signal.aborted || readDesk().draft !== draft) return null;
    const made = one.document;
    if (made) {
      act(() => made, one.words);
      return { words: `${one.words}.`, caution: one.caution };
    }
    if (!nearest || Math.abs(one.off ?? Infinity) < Math.abs(nearest.off ?? Infinity))
      nearest = one;
    ({ of } = one);
    onTried({ tried: at + 1, of });
  }
  return nearest && { words: nearest.words, caution: "" };
}
