import { useShallow } from "zustand/react/shallow";
import { Button } from "../../parts/Button";
import { Sheet } from "../../parts/Sheet";
import { resolve } from "./saving";
import { setDesk, useDesk } from "../store";

/** What went wrong, in words, without taking the desk away. */
export function Notices() {
  const { fault, status, conflict, queue } = useDesk(
    useShallow(({ fault, status, conflict, queue }) => ({ fault, status, conflict, queue })),
  );
  const path = fault && /^units\[(\d+)\]/.exec(fault.path);
  const unit = useDesk((d) => (path ? d.draft?.units[Number(path[1])]?.name : null));
  return (
    <>
      <div className="pointer-events-none absolute inset-x-4 bottom-2 grid justify-items-center gap-2">
        {status === "offline" && (
          <p role="alert" className="rounded border border-fault bg-panel px-4 py-2">
            The server cannot be reached.{" "}
            {queue.length
              ? `${queue.length} edit${queue.length > 1 ? "s are" : " is"} kept here and sent again.`
              : "It is tried again."}
          </p>
        )}
        {fault && (
          <p
            role="alert"
            className="pointer-events-auto flex items-center gap-3 rounded border border-fault bg-panel py-1 pl-4"
          >
            <span>
              {unit && !fault.text.includes(unit) && <b>{unit}: </b>}
              {fault.text}
            </span>
            <Button look="bare" aria-label="Dismiss" onClick={() => setDesk({ fault: null })}>
              ✕
            </Button>
          </p>
        )}
      </div>
      {conflict && (
        <Sheet open close={() => undefined} title="Somebody was quicker">
          <p className="text-quiet">
            This set-up was changed elsewhere ({conflict.gesture}) while you worked. Nothing of
            either is lost: every change is a revision.
          </p>
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={() => resolve("mine")}>Put mine on top</Button>
            <Button look="lamp" onClick={() => resolve("theirs")} autoFocus>
              Take theirs
            </Button>
          </div>
        </Sheet>
      )}
    </>
  );
}
