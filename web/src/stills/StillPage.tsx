import { useState } from "react";
import { Link, useParams } from "react-router";
import { AccountMenu } from "../parts/AccountMenu";
import { Blank } from "../parts/Blank";
import { Button } from "../parts/Button";
import { Against, type Held } from "./Against";
import { CameraPanel } from "./CameraPanel";
import { LightsPanel } from "./LightsPanel";
import { Pair } from "./Pair";
import { ReadPanel } from "./ReadPanel";
import { RecordPanel } from "./RecordPanel";
import { Stage } from "./Stage";
import { pictureOf } from "./Stills";
import type { Still } from "./storing";
import { useDraft, useRead, useStill } from "./useStill";
import type { Tool } from "./marks";

const PAGES = ["Record", "Camera", "Lights", "Read", "Match"] as const;

/** One still: marked, read, laid under a figure, its light taken apart and built. */
export function StillPage() {
  const still = useStill(Number(useParams().id));
  if (still.error) return <Blank retry={() => void still.refetch()}>{still.error.message}</Blank>;
  if (!still.data) return <Blank>Laying out the still…</Blank>;
  return <Marking key={still.data.id} still={still.data} />;
}

function Marking({ still }: { still: Still }) {
  const hand = useDraft(still);
  const { draft } = hand;
  const { read, stale, fault: unread } = useRead(still.id, draft);
  const [page, setPage] = useState<(typeof PAGES)[number]>("Camera"),
    [tool, setTool] = useState<Tool | null>(null),
    [shown, setShown] = useState(true),
    [held, setHeld] = useState<Held | null>(null);
  const editable = still.role !== "viewer";
  const shared = {
    draft,
    read,
    stale,
    editable,
    tool,
    setTool,
    edit: hand.edit,
  };
  // The picture is made anew when the curve is another, which is stored first.
  const src = `${pictureOf(still)}&curve=${hand.waiting ? "" : draft.record.curve}`;
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-12 shrink-0 items-center gap-3 border-b border-line pr-2 pl-4">
        <Link to="/" className="font-serif text-lg text-lamp italic">
          Inkwell Moth
        </Link>
        <Link
          to={`/productions/${still.production.id}/stills`}
          className="shrink-0 text-quiet hover:text-paper"
        >
          Stills
        </Link>
        <h1 className="min-w-0 flex-1 truncate text-base font-normal">{draft.title}</h1>
        <span role="status" aria-label="Stored" className="text-xs text-quiet">
          {editable ? (hand.fault ? "not stored" : hand.waiting ? "storing…" : "kept") : "you look"}
        </span>
        {editable && (
          <Button look="bare" disabled={!hand.undo} onClick={() => hand.undo?.()}>
            Undo
          </Button>
        )}
        <Button look="bare" pressed={shown} onClick={() => setShown(!shown)}>
          Marks
        </Button>
        <AccountMenu />
      </header>
      {hand.fault && (
        <p role="alert" className="flex items-center gap-3 border-b border-fault px-4 py-1">
          <span className="flex-1">
            {hand.fault.message} {hand.fault.status !== 409 && "What you marked is kept here."}
          </span>
          {hand.fault.status === 409 ? (
            <Button look="bare" onClick={() => void hand.takeTheirs()}>
              Take theirs
            </Button>
          ) : (
            <Button look="bare" onClick={hand.send}>
              Store it again
            </Button>
          )}
        </p>
      )}
      <div className="flex min-h-0 flex-1">
        {held ? (
          <Pair
            still={src}
            other={held}
            aspect={still.height / still.width}
            close={() => setHeld(null)}
          />
        ) : (
          <Stage
            src={src}
            title={draft.title}
            aspect={still.height / still.width}
            marks={draft.marks}
            outline={read?.outline ?? []}
            tool={tool}
            setTool={setTool}
            edit={(change) => hand.edit((d) => ({ ...d, marks: change(d.marks) }))}
            editable={editable}
            shown={shown}
          />
        )}
        <aside className="flex w-[380px] shrink-0 flex-col border-l border-line">
          <div role="tablist" aria-label="Pages" className="flex border-b border-line">
            {PAGES.map((name) => (
              <button
                key={name}
                type="button"
                role="tab"
                aria-selected={page === name}
                className={`h-11 flex-1 ${page === name ? "border-b-2 border-lamp text-lamp" : "text-quiet hover:bg-raised"}`}
                onClick={() => {
                  setPage(name);
                  setTool(null);
                }}
              >
                {name}
              </button>
            ))}
          </div>
          <div role="tabpanel" aria-label={page} className="min-h-0 flex-1 overflow-y-auto p-3">
            {unread && page !== "Record" && (
              <p role="alert" className="mb-2 text-fault">
                {unread.message}
              </p>
            )}
            {page === "Record" && <RecordPanel {...shared} />}
            {page === "Camera" && <CameraPanel {...shared} aspect={still.height / still.width} />}
            {page === "Lights" && <LightsPanel {...shared} />}
            {page === "Read" && <ReadPanel {...shared} />}
            {page === "Match" && (
              <Against
                still={still}
                read={read}
                editable={editable}
                waiting={hand.waiting}
                hold={setHeld}
              />
            )}
          </div>
        </aside>
      </div>
    </div>
  );
}
