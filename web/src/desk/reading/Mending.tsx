import type { Schemas } from "../../app/api";
import { Button } from "../../parts/Button";
import { useDesk } from "../store";
import { mend, stopMending, takeWay, useMending, type Way } from "./mending";
import type { Reading } from "./reading";

/** Ways to mend a reading, each tried: the picture and the figure before and after. */
export function Mending({ reading }: { reading: Reading }) {
  const mending = useMending();
  const draft = useDesk((d) => d.draft);
  const busy = useDesk((d) => d.inspecting);
  // What was tried on another draft says nothing of this one.
  const own = mending.key === reading.key && mending.draft === draft;
  if (!own || (!mending.running && mending.of === null && !mending.fault))
    return (
      <Button disabled={busy} onClick={() => void mend(reading)}>
        Try what would mend it
      </Button>
    );
  const { running, tried, of, ways, fault } = mending;
  return (
    <div className="grid gap-1.5" role="group" aria-label="What would mend it">
      {ways.map((way) => (
        <Mend key={way.words} way={way} />
      ))}
      {running ? (
        <div className="flex items-center gap-1">
          <progress
            aria-label="Ways tried"
            className="h-1.5 min-w-0 flex-1 accent-lamp"
            {...(of === null ? {} : { value: tried, max: Math.max(of, 1) })}
          />
          <span className="text-quiet">{of === null ? "looking" : `${tried} of ${of}`}</span>
          <Button look="bare" className="px-2" onClick={stopMending}>
            Stop
          </Button>
        </div>
      ) : (
        <p role="status" className={fault ? "text-fault" : "text-quiet"}>
          {fault || summed(ways.length, tried, of ?? 0)}
        </p>
      )}
    </div>
  );
}

function summed(found: number, tried: number, of: number) {
  if (!of) return "Nothing at hand here would: it takes another place, or other things.";
  const left = tried < of ? `, ${of - tried} not tried` : "";
  if (!found) return `None of ${tried} ways mends it${left}.`;
  return `${found} of ${tried} tried ${found === 1 ? "mends" : "mend"} it${left}.`;
}

function Mend({ way }: { way: Way }) {
  const { does, was, now } = way.trial;
  return (
    <div className="grid gap-1 rounded border border-line p-1.5">
      <div className="grid grid-cols-2 gap-1">
        <img src={was} alt={`before: ${does.before?.word ?? ""}`} className="w-full rounded-sm" />
        <img src={now} alt={`after: ${does.after?.word ?? ""}`} className="w-full rounded-sm" />
      </div>
      <p>
        {way.words}: <b>{does.after?.word}</b>
        {does.after?.words && `, ${does.after.words}`}.
      </p>
      <Worse worse={does.worse ?? []} />
      <Button className="px-1" onClick={() => takeWay(way)}>
        Take it
      </Button>
    </div>
  );
}

/** What a change costs elsewhere. */
function Worse({ worse }: { worse: Schemas["Told"][] }) {
  if (!worse.length) return <p className="text-calm">Nothing that was well is lost.</p>;
  const shown = worse.slice(0, 3).map((r) => `${r.name} ${r.word}`);
  const more = worse.length > 3 ? ` and ${worse.length - 3} more` : "";
  return (
    <p className="text-fault">
      Costs: {shown.join("; ")}
      {more}.
    </p>
  );
}
