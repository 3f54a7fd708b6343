import type { Constants } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { takeTo } from "../order/order";
import { useLight } from "../../app/preferences";
import { openSweep } from "../sweep/sweep";
import { RatioSetter } from "./RatioSetter";
import { ReachPage } from "./ReachPage";
import { Schools } from "./Schools";
import { FixedPage } from "./FixedPage";
import { TargetsPage } from "./TargetsPage";
import { Marks } from "./Marks";
import { SoundPage } from "./SoundPage";
import { WalkPage } from "./WalkPage";
import { isFresh, mayEdit, setDesk, useDesk, type MeterPage } from "../store";

const PAGES: [MeterPage, string][] = [
  ["ways", "Ways to meter"],
  ["ratios", "Ratios"],
  ["fixed", "What can't be dimmed"],
  ["targets", "Targets"],
  ["reach", "Which heads reach"],
  ["walk", "Walk through it"],
  ["marks", "More marks"],
  ["sound", "Sound"],
];

/** All that is metered and judged, page by page. */
export function MeterPanel({ constants }: { constants: Constants }) {
  const page = useDesk((d) => d.meter);
  return (
    <div className="grid gap-3">
      <Choice
        label="At the meter"
        value={page}
        options={PAGES.map(([value, label]) => ({ value, label }))}
        onChange={(meter) => setDesk({ meter })}
      />
      {page === "ways" && (
        <>
          <Schools />
          <Button onClick={() => openSweep("meter")}>All ways side by side</Button>
          <Asked />
        </>
      )}
      {page === "ratios" && (
        <>
          <RatioSetter />
          <ThreeWays />
          <RatioTable rows={constants.ratios as [number, number][]} />
        </>
      )}
      {page === "fixed" && <FixedPage />}
      {page === "targets" && <TargetsPage constants={constants} />}
      {page === "reach" && <ReachPage constants={constants} />}
      {page === "walk" && <WalkPage />}
      {page === "marks" && <Marks />}
      {page === "sound" && <SoundPage />}
    </div>
  );
}

/** The other way round: what the camera's settings ask for, and the dimmers that give it. */
function Asked() {
  const asked = useDesk((d) => d.judged?.asked),
    stop = useDesk((d) => d.draft!.cameras[0]!.t_stop);
  const editable = useDesk(mayEdit),
    fresh = useDesk(isFresh);
  const light = useLight();
  if (!asked) return null;
  return (
    <section aria-label="What the stop asks for" className="grid gap-1 border-t border-line pt-2">
      <p>
        T{+stop.toFixed(1)} as set asks for <b>{light.text(asked.lux, asked.footcandles)}</b> on the
        key side.
      </p>
      <ul className="grid gap-0.5 text-xs">
        {asked.units.map((u) => (
          <li key={u.id} className="flex min-h-10 items-center justify-between gap-2">
            <span>
              <b>{u.name}</b> <span className="text-quiet">{u.words}</span>
            </span>
            {u.dimmer != null && (
              <Button
                disabled={!editable || !fresh}
                className="text-xs"
                onClick={() => takeTo(u.id, u.dimmer!)}
              >
                Take it there
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

const THIRDS = ["", " ⅓", " ⅔"];

/** Stops and ratios, both ways. */
function RatioTable({ rows }: { rows: [number, number][] }) {
  const stops = (s: number) =>
    `${s >= 1 || s === 0 ? Math.floor(s + 0.01) : ""}${THIRDS[Math.round((s % 1) * 3) % 3]!.trim()}`;
  return (
    <table aria-label="Stops and ratios" className="w-full text-xs">
      <tbody>
        <tr>
          <th scope="row" className="text-left font-normal text-quiet">
            stops
          </th>
          {rows.map(([s]) => (
            <td key={s} className="text-center">
              {stops(s)}
            </td>
          ))}
        </tr>
        <tr>
          <th scope="row" className="text-left font-normal text-quiet">
            : 1
          </th>
          {rows.map(([s, r]) => (
            <td key={s} className="text-center font-bold">
              {r < 9.95 ? +r.toFixed(1) : r.toFixed(0)}
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}

/**
 * Ratios by the meter, by the signal as it is read, by the signal made linear: side by side, with
 * the reason.
 */
function ThreeWays() {
  const ratios = useDesk((d) => d.judged?.ratios);
  if (!ratios) return <p className="text-quiet">Looking at the picture…</p>;
  return (
    <section aria-label="Three ways" className="grid gap-1">
      <table className="w-full text-xs">
        <thead>
          <tr className="text-left text-quiet">
            <th className="font-normal">Key side</th>
            <th className="font-normal">meter</th>
            <th className="font-normal">light seen</th>
            <th className="font-normal">percent</th>
          </tr>
        </thead>
        <tbody>
          {ratios.map((r) => (
            <tr key={r.key} className="border-t border-line" title={r.why}>
              <th scope="row" className="py-1 text-left font-normal">
                {r.name}
              </th>
              <td className="font-bold">{r.words.meter}</td>
              <td>{r.words.linear}</td>
              <td className="text-quiet">{r.words.read}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {ratios.map((r) => (
        <p key={r.key} className="text-xs text-quiet">
          {r.name}: {r.why}
        </p>
      ))}
    </section>
  );
}
