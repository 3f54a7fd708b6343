/** What a hand asks of the server: to keep a draft, to undo, to redo. Each has a key of its own. */
import type { Document } from "../../app/api";

export type Save = { key: string; way: "save"; document: Document; gesture: string };
export type Turn = { key: string; way: "undo" | "redo" };
export type Command = Save | Turn;

export const newKey = () =>
  globalThis.crypto?.randomUUID?.() ?? `${Date.now().toString(36)}-${Math.random().toString(36)}`;

export const save = (document: Document, gesture: string, key: string = newKey()): Save => ({
  key,
  way: "save",
  document,
  gesture: gesture.slice(0, 120),
});

/**
 * The document that will stand once all commands are through; null when only the server knows it,
 * for an undo reaches back to before what waits here.
 */
export function outlook(stored: Document | null, commands: readonly Command[]): Document | null {
  let line: (Document | null)[] = [stored],
    at = 0;
  for (const command of commands) {
    if (command.way === "save") line = [...line.slice(0, ++at), command.document];
    else if (command.way === "undo" && at > 0) at--;
    else if (command.way === "redo" && at < line.length - 1) at++;
    else [line, at] = [[null], 0];
  }
  return line[at]!;
}

/**
 * Commands without one that the server will not take: what was saved after it holds it already, and
 * an undo right behind it meant it.
 */
export function without(commands: readonly Command[], key: string): Command[] {
  const at = commands.findIndex((c) => c.key === key);
  const undone = commands[at]?.way === "save" && commands[at + 1]?.way === "undo" ? 2 : 1;
  return at < 0 ? [...commands] : [...commands.slice(0, at), ...commands.slice(at + undone)];
}
