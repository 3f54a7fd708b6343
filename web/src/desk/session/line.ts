/** Whether the server is there and knows us: one place that asks, for all who wait for it. */
import { create } from "zustand";
import { api, type Problem } from "../../app/api";
import { ENOUGH, failureOf, pause } from "./failures";

export type Line =
  | { state: "up" }
  | { state: "down"; tries: number }
  | { state: "faulty"; tries: number; text: string; resting: boolean }
  | { state: "signed-out" };

export const useLine = create<{ line: Line }>(() => ({ line: { state: "up" } }));

const set = (line: Line) => useLine.setState({ line });
export const lineIs = (state: Line["state"]) => useLine.getState().line.state === state;
let next: ReturnType<typeof setTimeout> | undefined;

/** Somebody met a failure of the line; true when it was one. */
export function report(problem: Problem): boolean {
  const failure = failureOf(problem),
    now = useLine.getState().line;
  if (failure.kind === "signed-out") {
    clearTimeout(next);
    set({ state: "signed-out" });
  } else if (failure.kind === "line") {
    if (now.state === "down") return true;
    set({ state: "down", tries: 0 });
    askAgain(pause(1));
  } else if (failure.kind === "server") {
    const tries = now.state === "faulty" ? now.tries : lastTries;
    const resting = tries + 1 >= ENOUGH;
    set({ state: "faulty", tries: tries + 1, text: failure.text, resting });
    lastTries = tries + 1;
    if (!resting) askAgain(pause(tries + 1, failure.after));
  } else return false;
  return true;
}

/** Tries that failed since a command last went through: a server that answers and then fails. */
let lastTries = 0;

/** A command went through: all is well. */
export function wentThrough() {
  lastTries = 0;
  if (!lineIs("up")) up();
}

function up() {
  clearTimeout(next);
  set({ state: "up" });
}

function askAgain(seconds: number) {
  clearTimeout(next);
  next = setTimeout(() => void ask(), 1000 * seconds);
}

/** Ask whether the server is there; everything that waited goes on when it is. */
async function ask() {
  try {
    await api.GET("/api/session");
    up();
  } catch (error) {
    const { line } = useLine.getState();
    if (failureOf(error as Problem).kind !== "line") return void report(error as Problem);
    const tries = line.state === "down" ? line.tries + 1 : 0;
    set({ state: "down", tries });
    askAgain(Math.min(15, pause(tries)));
  }
}

/** The hand asks for a try now. */
export function tryNow() {
  lastTries = 0;
  clearTimeout(next);
  void ask();
}

/** Somebody has signed in here. */
export function signedIn() {
  lastTries = 0;
  up();
}

globalThis.addEventListener?.("online", () => {
  if (lineIs("down")) tryNow();
});
