import { useState } from "react";
import { Button } from "./Button";

/** Asks for a reason, which is kept with what it is given for; an empty one does nothing. */
export function Why({
  label,
  doIt,
  give,
  leave,
}: {
  label: string;
  /** What the button says. */
  doIt: string;
  give: (reason: string) => void;
  leave: () => void;
}) {
  const [why, setWhy] = useState("");
  function given() {
    if (why.trim()) give(why.trim());
  }
  return (
    <div className="grid gap-1">
      <label className="grid gap-0.5 text-quiet">
        {label}
        <input
          autoFocus
          maxLength={200}
          className="h-10 min-w-0 rounded border border-line bg-ink px-2 text-sm text-paper"
          value={why}
          onChange={(e) => setWhy(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter") given();
            if (e.key === "Escape") leave();
          }}
        />
      </label>
      <div className="flex gap-1">
        <Button className="flex-1 px-1" disabled={!why.trim()} onClick={given}>
          {doIt}
        </Button>
        <Button look="bare" className="flex-1 px-1" onClick={leave}>
          Leave
        </Button>
      </div>
    </div>
  );
}
