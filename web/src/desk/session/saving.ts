/** Stores gestures one after the other; keeps them through a lost connection and a closed page. */
import { api, got, Problem, type Document, type SetupRecord } from "../../app/api";
import { adopt, readDesk, setDesk, useDesk, type Conflict, type Gesture } from "../store";

const keptAt = (setup: number) => `inkwell-unsent-${setup}`;
let busy = false;

type Kept = { version: number; queue: Gesture[] };

function keep() {
  const { record, queue, version } = readDesk();
  if (!record) return;
  try {
    if (queue.length)
      localStorage.setItem(keptAt(record.id), JSON.stringify({ version, queue } satisfies Kept));
    else localStorage.removeItem(keptAt(record.id));
  } catch {
    /* a full or forbidden store: the edits still wait in memory */
  }
}

/** Take a set-up in hand, with the edits of an earlier visit that never reached the server. */
export function takeUp(record: SetupRecord) {
  // Read first: a queue that begins anew empties what is kept.
  const text = localStorage.getItem(keptAt(record.id));
  adopt(record);
  if (!text) return;
  const { version, queue } = JSON.parse(text) as Kept;
  const draft = queue.at(-1)?.document;
  if (draft) setDesk({ queue, draft, version });
}

async function pump() {
  const { record, queue, version, conflict } = readDesk();
  const first = queue[0];
  if (busy || !record || !first || conflict) return;
  busy = true;
  setDesk({ status: "saving" });
  try {
    const stored = await got<SetupRecord>(
      api.PUT("/api/setups/{pk}", {
        params: { path: { pk: record.id } },
        body: { ...first, base_version: version },
      }),
    );
    if (readDesk().record?.id === record.id) {
      setDesk((desk) => ({
        record: stored,
        version: stored.version,
        stored: first.document,
        queue: desk.queue.slice(1),
        status: "kept",
      }));
    }
  } catch (error) {
    if (readDesk().record?.id === record.id) refused(error as Problem);
  } finally {
    busy = false;
    keep();
    if (readDesk().status !== "offline") void pump();
  }
}

const KNOCK_EVERY = 2000;
let knocking: ReturnType<typeof setInterval> | undefined;

/** While the line is down, knock; when the server answers, everything that waited goes on. */
function knock() {
  void api.GET("/api/session").then(
    () => setDesk(({ queue }) => ({ status: queue.length ? "saving" : "kept" })),
    () => undefined,
  );
}

function refused(error: Problem) {
  if (error.status === 0 || error.status >= 500 || error.status === 429) {
    setDesk({ status: "offline" });
  } else if (error.status === 409) {
    setDesk({ conflict: error.body as unknown as Conflict, status: "kept" });
  } else {
    // The gesture cannot be: go back to what is stored, and say why.
    setDesk((desk) => ({
      queue: [],
      draft: desk.stored,
      status: "kept",
      fault: { text: error.message, path: error.path },
    }));
  }
}

useDesk.subscribe((desk, before) => {
  if (desk.queue !== before.queue) keep();
  if (desk.status !== "offline" && (desk.queue !== before.queue || before.status === "offline"))
    void pump();
  if (desk.status !== before.status) {
    clearInterval(knocking);
    if (desk.status === "offline") knocking = setInterval(knock, KNOCK_EVERY);
  }
});

/** Wait until every gesture is stored. */
export function flushed(): Promise<void> {
  return new Promise((done) => {
    if (!readDesk().queue.length) return done();
    const stop = useDesk.subscribe((desk) => {
      if (!desk.queue.length) {
        stop();
        done();
      }
    });
  });
}

export async function step(way: "undo" | "redo") {
  await flushed();
  const { record, version } = readDesk();
  if (!record) return;
  try {
    adopt(
      await got<SetupRecord>(
        api.POST(`/api/setups/{pk}/${way}`, {
          params: { path: { pk: record.id } },
          body: { base_version: version },
        }),
      ),
    );
  } catch (error) {
    const problem = error as Problem;
    if (problem.status === 409) setDesk({ conflict: problem.body as unknown as Conflict });
    else setDesk({ fault: { text: problem.message, path: problem.path } });
  }
}

/** After a 409: take the newer document and drop mine, or store mine on top of it. */
export function resolve(take: "theirs" | "mine") {
  const { conflict, queue } = readDesk();
  if (!conflict) return;
  const mine = queue.at(-1)?.document as Document;
  if (take === "theirs")
    setDesk({
      conflict: null,
      version: conflict.version,
      stored: conflict.document,
      draft: conflict.document,
      queue: [],
    });
  else
    setDesk({
      conflict: null,
      version: conflict.version,
      stored: conflict.document,
      queue: [{ document: mine, gesture: "kept mine over a newer change" }],
    });
}
