import { useState } from "react";
import { api, type Problem, type Schemas } from "../app/api";
import { Button } from "../parts/Button";
import { Sheet } from "../parts/Sheet";

/** What was learnt from a trial, kept with it. */
export function Notes({
  trial,
  editable,
  close,
  refresh,
}: {
  trial: Schemas["TrialOut"];
  editable: boolean;
  close: () => void;
  /** Done once the trial is here as it is kept. */
  refresh: () => Promise<void>;
}) {
  const [text, setText] = useState(trial.notes),
    [fault, setFault] = useState("");
  async function keep() {
    try {
      await api.PATCH("/api/trials/{pk}", {
        params: { path: { pk: trial.id } },
        body: { notes: text },
      });
      // Opened again before that, it would show the old ones.
      await refresh();
      close();
    } catch (error) {
      setFault((error as Problem).message);
    }
  }
  return (
    <Sheet open close={close} title="Notes on this trial" wide>
      <textarea
        aria-label="Notes on this trial"
        className="h-60 w-full rounded border border-line bg-ink p-3"
        value={text}
        readOnly={!editable}
        maxLength={20000}
        onChange={(e) => setText(e.target.value)}
      />
      {fault && (
        <p role="alert" className="text-fault">
          {fault}
        </p>
      )}
      <div className="flex justify-end gap-2 pt-2">
        <Button look="bare" onClick={close}>
          {editable ? "Leave" : "Close"}
        </Button>
        {editable && (
          <Button look="lamp" onClick={() => void keep()}>
            Keep them
          </Button>
        )}
      </div>
    </Sheet>
  );
}
