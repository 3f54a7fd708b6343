import { useEffect, useRef, useState } from "react";
import type { Constants } from "../../app/api";
import { Button } from "../../parts/Button";
import { Why } from "../../parts/Why";
import { AskFor } from "../ask/AskFor";
import { takeTo } from "../order/order";
import { choose, mayEdit, useDesk } from "../store";
import { Limits } from "./Limits";
import { RoomToMove } from "./RoomToMove";
import { Mending } from "./Mending";
import { SayWhy } from "./SayWhy";
import { Found } from "./Found";
import { isOpen, meanIt, summary, take, unmeant, type Reading } from "./reading";

const KINDS = [
  ["outline", "Outline"],
  ["face", "Face"],
  ["eyes", "Eyes"],
  ["skin", "Skin and clothes"],
  ["whites", "Whites"],
  ["backdrop", "Backdrop"],
  ["frame", "In the frame"],
  ["mirrored", "Mirrored"],
  ["lamps", "Lamps in the frame"],
  ["reasons", "Reasons for light"],
  ["sound", "Sound"],
] as const;

/** The picture read, beside it: the worst first, then what is well. */
export function ReadingColumn({ limits }: { limits: Constants["limits"] }) {
  const readings = useDesk((d) => d.judged?.readings);
  const chosen = useDesk((d) => d.reading);
  const busy = useDesk((d) => d.inspecting);
  const editable = useDesk(mayEdit);
  const [asking, setAsking] = useState(false);
  const [limiting, setLimiting] = useState(false);
  if (!readings)
    return <p className="p-3 text-quiet">The picture is read when the frame is whole…</p>;
  if (!readings.length)
    return <p className="p-3 text-quiet">Nobody who is lit is in the picture.</p>;
  const open = readings.filter(isOpen),
    rest = readings.filter((r) => !isOpen(r));
  return (
    <div className="flex min-h-0 flex-1 flex-col" aria-busy={busy}>
      <ul aria-label="Readings of the picture" className="min-h-0 flex-1 overflow-y-auto px-2">
        {open.map((r) => (
          <Row key={r.key} reading={r} open={chosen === r.key} />
        ))}
        {rest.length > 0 && (
          <li className="px-2 pt-2 text-xs text-quiet">As it should be, or meant so:</li>
        )}
        {KINDS.map(([kind, title]) => {
          const own = rest.filter((r) => r.kind === kind);
          return own.length ? (
            <Well key={kind} title={title} readings={own} chosen={chosen} />
          ) : null;
        })}
        {editable && <RoomToMove />}
      </ul>
      <p role="status" aria-label="Readings in all" className="px-3 py-2 text-xs text-quiet">
        {summary(readings)}
      </p>
      <div className="mx-2 mb-2 flex gap-1">
        {editable && (
          <Button className="flex-1" onClick={() => setAsking(true)}>
            Ask for it…
          </Button>
        )}
        <Button look="bare" onClick={() => setLimiting(true)}>
          Limits…
        </Button>
      </div>
      <Limits limits={limits} open={limiting} close={() => setLimiting(false)} />
      <AskFor open={asking} close={() => setAsking(false)} />
    </div>
  );
}

/** Readings of a kind that ask for nothing: folded, for they are many. */
function Well(props: { title: string; readings: Reading[]; chosen: string | null }) {
  const { title, readings, chosen } = props;
  const [open, setOpen] = useState(false);
  const shown = open || readings.some((r) => r.key === chosen);
  return (
    <li>
      <button
        type="button"
        aria-expanded={shown}
        onClick={() => setOpen(!shown)}
        className="flex min-h-8 w-full items-center gap-2 rounded px-2 text-left text-sm text-quiet hover:bg-raised"
      >
        <span className="flex-1">{title}</span>
        <span className="text-xs">{readings.length}</span>
      </button>
      {shown && (
        <ul>
          {readings.map((r) => (
            <Row key={r.key} reading={r} open={chosen === r.key} />
          ))}
        </ul>
      )}
    </li>
  );
}

function Row({ reading: r, open }: { reading: Reading; open: boolean }) {
  const [name, side] = r.name.split(/, (?=camera )/);
  const row = useRef<HTMLLIElement>(null);
  // Opened at the foot of the list, what it says would lie below.
  useEffect(() => {
    if (open) row.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  return (
    <li
      ref={row}
      className={`mb-0.5 rounded border ${open ? "border-lamp bg-raised" : "border-transparent"}`}
    >
      <button
        type="button"
        aria-expanded={open}
        onClick={() => take(r.key)}
        className="flex min-h-10 w-full items-center gap-2 rounded px-2 text-left hover:bg-raised"
      >
        <Sign verdict={r.meant ? "meant" : r.verdict} />
        <span className={`min-w-0 flex-1 ${isOpen(r) ? "" : "text-quiet"}`}>
          <span className="block truncate">{name}</span>
          <span className="block truncate text-xs text-quiet">
            {side && `${side} · `}
            {r.meant ? "meant so" : r.word}
          </span>
        </span>
      </button>
      {open && <Body reading={r} />}
    </li>
  );
}

function Body({ reading: r }: { reading: Reading }) {
  const editable = useDesk(mayEdit);
  const busy = useDesk((d) => d.inspecting);
  const unit = useDesk((d) => d.draft!.units.find((u) => u.id === r.unit));
  const [meaning, setMeaning] = useState(false);
  function mean(why: string) {
    meanIt(r, why);
    setMeaning(false);
  }
  return (
    <div className="grid gap-1.5 px-2 pb-2 text-xs">
      <p>
        <b>{r.word}</b>: {r.words}.
      </p>
      <p className="text-quiet">{r.meant ? `Meant so: ${r.meant}` : r.why}</p>
      {r.drawn.length > 0 && <Found reading={r} />}
      {unit && r.dimmer == null && (
        <Button look="bare" onClick={() => choose(unit.id)}>
          {unit.name} in hand
        </Button>
      )}
      {editable && unit && r.dimmer != null && (
        <Button disabled={busy} onClick={() => takeTo(unit.id, r.dimmer!)}>
          Take {unit.name} to {(100 * r.dimmer).toFixed(0)} %
        </Button>
      )}
      {editable && isOpen(r) && <Mending reading={r} />}
      {editable && r.kind === "reasons" && !r.meant && r.unit && <SayWhy unit={r.unit} />}
      {editable && r.meant && (
        <Button look="bare" onClick={() => unmeant(r)}>
          Not meant any more
        </Button>
      )}
      {editable && isOpen(r) && !meaning && (
        <Button look="bare" onClick={() => setMeaning(true)}>
          It is meant so…
        </Button>
      )}
      {meaning && (
        <Why
          label="Why it is meant"
          doIt="Set it aside"
          give={mean}
          leave={() => setMeaning(false)}
        />
      )}
    </div>
  );
}

/** A thread: broken where something is in the way, frayed to look at, whole when well. */
function Sign({ verdict }: { verdict: Reading["verdict"] | "meant" }) {
  const words = { fault: "in the way", mind: "to look at", well: "well", meant: "meant so" };
  return (
    <svg
      role="img"
      aria-label={words[verdict]}
      width="18"
      height="18"
      viewBox="0 0 18 18"
      className="shrink-0 fill-none"
      strokeWidth="2"
      strokeLinecap="round"
    >
      {verdict === "fault" && (
        <path d="M2 13c2 -5 4 -6 5 -7M11 12c1 -1 3 -2 5 -7" className="stroke-fault" />
      )}
      {verdict === "mind" && (
        <path d="M2 13C6 4 12 14 16 5" className="stroke-lamp" strokeDasharray="2.5 3.5" />
      )}
      {verdict === "well" && <path d="M2 13C6 4 12 14 16 5" className="stroke-calm" />}
      {verdict === "meant" && (
        <path d="M2 13C6 4 12 14 16 5" className="stroke-quiet" strokeWidth="1" />
      )}
    </svg>
  );
}
