/** The session of the set-up on the desk, and what the store shows of it. */
import type { Document, SetupRecord } from "../../app/api";
import { adopt, keepBy, readDesk, setDesk } from "../store";
import { lineIs, signedIn } from "./line";
import { leaveSession, openSession, type Session } from "./queue";

let session: Session | null = null;

/** Show what a session came to; a document from the server replaces the draft. */
function show(changed: Session, fresh: Document | null) {
  if (changed !== session) return;
  const { record, stored, version, standing, commands } = changed;
  const before = readDesk();
  const document = fresh ?? before.draft;
  // Undo reaches back to what only the server knows: until it answers, the hand waits.
  const open = commands.length > 0 && changed.outlook === null;
  if (standing.kind === "refused" && standing.path.endsWith(".ies")) {
    // A file that is refused leaves everything as it was.
    changed.putBack();
    return setDesk({ fault: { text: standing.text, path: standing.path } });
  }
  if (fresh && fresh !== before.draft) adopt({ ...record, document: fresh });
  setDesk({
    record,
    stored,
    version,
    standing,
    unsent: commands.length,
    turning: open,
    draft: document,
    ...(standing.kind === "refused"
      ? { fault: { text: standing.text, path: standing.path } }
      : standing.kind === "kept" && standing.said
        ? { fault: { text: standing.said, path: "" } }
        : before.standing.kind === "refused"
          ? { fault: null }
          : {}),
  });
}

/** Take a set-up in hand, with the commands of an earlier visit that never reached the server. */
export async function openSetup(record: SetupRecord) {
  const opened = await openSession(record, show);
  session = opened.session;
  adopt({ ...session.record, document: session.outlook ?? session.stored });
  show(session, null);
  if (lineIs("signed-out")) signedIn();
  if (opened.damaged)
    setDesk({
      fault: {
        text: "Edits of an earlier visit were damaged in this browser and could not be read.",
        path: "",
      },
    });
}

/** Put the set-up down: what waits is stored behind the scenes, and `stored` called then. */
export function leaveSetup(stored: () => void) {
  if (session) leaveSession(session, stored);
  session = null;
  setDesk({ record: null, draft: null, stored: null, mix: null, look: null, solo: null });
  setDesk({ chosen: null, unsent: 0, standing: { kind: "kept" }, turning: false });
}

keepBy(
  (document, gesture) => session?.save(document, gesture),
  (document, gesture) => session?.hold(document, gesture),
);

export function undo() {
  session?.turn("undo");
}

export function redo() {
  session?.turn("redo");
}

/** Give up what the server will not take. */
export function putBack() {
  session?.putBack();
}

/** After a conflict: take theirs and keep mine beside it, or put mine on top. */
export function resolve(take: "theirs" | "mine") {
  const mine = readDesk().draft;
  if (!session || !mine) return;
  if (take === "mine") session.putMineOnTop(mine);
  else void session.takeTheirs(mine);
}

/** Try again what was not ours to change. */
export const goOn = () => session?.tryAgain();
