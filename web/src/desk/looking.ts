/** Asks the server what the draft looks like: one question in flight, the newest draft next. */
import { useEffect } from "react";
import { api, got, type Look, type Problem } from "../app/api";
import { useShallow } from "zustand/react/shallow";
import { readDesk, setDesk, useDesk } from "./store";
import { usePreferences } from "./preferences";

const client = crypto.randomUUID?.() ?? String(Math.random());
let flying = false;
let again = false;

async function ask() {
  const { record, draft, solo, stored } = readDesk();
  if (!record || !draft) return;
  if (flying) { again = true; return; }
  flying = true;
  // A viewer looks at what is stored; only an editor may send a draft.
  const document = draft === stored ? null : draft;
  try {
    const look = await got<Look>(api.POST("/api/setups/{pk}/look", {
      params: { path: { pk: record.id } }, body: { document, only: solo, step: usePreferences.getState().step, client, picture: true },
    }));
    if (readDesk().record?.id === record.id) {
      setDesk({ look, ...(readDesk().draft === draft ? { fault: draft === stored ? readDesk().fault : null } : {}) });
    }
  } catch (error) {
    const { status, message, path } = error as Problem;
    if (status === 0 || status >= 500) setDesk({ status: "offline" });
    else setDesk({ fault: { text: message, path } });
  } finally {
    flying = false;
    if (again) { again = false; void ask(); }
  }
}

/** Keep `look` in the store up to date with the draft, the solo and the preferences. */
export function useLooking() {
  const { draft, solo, id } = useDesk(useShallow((d) => ({ draft: d.draft, solo: d.solo, id: d.record?.id })));
  const step = usePreferences((p) => p.step);
  const down = useDesk((d) => d.status === "offline");
  useEffect(() => { if (!down) void ask(); }, [draft, solo, step, id, down]);
}
