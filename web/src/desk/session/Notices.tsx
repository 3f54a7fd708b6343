import { useShallow } from "zustand/react/shallow";
import { Button } from "../../parts/Button";
import { Sheet } from "../../parts/Sheet";
import { tryNow, useLine } from "./line";
import { goOn, putBack, resolve } from "./session";
import { SignInHere } from "./SignInHere";
import { readDesk, setDesk, useDesk } from "../store";

const counted = (n: number) => `${n} edit${n > 1 ? "s are" : " is"}`;

/** What went wrong, in words, without taking the desk away. */
export function Notices() {
  const line = useLine((l) => l.line);
  const standing = useDesk((d) => d.standing);
  return (
    <>
      <div className="pointer-events-none absolute inset-x-4 bottom-2 grid justify-items-center gap-2">
        <LineNotice />
        <Fault />
        <Said />
        {standing.kind === "not-yours" && <NotYours text={standing.text} />}
      </div>
      {line.state === "signed-out" && <SignInHere />}
      {standing.kind === "conflict" && <Conflict />}
    </>
  );
}

/** The server cannot be reached, or answers with a fault: two things, and told apart. */
function LineNotice() {
  const line = useLine((l) => l.line),
    unsent = useDesk((d) => d.unsent);
  if (line.state !== "down" && line.state !== "faulty") return null;
  const kept = unsent ? `${counted(unsent)} kept here and sent again.` : "";
  return (
    <p
      role="alert"
      className="pointer-events-auto flex items-center gap-3 rounded border border-fault bg-panel py-1 pl-4"
    >
      {line.state === "down" ? (
        <span>The server cannot be reached. {kept || "It is tried again."}</span>
      ) : (
        <span>
          The server answers, but with a fault: {line.text} {kept}{" "}
          {line.resting && "It was tried several times."}
        </span>
      )}
      <Button look="bare" onClick={tryNow}>
        Try now
      </Button>
    </p>
  );
}

/** What cannot be: beside it, for an edit that is held, the way back. */
function Fault() {
  const { fault, held } = useDesk(
    useShallow((d) => ({ fault: d.fault, held: d.standing.kind === "refused" })),
  );
  const path = fault && /^units\[(\d+)\]/.exec(fault.path);
  const unit = useDesk((d) => (path ? d.draft?.units[Number(path[1])]?.name : null));
  if (!fault) return null;
  return (
    <p
      role="alert"
      className="pointer-events-auto flex items-center gap-3 rounded border border-fault bg-panel py-1 pl-4"
    >
      <span>
        {unit && !fault.text.includes(unit) && <b>{unit}: </b>}
        {fault.text}
      </span>
      {held ? (
        <Button look="bare" onClick={putBack}>
          Put it back
        </Button>
      ) : (
        <Button look="bare" aria-label="Dismiss" onClick={() => setDesk({ fault: null })}>
          ✕
        </Button>
      )}
    </p>
  );
}

/** What the desk did besides what was asked; gone with the next gesture. */
function Said() {
  const said = useDesk((d) => d.said);
  if (!said) return null;
  return (
    <p
      role="status"
      className="pointer-events-auto flex items-center gap-3 rounded border border-line bg-panel py-1 pl-4"
    >
      {said}
      <Button look="bare" aria-label="Understood" onClick={() => setDesk({ said: "" })}>
        ✕
      </Button>
    </p>
  );
}

function NotYours({ text }: { text: string }) {
  const unsent = useDesk((d) => d.unsent);
  function save() {
    const { draft } = readDesk();
    const link = document.createElement("a");
    link.href = URL.createObjectURL(
      new Blob([JSON.stringify(draft, null, 2)], { type: "application/json" }),
    );
    link.download = `${draft?.title ?? "set-up"}.setup.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  }
  return (
    <p
      role="alert"
      className="pointer-events-auto flex items-center gap-2 rounded border border-fault bg-panel py-1 pl-4"
    >
      <span>
        {text} {counted(unsent)} kept here.
      </span>
      <Button look="bare" onClick={goOn}>
        Try again
      </Button>
      <Button look="bare" onClick={save}>
        Save as a file
      </Button>
    </p>
  );
}

function Conflict() {
  const standing = useDesk((d) => d.standing);
  if (standing.kind !== "conflict") return null;
  const { theirs, said } = standing;
  return (
    <Sheet open close={() => undefined} title="Somebody was quicker">
      <p className="text-quiet">
        {theirs.author ?? "Somebody"} changed this set-up ({theirs.gesture}) while you worked.
        Nothing of either is lost: whichever you choose, the other stays in the history.
      </p>
      {said && (
        <p role="alert" className="mt-2 text-fault">
          {said}
        </p>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={() => resolve("mine")}>Put mine on top</Button>
        <Button look="lamp" onClick={() => resolve("theirs")} autoFocus>
          Take theirs
        </Button>
      </div>
    </Sheet>
  );
}
