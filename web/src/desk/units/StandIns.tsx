import { useEffect, useRef, useState } from "react";
import { api, got, type Document, type Schemas, type Unit } from "../../app/api";
import { useLight, usePreferences, useWords } from "../../app/preferences";
import { footcandles } from "../../app/units";
import { Button } from "../../parts/Button";
import { Sheet } from "../../parts/Sheet";
import { OtherWays } from "./OtherWays";
import { act, readDesk, useDesk } from "../store";

type Found = Schemas["StandIn"];
type Source = Schemas["StandInAsked"]["source"];
const FILTERS = ["cheaper", "lighter", "battery", "quieter", "smaller"] as const;
const SAID: Record<string, string> = { battery: "on battery" };
/** As many as are laid out. */
const SHOWN = 8;

/** Heads that could stand in for a unit's, tried one after another, the nearest first. */
export function StandIns({ unit, close }: { unit: Unit; close: () => void }) {
  const [source, setSource] = useState<Source>("catalogue"),
    [wanted, setWanted] = useState<readonly string[]>([]);
  const { found, tried, of, running, fault, asked, look, stop } = useLook(unit.id, source);
  const draft = useDesk((d) => d.draft);
  const fits = found
    .filter((f) => wanted.every((w) => f.gains.includes(w as Found["gains"][number])))
    .toSorted((a, b) => a.away - b.away);
  return (
    <Sheet open close={close} title={`Stand-ins for ${unit.name}`} wide="stage">
      <div className="grid gap-3">
        <p className="text-quiet">
          Each is put in its place, dressed as it is as far as that goes, and dimmed to the same
          level at the face. Nothing else changes.
        </p>
        <div className="flex flex-wrap items-center gap-1">
          {(["catalogue", "kit"] as const).map((s) => (
            <Button key={s} pressed={source === s} onClick={() => setSource(s)}>
              Of the {s}
            </Button>
          ))}
          <span className="w-6" />
          {FILTERS.map((f) => (
            <Button
              key={f}
              look="bare"
              pressed={wanted.includes(f)}
              onClick={() =>
                setWanted((w) => (w.includes(f) ? w.filter((k) => k !== f) : [...w, f]))
              }
            >
              {SAID[f] ?? f}
            </Button>
          ))}
          <span className="flex-1" />
          {running ? (
            <>
              <progress
                aria-label="Heads tried"
                className="h-1.5 w-40 accent-lamp"
                {...(of === null ? {} : { value: tried, max: of })}
              />
              <Button onClick={stop}>Stop</Button>
            </>
          ) : (
            asked !== draft && <Button onClick={() => void look()}>Look again</Button>
          )}
        </div>
        <p role="status" className={fault ? "text-fault" : "text-quiet"}>
          {fault || said(source, tried, of, fits.length, found.length)}
        </p>
        <ol
          aria-label="Heads that could stand in"
          className="grid max-h-[42vh] gap-2 overflow-y-auto"
        >
          {fits.slice(0, SHOWN).map((f) => (
            <Row
              key={f.name}
              found={f}
              stale={asked !== draft}
              take={() => {
                take(unit, f);
                close();
              }}
            />
          ))}
        </ol>
        <OtherWays unit={unit} source={source} />
      </div>
    </Sheet>
  );
}

function said(source: Source, tried: number, of: number | null, fits: number, found: number) {
  if (of === 0)
    return source === "kit" ? "The kit has no other head." : "The catalogue has no other head.";
  if (of === null) return "Looking…";
  const more = fits > SHOWN ? ` The nearest ${SHOWN} are shown.` : "";
  return `${tried} of ${of} tried${fits < found ? `, ${fits} are such` : ""}.${more}`;
}

/** Put a stand-in where the unit is: only that unit changes. */
function take(unit: Unit, found: Found) {
  const made = (found.setup as Document).units.find((u) => u.id === unit.id)!;
  act(
    (d) => ({ ...d, units: d.units.map((u) => (u.id === unit.id ? made : u)) }),
    `${unit.name}: ${found.name} stands in`,
  );
}

function useLook(unit: string, source: Source) {
  const [state, setState] = useState({
    found: [] as Found[],
    tried: 0,
    of: null as number | null,
    running: false,
    fault: "",
    asked: null as Document | null,
  });
  const stopping = useRef(new AbortController());
  async function look() {
    stopping.current.abort();
    const { signal } = (stopping.current = new AbortController());
    const { record, draft } = readDesk();
    const found: Found[] = [];
    setState({ found, tried: 0, of: null, running: true, fault: "", asked: draft });
    try {
      for (let at = 0, of = 1; at < of; at++) {
        const { step } = usePreferences.getState();
        const answer = await got<Schemas["StandInOut"]>(
          api.POST("/api/setups/{pk}/stand-ins", {
            params: { path: { pk: record!.id } },
            body: { document: draft, unit, source, at, step },
            signal,
          }),
        );
        if (signal.aborted) return;
        of = answer.of;
        if (answer.found) found.push(answer.found);
        setState((s) => ({ ...s, found: [...found], tried: Math.min(at + 1, of), of }));
      }
      setState((s) => ({ ...s, running: false }));
    } catch (error) {
      if (signal.aborted) return;
      setState((s) => ({ ...s, running: false, fault: (error as Error).message }));
    }
  }
  function stop() {
    stopping.current.abort();
    setState((s) => ({ ...s, running: false }));
  }
  useEffect(() => {
    void look();
    const at = stopping;
    return () => at.current.abort();
    // Asked anew for another unit or other heads; a changed draft is asked for by hand.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [unit, source]);
  return { ...state, look, stop };
}

const DIGITS: Record<string, number> = { lx: 0, "°": 1, m: 2, K: 0, Duv: 4, W: 0, kg: 1, min: 0 };

function Row({ found: f, stale, take }: { found: Found; stale: boolean; take: () => void }) {
  const words = useWords(),
    light = useLight();
  function number(value: number | null, unit: string) {
    if (value === null) return "–";
    if (unit === "lx") return light.text(value, footcandles(value));
    return words(`${value.toFixed(DIGITS[unit] ?? 1)}${unit === "°" ? "" : " "}${unit}`);
  }
  return (
    <li className="grid grid-cols-[16rem_1fr_auto] items-center gap-4 rounded border border-line p-2">
      <span>
        <b className="block">{words(f.name)}</b>
        <span className={f.off < -0.1 ? "text-fault" : "text-calm"}>
          {f.words.slice(f.name.length + 1)}
        </span>
        <span className="block text-xs text-quiet">
          {f.gains.map((g) => SAID[g] ?? g).join(", ")}
        </span>
      </span>
      <span className="grid gap-1 text-sm">
        <span className="flex flex-wrap gap-x-4 text-quiet">
          {f.figures.map((c) => (
            <span key={c.name}>
              {c.name} {number(c.before, c.unit)} →{" "}
              <b className="text-paper">{number(c.after, c.unit)}</b>
            </span>
          ))}
        </span>
        {f.lost.length > 0 && <span className="text-lamp">{words(f.lost.join(" "))}</span>}
      </span>
      <Button disabled={stale} onClick={take}>
        Put it in
      </Button>
    </li>
  );
}
