import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, got, type Schemas } from "../app/api";
import { useConstants } from "../app/constants";
import { useLight } from "../app/preferences";
import { footcandles } from "../app/units";
import { AccountMenu } from "../parts/AccountMenu";
import { Blank } from "../parts/Blank";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { NumberField } from "../parts/NumberField";
import { CellCard } from "./CellCard";
import { CellPage } from "./CellPage";
import { sorted, within, type Bound, type Figure } from "./figures";
import { Notes } from "./Notes";
import { Plane } from "./Plane";
import { isRunning, standing } from "./Trials";

type Trial = Schemas["TrialOut"];
const SHOWN = ["level", "lost", "soft", "edge", "spill", "ratio"];

/** The sheet of a trial: frames side by side at one exposure, figures beneath. */
export function TrialPage() {
  const id = Number(useParams().id),
    path = { params: { path: { pk: id } } };
  const queries = useQueryClient(),
    constants = useConstants();
  const trial = useQuery({
    queryKey: ["trial", id],
    queryFn: () => got<Trial>(api.GET("/api/trials/{pk}", path)),
    refetchInterval: (q) => (q.state.data && isRunning(q.state.data) ? 1500 : false),
  });
  const failed = trial.error ?? constants.error;
  if (failed && !trial.data)
    return <Blank retry={() => void trial.refetch()}>{failed.message}</Blank>;
  if (!trial.data || !constants.data) return <Blank>Laying out the sheet…</Blank>;
  const put = (next: Trial) => queries.setQueryData(["trial", id], next);
  return (
    <Laid
      trial={trial.data}
      figures={constants.data.figures}
      stop={async () => put(await got<Trial>(api.POST("/api/trials/{pk}/stop", path)))}
      run={async () => put(await got<Trial>(api.POST("/api/trials/{pk}/run", path)))}
      refresh={async () => {
        await trial.refetch();
      }}
    />
  );
}

/** What the trial looks for, how many of its cells do it, and how near the nearest comes. */
function Wished({ trial, wish }: { trial: Trial; wish: Schemas["KeyWish"] }) {
  const light = useLight();
  const missed = trial.sheet.flatMap((c) => c.figures.misses ?? []),
    meeting = missed.filter((m) => m === 0).length,
    nearest = Math.min(...missed);
  const asked = [
    wish.lux != null && `${light.text(wish.lux, footcandles(wish.lux))} at the face`,
    wish.soft > 0 && `at least ${wish.soft.toFixed(0)}° soft`,
    wish.spill != null &&
      `at most ${wish.spill.toFixed(1).replace("-", "−")} stops on the backdrop`,
  ].filter(Boolean);
  return (
    <p role="note" className="shrink-0 border-b border-line px-4 py-2">
      Asked: {asked.join(", ")}.{" "}
      {missed.length > 0 && (
        <b className={meeting ? "text-calm" : "text-fault"}>
          {meeting
            ? `${meeting} of ${missed.length} ways do it.`
            : `None of ${missed.length} does; the nearest is short by ${nearest.toFixed(1)} stops or doublings.`}
        </b>
      )}
    </p>
  );
}

function Laid(props: {
  trial: Trial;
  figures: Figure[];
  stop: () => Promise<unknown>;
  run: () => Promise<unknown>;
  refresh: () => Promise<void>;
}) {
  const { trial, figures, stop, run, refresh } = props;
  const [sort, setSort] = useState(trial.wish ? "misses" : ""),
    [down, setDown] = useState(false),
    [bound, setBound] = useState<Bound | null>(null),
    [view, setView] = useState<"sheet" | "plane">("sheet"),
    [axes, setAxes] = useState<[string, string]>(["soft", "lost"]),
    [open, setOpen] = useState<string | null>(null),
    [noting, setNoting] = useState(false);
  const editable = trial.role !== "viewer";
  const chosen = trial.sheet.find((c) => keyOf(c) === open);
  const cells = sorted(within(trial.sheet, bound), sort, down);
  const shown = [...new Set([...(sort ? [sort] : []), ...SHOWN])].slice(0, 6);
  const running = isRunning(trial);
  const options = figures.map((f) => ({ value: f.key, label: f.name }));
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-12 shrink-0 items-center gap-2 border-b border-line pr-2 pl-4">
        <Link to="/" className="font-serif text-lg text-lamp italic">
          Inkwell Moth
        </Link>
        <nav aria-label="Place" className="min-w-0 flex-1 truncate pl-2 text-quiet">
          <Link to={`/productions/${trial.production.id}/trials`} className="hover:text-paper">
            {trial.production.title}, trials
          </Link>{" "}
          / <span className="text-paper">{trial.title}</span>
        </nav>
        <p role="status" aria-label="How far it is" className="text-sm text-quiet">
          {standing(trial)}
          {running && `, about ${left(trial.left)}`}
        </p>
        {running && (
          <progress
            aria-label="Cells done"
            className="h-1.5 w-28 accent-lamp"
            value={trial.done + trial.failed}
            max={trial.cells}
          />
        )}
        {editable && running && <Button onClick={() => void stop()}>Stop</Button>}
        {editable && !running && (trial.outdated || trial.done < trial.cells) && (
          <Button
            title={trial.outdated ? "Code or catalogue have changed since it was run" : undefined}
            onClick={() => void run()}
          >
            {trial.outdated ? "Run it anew" : trial.failed ? "Try again" : "Go on"}
          </Button>
        )}
        {(editable || trial.notes) && (
          <Button look="bare" className="text-xs" onClick={() => setNoting(true)}>
            Notes{trial.notes && <span className="text-lamp">•</span>}
          </Button>
        )}
        {(["pdf", "csv", "zip"] as const).map((kind) => (
          <a
            key={kind}
            href={`/api/trials/${trial.id}/sheet.${kind}`}
            className="inline-flex h-10 items-center rounded px-2 text-xs text-quiet hover:bg-raised"
          >
            {kind === "zip" ? "EXR" : kind.toUpperCase()}
          </a>
        ))}
        <AccountMenu />
      </header>
      {trial.wish && <Wished trial={trial} wish={trial.wish} />}
      {noting && (
        <Notes trial={trial} editable={editable} close={() => setNoting(false)} refresh={refresh} />
      )}
      <div className="flex shrink-0 flex-wrap items-end gap-2 border-b border-line px-4 py-2">
        <div role="group" aria-label="Laid out" className="flex gap-1">
          <Button pressed={view === "sheet"} onClick={() => setView("sheet")}>
            Sheet
          </Button>
          <Button pressed={view === "plane"} onClick={() => setView("plane")}>
            Plane
          </Button>
        </div>
        {view === "sheet" ? (
          <>
            <div className="w-56">
              <Choice
                label="In order of"
                value={sort}
                options={[{ value: "", label: "as it was made" }, ...options]}
                onChange={setSort}
              />
            </div>
            {sort && (
              <Button onClick={() => setDown(!down)}>{down ? "most first" : "least first"}</Button>
            )}
          </>
        ) : (
          (["across", "up"] as const).map((way, at) => (
            <div key={way} className="w-56">
              <Choice
                label={way === "across" ? "Across" : "Up"}
                value={axes[at]!}
                options={options}
                onChange={(key) => setAxes(at ? [axes[0], key] : [key, axes[1]])}
              />
            </div>
          ))
        )}
        <div className="w-56">
          <Choice
            label="Only where"
            value={bound?.key ?? ""}
            options={[{ value: "", label: "all of them" }, ...options]}
            onChange={(key) => setBound(key ? middle(trial, key) : null)}
          />
        </div>
        {bound && (
          <>
            <Button
              onClick={() =>
                setBound({ ...bound, how: bound.how === "at least" ? "at most" : "at least" })
              }
            >
              {bound.how}
            </Button>
            <div className="w-28">
              <NumberField
                label="Figure"
                unit={figures.find((f) => f.key === bound.key)!.unit}
                digits={1}
                value={bound.value}
                step={1}
                min={-1000}
                max={100000}
                onChange={(value) => setBound({ ...bound, value })}
              />
            </div>
          </>
        )}
        {bound && (
          <p className="pb-2 text-xs text-quiet">
            {cells.length} of {trial.cells}
          </p>
        )}
      </div>
      <div className="flex min-h-0 flex-1">
        <main className="min-w-0 flex-1 overflow-y-auto p-3">
          {view === "sheet" ? (
            <ul
              aria-label="Cells"
              className="grid grid-cols-[repeat(auto-fill,minmax(200px,1fr))] gap-3"
            >
              {cells.map((cell) => (
                <CellCard
                  key={keyOf(cell)}
                  cell={cell}
                  trial={trial}
                  figures={shown.map((k) => figures.find((f) => f.key === k)!)}
                  open={keyOf(cell) === open}
                  choose={() => setOpen(keyOf(cell) === open ? null : keyOf(cell))}
                />
              ))}
            </ul>
          ) : (
            <Plane
              trial={trial}
              cells={cells}
              across={figures.find((f) => f.key === axes[0])!}
              up={figures.find((f) => f.key === axes[1])!}
              open={open}
              choose={(cell) => setOpen(keyOf(cell))}
            />
          )}
          {cells.length === 0 && <p className="p-6 text-quiet">No cell is within that.</p>}
        </main>
        {chosen && (
          <CellPage
            key={keyOf(chosen)}
            cell={chosen}
            trial={trial}
            figures={figures}
            editable={editable}
            close={() => setOpen(null)}
            refresh={() => void refresh()}
          />
        )}
      </div>
    </div>
  );
}

export const keyOf = (c: { row: number; column: number }) => `${c.row}.${c.column}`;

const left = (seconds: number) =>
  seconds < 90
    ? `${Math.max(5, 5 * Math.round(seconds / 5))} s`
    : `${Math.round(seconds / 60)} min`;

/** A bound in the middle of what there is, to begin from. */
function middle(trial: Trial, key: string): Bound {
  const values = trial.sheet.flatMap((c) => c.figures[key] ?? []).sort((a, b) => a - b);
  return { key, how: "at least", value: +(values[values.length >> 1] ?? 0).toFixed(1) };
}
