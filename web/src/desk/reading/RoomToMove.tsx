import { useEffect, useRef, useState } from "react";
import { usePreferences } from "../../app/preferences";
import { Button } from "../../parts/Button";
import { useDesk } from "../store";
import { inAll, lookRound, lost, stopLooking, useRoom, type Move } from "./room";

/** How long the hand rests before moves are tried [ms]. */
const REST = 2500;

/** What a lean, a turned head, getting up do to the light; looked for while it is unfolded. */
export function RoomToMove() {
  const open = usePreferences((p) => p.room);
  const draft = useDesk((d) => d.draft);
  const busy = useDesk((d) => d.inspecting);
  const { moves: known, running, fault, draft: of } = useRoom();
  const moves = known ?? [];
  const stale = of !== draft;
  useEffect(() => {
    if (!open || busy || !stale) return;
    const rest = setTimeout(() => void lookRound(), REST);
    return () => clearTimeout(rest);
  }, [open, busy, stale]);
  // What was begun from another draft is not gone on with, nor what nobody looks at.
  useEffect(() => (open ? stopLooking : undefined), [open, draft]);
  const left = moves.filter((m) => m.trial === null).length;
  return (
    <li>
      <button
        type="button"
        aria-expanded={open}
        onClick={() => usePreferences.setState({ room: !open })}
        className="min-h-8 w-full rounded px-2 text-left text-sm text-quiet hover:bg-raised"
      >
        <span className="block">Room to move</span>
        {open && !stale && <span className="block text-xs">{inAll(moves)}</span>}
      </button>
      {open && (
        <div role="group" aria-label="Room to move" aria-busy={running || stale} className="pb-1">
          <ul className={stale ? "opacity-60" : ""}>
            {moves.map((m) => (
              <One key={m.words} move={m} />
            ))}
          </ul>
          {running && (
            <div className="flex items-center gap-1 px-2 text-xs">
              <progress
                aria-label="Moves tried"
                className="h-1.5 min-w-0 flex-1 accent-lamp"
                {...(known ? { value: moves.length - left, max: moves.length } : {})}
              />
              <Button look="bare" className="px-2 text-xs" onClick={stopLooking}>
                Stop
              </Button>
            </div>
          )}
          {!running && !stale && (fault || !known || left > 0) && (
            <div className="flex items-center gap-1 px-2 text-xs">
              <p role="status" className={`flex-1 ${fault ? "text-fault" : "text-quiet"}`}>
                {fault || (known ? `${left} not tried` : "not tried")}
              </p>
              <Button look="bare" className="px-2 text-xs" onClick={() => void lookRound()}>
                Again
              </Button>
            </div>
          )}
        </div>
      )}
    </li>
  );
}

function One({ move: { words, trial } }: { move: Move }) {
  const [open, setOpen] = useState(false);
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (open) row.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  if (trial === null) return <li className="px-2 text-sm text-quiet">{words}</li>;
  if (typeof trial === "string")
    return (
      <li className="px-2 text-sm">
        {words} <span className="text-xs text-fault">{trial}</span>
      </li>
    );
  const what = lost(trial.does);
  return (
    <li ref={row}>
      <button
        type="button"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        className="w-full rounded px-2 py-1 text-left text-sm hover:bg-raised"
      >
        <span className="block">{words}</span>
        <span className={`block text-xs ${what.length ? "text-lamp" : "text-calm"}`}>
          {what.length ? what.slice(0, 3).join("; ") : "the light keeps"}
          {what.length > 3 && ` and ${what.length - 3} more`}
        </span>
      </button>
      {open && (
        <img
          src={trial.now}
          alt={`${words}: the picture`}
          className="mx-2 aspect-video w-40 rounded-sm"
        />
      )}
    </li>
  );
}
