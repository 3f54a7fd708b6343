/**
 * One serial queue a set-up, which alone knows the version. It lives until all is stored, also
 * after the desk was left. Its rule: one command at a time, in the order of the hand; a failure of
 * the line waits for the line; one that is refused steps aside and stops nothing.
 */
import {
  api,
  currentUser,
  got,
  type Document,
  type Problem,
  type SetupRecord,
} from "../../app/api";
import { newKey, outlook, save, without, type Command, type Save } from "./commands";
import { failureOf, type Failure, type Theirs } from "./failures";
import { lineIs, report, useLine, wentThrough } from "./line";
import { dropNow, keep, keepNow, takeNotes, type Note } from "./unsent";

export type Standing =
  | { kind: "kept"; said?: string }
  | { kind: "sending" }
  | { kind: "waiting" }
  | { kind: "refused"; text: string; path: string }
  | { kind: "not-yours"; text: string }
  | { kind: "conflict"; theirs: Theirs; said: string };

/** Bodies up to this length are sent so that they arrive though the page is left meanwhile. */
const OUTLIVES = 60_000;

export class Session {
  readonly id: number;
  version: number;
  revision: number;
  stored: Document;
  commands: Command[] = [];
  standing: Standing = { kind: "kept" };
  private sending = false;
  /** Key of a command that the server will not take as it is. */
  private refused: string | null = null;
  /** What keys are still making: no command yet. */
  private held: Save | null = null;

  constructor(
    public record: SetupRecord,
    readonly user: string,
    /** Told of every change; `fresh` is a document from the server, not from the hand. */
    private changed: (session: Session, fresh: Document | null) => void,
  ) {
    this.id = record.id;
    this.version = record.version;
    this.revision = record.revision;
    this.stored = record.document;
  }

  listen(changed: (session: Session, fresh: Document | null) => void) {
    this.changed = changed;
  }

  get idle() {
    return this.commands.length === 0;
  }

  /** What will stand when all is through; null while only the server knows. */
  get outlook() {
    return outlook(this.stored, this.commands);
  }

  /** Take what another record says, when nothing waits here. */
  refresh(record: SetupRecord) {
    if (!this.idle || record.version < this.version) return;
    this.take(record);
    this.tell({ kind: "kept" }, record.document);
  }

  /** Commands of an earlier visit go before anything else. */
  adopt(note: Note) {
    this.version = note.version;
    this.revision = note.revision;
    this.add(note.commands);
  }

  save(document: Document, gesture: string) {
    const held = this.held;
    this.held = null;
    this.add([save(document, gesture, held?.key)]);
  }

  /**
   * Note a gesture that keys are still making. A page that is busy may go without being told: what
   * it would do last is then not done. Sent by the next visit, it is the same gesture.
   */
  hold(document: Document, gesture: string) {
    this.held = save(document, gesture, this.held?.key);
    const commands = [...this.commands, this.held];
    keepNow(this.user, this.id, { ...this.note, commands });
  }

  turn(way: "undo" | "redo") {
    // What was refused is not there to be undone: it is put back.
    if (way === "undo" && this.standing.kind === "refused") return this.putBack();
    this.add([{ key: newKey(), way }]);
  }

  private add(more: Command[]) {
    if (this.refused) {
      this.commands = without(this.commands, this.refused);
      this.refused = null;
    }
    this.commands = [...this.commands, ...more];
    if (["refused", "kept"].includes(this.standing.kind)) this.standing = { kind: "sending" };
    this.remember();
    this.changed(this, this.outlook);
    void this.pump();
  }

  /** Try again though the set-up was not ours to change: it may be by now. */
  tryAgain() {
    if (this.standing.kind !== "not-yours") return;
    this.standing = { kind: "sending" };
    void this.pump();
  }

  /** Give up what was refused: back to what the server has. */
  putBack() {
    this.commands = [];
    this.refused = null;
    this.remember();
    this.tell({ kind: "kept" }, this.stored);
  }

  /** Go on, if anything waits and may be sent. */
  async pump(): Promise<void> {
    const command = this.commands[0];
    if (this.sending || !command || command.key === this.refused) return;
    if (this.standing.kind === "conflict" || this.standing.kind === "not-yours") return;
    if (!lineIs("up") || currentUser() !== this.user) return this.tell({ kind: "waiting" });
    this.sending = true;
    this.tell({ kind: "sending" });
    try {
      const record = await this.send(command);
      this.commands = without(this.commands, command.key);
      const waits = this.commands.length > 0;
      // The very document that was sent: whoever holds it sees that it is stored.
      this.take(record, command.way === "save" ? command.document : record.document);
      this.remember();
      wentThrough();
      const fresh = command.way === "save" ? null : this.outlook;
      this.tell(waits ? { kind: "sending" } : { kind: "kept" }, fresh);
    } catch (error) {
      this.failed(command, failureOf(error as Problem), error as Problem);
    } finally {
      this.sending = false;
    }
    return this.pump();
  }

  private send(command: Command): Promise<SetupRecord> {
    const path = { params: { path: { pk: this.id } } };
    const base = { base_version: this.version, key: command.key };
    if (command.way !== "save")
      return got<SetupRecord>(api.POST(`/api/setups/{pk}/${command.way}`, { ...path, body: base }));
    const body = { document: command.document, gesture: command.gesture, ...base };
    const keepalive = JSON.stringify(body).length < OUTLIVES;
    return got<SetupRecord>(api.PUT("/api/setups/{pk}", { ...path, body, keepalive }));
  }

  private take(record: SetupRecord, document = record.document) {
    this.record = record;
    this.version = record.version;
    this.revision = record.revision;
    this.stored = document;
  }

  private failed(command: Command, failure: Failure, problem: Problem) {
    if (failure.kind === "conflict") {
      this.tell({ kind: "conflict", theirs: failure.theirs, said: "" });
    } else if (failure.kind === "refused") {
      if (command.way === "save" && this.commands.length === 1) {
        // Nothing after it holds its change: it stays in hand until the hand goes on.
        this.refused = command.key;
        this.tell({ kind: "refused", text: failure.text, path: failure.path });
      } else {
        this.commands = without(this.commands, command.key);
        this.remember();
        this.tell(
          this.idle ? { kind: "kept", said: failure.text } : { kind: "sending" },
          command.way === "save" ? null : this.outlook,
        );
      }
    } else if (failure.kind === "not-yours") {
      this.tell({ kind: "not-yours", text: failure.text });
    } else {
      report(problem);
      this.tell({ kind: "waiting" });
    }
  }

  /** After a conflict: mine as a revision on top of theirs. */
  putMineOnTop(mine: Document) {
    if (this.standing.kind !== "conflict") return;
    const { theirs } = this.standing;
    this.version = theirs.version;
    this.revision = theirs.revision;
    this.stored = theirs.document;
    this.commands = [];
    this.standing = { kind: "kept" };
    this.save(mine, "kept mine over a newer change");
  }

  /** After a conflict: theirs stands, and mine is kept beside it as a branch of the history. */
  async takeTheirs(mine: Document) {
    if (this.standing.kind !== "conflict") return;
    const { theirs } = this.standing,
      first = this.commands[0];
    if (JSON.stringify(mine) !== JSON.stringify(this.stored)) {
      const body = {
        document: mine,
        parent: this.revision,
        gesture: "mine, when theirs was taken",
        key: `${first?.key ?? newKey()}-b`.slice(0, 40),
      };
      try {
        const path = { pk: this.id };
        await api.POST("/api/setups/{pk}/branches", { params: { path }, body });
      } catch (error) {
        const { status, message } = error as Problem;
        if (status === 0 || status === 401) report(error as Problem);
        const said = `Yours could not be kept beside theirs yet. ${message}`;
        return this.tell({ kind: "conflict", theirs, said });
      }
    }
    this.version = theirs.version;
    this.revision = theirs.revision;
    this.stored = theirs.document;
    this.record = { ...this.record, document: theirs.document, undo: theirs.gesture, redo: null };
    this.commands = [];
    this.remember();
    this.tell({ kind: "kept" }, theirs.document);
  }

  private remember() {
    void keep(this.user, this.id, this.note);
  }

  /** The page is being left: what waits is kept at once. */
  rememberNow() {
    if (!this.idle) keepNow(this.user, this.id, this.note);
  }

  private get note(): Note {
    const { version, revision, commands } = this;
    return { version, revision, commands, at: Date.now() };
  }

  private tell(standing: Standing, fresh: Document | null = null) {
    this.standing = standing;
    // A document from the server takes the place of what the keys were making.
    if (fresh) this.held = null;
    if (this.idle && !this.held) dropNow(this.user, this.id);
    this.changed(this, fresh);
  }
}

const sessions = new Map<number, Session>();

/** The session of a set-up: the one still storing what an earlier visit did, or a new one. */
export async function openSession(
  record: SetupRecord,
  changed: (session: Session, fresh: Document | null) => void,
): Promise<{ session: Session; damaged: number }> {
  const user = currentUser() ?? "",
    before = sessions.get(record.id);
  if (before && before.user === user) {
    before.listen(changed);
    before.refresh(record);
    return { session: before, damaged: 0 };
  }
  const session = new Session(record, user, changed);
  sessions.set(record.id, session);
  const { notes, damaged } = await takeNotes(user, record.id);
  for (const note of notes) session.adopt(note);
  return { session, damaged };
}

/** The desk was left: the session stores what waits, and is forgotten when nothing does. */
export function leaveSession(session: Session, stored: () => void = () => undefined) {
  const forget = () => {
    if (!session.idle || sessions.get(session.id) !== session) return;
    sessions.delete(session.id);
    stored();
  };
  session.listen(forget);
  forget();
}

/** The page is being left, also by whoever has left the desk already. */
globalThis.addEventListener?.("pagehide", () => {
  for (const session of sessions.values()) session.rememberNow();
});

useLine.subscribe(({ line }) => {
  if (line.state === "up") for (const session of sessions.values()) void session.pump();
});
