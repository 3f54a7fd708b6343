import { useState } from "react";
import type { Head } from "../../app/api";
import { Button } from "../../parts/Button";
import { Sheet } from "../../parts/Sheet";
import { usePreferences } from "../preferences";
import { bring } from "./rigging";

/** Choose a head, with its figures and the usual caution in sight. */
export function BringIn({ heads, close }: { heads: Head[]; close: () => void }) {
  const inches = usePreferences((p) => p.length === "ft");
  const [picked, setPicked] = useState(heads[0]!);
  return (
    <Sheet open close={close} title="Bring in a unit" wide>
      <div className="grid grid-cols-[1fr_15rem] gap-4">
        <ul role="radiogroup" aria-label="Head" className="max-h-96 overflow-y-auto">
          {heads.map((h) => (
            <li key={h.key}>
              <button
                type="button"
                role="radio"
                aria-checked={picked.key === h.key}
                onClick={() => setPicked(h)}
                onDoubleClick={() => {
                  bring(h);
                  close();
                }}
                className={`flex min-h-10 w-full items-center justify-between gap-3 rounded px-2 text-left ${picked.key === h.key ? "bg-raised text-lamp" : "hover:bg-raised"}`}
              >
                <span>{h.name}</span>
                <span className="shrink-0 text-xs text-quiet">{h.watts} W</span>
              </button>
            </li>
          ))}
        </ul>
        <div className="grid content-start gap-3 border-l border-line pl-4">
          <dl className="grid grid-cols-2 gap-y-1">
            <dt className="text-quiet">at 1 m</dt>
            <dd>{Math.round(picked.peak).toLocaleString("en-GB")} cd</dd>
            <dt className="text-quiet">beam, 50 %</dt>
            <dd>{picked.beam.toFixed(0)}°</dd>
            <dt className="text-quiet">field, 10 %</dt>
            <dd>{picked.field.toFixed(0)}°</dd>
            <dt className="text-quiet">flux</dt>
            <dd>{Math.round(picked.lumens).toLocaleString("en-GB")} lm</dd>
            <dt className="text-quiet">face</dt>
            <dd>
              {picked.size.map((m) => (inches ? m / 0.0254 : m * 100).toFixed(0)).join(" × ")}{" "}
              {inches ? "in" : "cm"}
            </dd>
            <dt className="text-quiet">white</dt>
            <dd>
              {picked.cct[0] === picked.cct[1]
                ? picked.cct[0]
                : `${picked.cct[0]}–${picked.cct[1]}`}{" "}
              K
            </dd>
            <dt className="text-quiet">weight</dt>
            <dd>{picked.weight} kg</dd>
          </dl>
          <p className="text-xs text-quiet">Figures: {picked.figures}.</p>
          <p className="rounded border border-line p-2 text-xs">
            <b className="text-fault">Mind:</b> {picked.caution}
          </p>
        </div>
      </div>
      <div className="mt-4 flex justify-end gap-2">
        <Button look="bare" onClick={close}>
          Cancel
        </Button>
        <Button
          look="lamp"
          onClick={() => {
            bring(picked);
            close();
          }}
        >
          Bring it in
        </Button>
      </div>
    </Sheet>
  );
}
