/**
 * Commands that wait, kept in the browser's own database: through a closed page, under the name of
 * whoever gave them, each window's apart.
 */
import { createStore, del, entries, set } from "idb-keyval";
import type { Command } from "./commands";

export type Note = { version: number; revision: number; commands: Command[]; at: number };

let opened: ReturnType<typeof createStore> | undefined;
/** One connection: what is written through it is written in order. */
const store = () => (opened ??= createStore("inkwell-moth", "unsent"));
const WINDOW = "inkwell-window";
const LEAVING = "inkwell-leaving\n";
const prefix = (user: string, setup: number) => `${user}\n${setup}\n`;

/** Name of this window, the same when its page is loaded again. */
export const windowName = (() => {
  try {
    const name = sessionStorage.getItem(WINDOW) ?? crypto.randomUUID();
    sessionStorage.setItem(WINDOW, name);
    return name;
  } catch {
    return Math.random().toString(36);
  }
})();

/** Hold a lock as long as this window lives: so others can tell that its notes are its own. */
void globalThis.navigator?.locks?.request(
  `inkwell-${windowName}`,
  () => new Promise(() => undefined),
);

const gone = async (name: string) =>
  name === windowName ||
  !globalThis.navigator?.locks ||
  navigator.locks.request(`inkwell-${name}`, { ifAvailable: true }, (lock) => lock !== null);

/** Keep what waits, or forget it when nothing does. */
export async function keep(user: string, setup: number, note: Note): Promise<void> {
  const at = prefix(user, setup) + windowName;
  try {
    await (note.commands.length ? set(at, note, store()) : del(at, store()));
  } catch {
    // A full or forbidden store: what waits still waits in memory.
  }
}

/** The same at once, while the page may be left: the database may not have the time. */
export function keepNow(user: string, setup: number, note: Note) {
  try {
    localStorage.setItem(LEAVING + prefix(user, setup) + windowName, JSON.stringify(note));
  } catch {
    // A full or forbidden store: the database may still have made it.
  }
}

/** Forget what was kept at once. */
export function dropNow(user: string, setup: number) {
  globalThis.localStorage?.removeItem(LEAVING + prefix(user, setup) + windowName);
}

/** Notes that were kept at once, by whose and which set-up's they are; not taken out. */
const keptAtOnce = (): [string, unknown][] =>
  Object.keys(globalThis.localStorage ?? {})
    .filter((at) => at.startsWith(LEAVING))
    .map((at) => {
      try {
        return [at.slice(LEAVING.length), JSON.parse(localStorage.getItem(at)!)];
      } catch {
        return [at.slice(LEAVING.length), null];
      }
    });

const isNote = (note: unknown): note is Note => {
  const { version, revision, commands } = (note ?? {}) as Partial<Note>;
  return (
    Number.isInteger(version) &&
    Number.isInteger(revision) &&
    Array.isArray(commands) &&
    commands.every(
      (c) =>
        typeof c?.key === "string" &&
        (c.way === "undo" || c.way === "redo" || (c.way === "save" && !!c.document?.figures)),
    )
  );
};

/**
 * Notes that this person left for a set-up, oldest first, of this window and of those that are
 * gone; they are this window's from here on. What cannot be read is dropped, and counted.
 */
export async function takeNotes(user: string, setup: number) {
  const found: Note[] = [];
  let damaged = 0;
  const take = async (notes: [string, unknown][], drop: (at: string) => unknown) => {
    for (const [at, note] of notes) {
      if (typeof at !== "string" || !at.startsWith(prefix(user, setup))) continue;
      if (!(await gone(at.slice(prefix(user, setup).length)))) continue;
      await drop(at);
      if (!isNote(note)) damaged++;
      // A page may have left the same commands twice: they are done once.
      else if (!found.some((f) => f.commands.at(-1)?.key === note.commands.at(-1)?.key))
        found.push(note);
    }
  };
  await take(keptAtOnce(), (at) => localStorage.removeItem(LEAVING + at));
  try {
    await take(await entries<string, unknown>(store()), (at) => del(at, store()));
  } catch {
    // No store to read from: nothing was kept there.
  }
  return { notes: found.sort((a, b) => a.at - b.at), damaged };
}
