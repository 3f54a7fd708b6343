/** The kinds of failure, and what each asks for. */
import type { Document, Problem } from "../../app/api";

export type Theirs = {
  version: number;
  revision: number;
  document: Document;
  gesture: string;
  author: string | null;
};

export type Failure =
  /** The server was not reached: try again by and by. */
  | { kind: "line" }
  /** It was, and has a fault or is busy: try again, ever more seldom, then wait for the hand. */
  | { kind: "server"; text: string; after: number }
  /** Nobody is signed in here, or somebody else. */
  | { kind: "signed-out" }
  /** The set-up may not be changed, or not be seen, by this person any more. */
  | { kind: "not-yours"; text: string }
  /** What was asked cannot be; everything else can. */
  | { kind: "refused"; text: string; path: string }
  /** Somebody else's change came first. */
  | { kind: "conflict"; theirs: Theirs };

export function failureOf(problem: Problem): Failure {
  const { status, message, path, body } = problem;
  if (status === 0) return { kind: "line" };
  if (status === 401) return { kind: "signed-out" };
  if (status === 403 || status === 404) return { kind: "not-yours", text: message };
  if (status === 409) return { kind: "conflict", theirs: body as unknown as Theirs };
  if (status === 429 || status >= 500)
    return { kind: "server", text: message, after: problem.after };
  return { kind: "refused", text: message, path };
}

/** Seconds to the next try, after so many that failed. */
export const pause = (tries: number, least = 0) => Math.max(least, Math.min(60, 2 ** tries));
/** Tries of a server that answers with a fault, after which it waits for the hand. */
export const ENOUGH = 6;
