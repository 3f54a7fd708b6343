import { useEffect, useRef } from "react";
import type { Schemas } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { mayEdit, useDesk } from "../store";
import {
  AS_IT_IS,
  changing,
  openSweep,
  OF_UNIT,
  stopSweep,
  takeStep,
  useSweep,
  type Of,
  type Step,
} from "./sweep";

const OF: { value: Of; label: string }[] = [
  { value: "camera", label: "camera round" },
  { value: "camera-key", label: "camera with key" },
  { value: "round", label: "unit round" },
  { value: "height", label: "unit's height" },
  { value: "distance", label: "unit's distance" },
  { value: "level", label: "unit's level" },
  { value: "moves", label: "the person moves" },
  { value: "meter", label: "ways to meter" },
];
const RANK = { well: "text-calm", mind: "text-lamp", fault: "text-fault" };

/** Small frames of one thing from–to, with what is read in each; a press goes there. */
export function SweepRow() {
  const { of, steps, running, draft, fault } = useSweep();
  const now = useDesk((d) => d.draft);
  const unit = useDesk((d) => d.draft!.units.find((u) => u.id === d.chosen)?.name);
  const editable = useDesk(mayEdit);
  useEffect(() => stopSweep, []);
  const stale = draft !== now,
    left = steps.filter((s) => s.trial === null).length,
    part = changing(steps);
  return (
    <div
      role="group"
      aria-label="Sweep"
      aria-busy={running}
      className="flex shrink-0 items-start gap-2 border-y border-line px-2 py-1"
    >
      <div className="grid w-36 shrink-0 gap-1 text-xs">
        <Choice
          label={OF_UNIT.includes(of) ? `Sweep ${unit ?? ""}` : "Sweep"}
          value={of}
          options={OF}
          onChange={(next) => openSweep(next)}
        />
        {running ? (
          <Button look="bare" className="text-xs" onClick={stopSweep}>
            Stop, {left} left
          </Button>
        ) : (
          (stale || left > 0) && (
            <Button look="bare" className="text-xs" onClick={() => openSweep()}>
              {stale ? "From here again" : "Go on from the start"}
            </Button>
          )
        )}
        {part && <p className="px-1 text-quiet">first told: {part}</p>}
      </div>
      <div className="flex min-w-0 flex-1 gap-2 overflow-x-auto">
        {steps.map((step) => (
          <Small key={step.label} {...{ step, part, stale, editable }} />
        ))}
        {steps.length === 0 && (
          <p role="status" className={`text-xs ${fault ? "text-fault" : "text-quiet"}`}>
            {fault || (running ? "Looking…" : "Choose a unit to be carried.")}
          </p>
        )}
      </div>
    </div>
  );
}

type SmallProps = { step: Step; part: string | null; stale: boolean; editable: boolean };

/** One of them; told under it, before the worst of the outline, the part that the sweep changes. */
function Small({ step, part, stale, editable }: SmallProps) {
  const { trial, label } = step;
  const done = trial !== null && typeof trial !== "string";
  const own = useRef<HTMLButtonElement>(null);
  // A row longer than its place begins with its middle in sight.
  useEffect(() => {
    if (label === AS_IT_IS) own.current?.scrollIntoView({ inline: "center", block: "nearest" });
  }, [label]);
  return (
    <button
      ref={own}
      type="button"
      disabled={!done || !editable}
      aria-label={`Go to ${label}`}
      title={[step.words, done && told(trial.does)].filter(Boolean).join("\n") || undefined}
      onClick={() => takeStep(step)}
      className={`w-24 shrink-0 self-start rounded text-left text-xs hover:bg-raised disabled:hover:bg-transparent ${stale ? "opacity-60" : ""}`}
    >
      {done ? (
        <img src={trial.now} alt="" className="h-[54px] w-24 rounded-sm" />
      ) : (
        <span
          className={`grid h-[54px] w-24 place-items-center overflow-hidden rounded-sm p-1 text-quiet ${trial === null ? "skeleton" : "bg-raised"}`}
        >
          {trial && <span className="line-clamp-3">{trial}</span>}
        </span>
      )}
      <span className="block truncate">
        <b className="font-semibold">{label}</b>
      </span>
      {done && (
        <span className="block truncate text-quiet">
          face {stopsText(trial.does.skin)}
          {!!trial.does.faults && (
            <span className="text-fault"> · {trial.does.faults} in the way</span>
          )}
        </span>
      )}
      {done && part !== null && part !== trial.does.outline?.name && (
        <Line told={trial.does.outlines?.find((t) => t.name === part)} none="no outline" />
      )}
      {done && <Line told={trial.does.outline} none="no outline" />}
      {done && <Line told={trial.does.face} none="" />}
    </button>
  );
}

function Line({ told, none }: { told: Schemas["Told"] | null | undefined; none: string }) {
  if (!told) return <span className="block text-quiet">{none}</span>;
  const part = told.name.split(", ").at(-2) ?? "";
  return (
    <span className={`block truncate ${RANK[told.rank]}`}>
      {part && part !== "nose shadow" ? `${part} ` : ""}
      {told.word}
    </span>
  );
}

const stopsText = (stops: number | null | undefined) =>
  stops == null
    ? "out of the picture"
    : Math.abs(stops) < 0.05
      ? "the same"
      : `${stops > 0 ? "+" : "−"}${Math.abs(stops).toFixed(1)}`;

const told = ({ outline, face }: Schemas["Tried"]) =>
  [outline, face].flatMap((t) => (t ? [`${t.name}: ${t.word}, ${t.words}`] : [])).join("\n");
