import { Radio, RadioGroup } from "@headlessui/react";
import { useState, type FormEvent } from "react";
import type { Attachment, Head } from "../../app/api";
import { Button } from "../../parts/Button";
import { Sheet } from "../../parts/Sheet";
import { NumberField } from "../../parts/NumberField";
import { TextField } from "../../parts/TextField";
import { useLight, usePreferences, useWords } from "../../app/preferences";
import { bring } from "./rigging";

const LUX_PER_FC = 10.7639104;
const FILTERS = {
  battery: ["on battery", (h: Head) => h.battery > 0],
  colour: ["mixes colours", (h: Head) => h.colour],
  light: ["under 5 kg", (h: Head) => h.weight < 5],
  soft: ["face over half a metre", (h: Head) => Math.max(...h.size) > 0.5],
  small: ["small kit or less", (h: Head) => ["under a day's hire", "small kit"].includes(h.price)],
} as const;
type Filter = keyof typeof FILTERS;

/** What a head gives at two metres [lx]; near a large face a little less. */
const atTwo = (h: Head) => h.peak / 4;

/** Letters from which attachments are looked through too. */
const ENOUGH = 3;

/**
 * Choose a head, with its figures and the usual caution in sight. A name that only an attachment
 * has, as of a lens, finds the heads that it hangs on.
 */
export function BringIn({
  heads,
  attachments,
  close,
}: {
  heads: Head[];
  attachments: Attachment[];
  close: () => void;
}) {
  const inches = usePreferences((p) => p.length === "ft"),
    inWords = useWords(),
    light = useLight();
  const [sought, setSought] = useState(""),
    [filters, setFilters] = useState<Filter[]>([]),
    [least, setLeast] = useState(0);
  const asked = sought.trim().toLowerCase();
  const named = (thing: { name: string }) => inWords(thing.name).toLowerCase().includes(asked);
  const hung = asked.length < ENOUGH || heads.some(named) ? [] : attachments.filter(named);
  const shown = heads.filter(
    (h) =>
      (hung.length ? hung.some((a) => a.fits.includes(h.group)) : named(h)) &&
      filters.every((f) => FILTERS[f][1](h)) &&
      atTwo(h) >= least,
  );
  const [wanted, setPicked] = useState(heads[0]!);
  const picked = shown.includes(wanted) ? wanted : (shown[0] ?? wanted);
  function take(event?: FormEvent) {
    event?.preventDefault();
    if (!shown.length) return;
    void bring(picked);
    close();
  }
  return (
    <Sheet open close={close} title="Bring in a unit" wide>
      <div className="mb-3 grid grid-cols-[1fr_9rem] gap-2">
        <form className="contents" onSubmit={take}>
          <TextField label="Find by name" value={sought} onChange={setSought} autoFocus />
        </form>
        <NumberField
          label="At least, at 2 m"
          unit={light.unit}
          value={light.unit === "fc" ? least / LUX_PER_FC : least}
          step={50}
          min={0}
          max={100000}
          onChange={(v) => setLeast(light.unit === "fc" ? v * LUX_PER_FC : v)}
        />
      </div>
      <div role="group" aria-label="Only those" className="mb-3 flex flex-wrap gap-1">
        {(Object.keys(FILTERS) as Filter[]).map((key) => (
          <Button
            key={key}
            className="text-xs"
            pressed={filters.includes(key)}
            onClick={() =>
              setFilters((f) => (f.includes(key) ? f.filter((k) => k !== key) : [...f, key]))
            }
          >
            {inWords(FILTERS[key][0])}
          </Button>
        ))}
      </div>
      <div className="grid grid-cols-[1fr_15rem] gap-4">
        <RadioGroup
          aria-label="Head"
          by="key"
          value={picked}
          onChange={setPicked}
          onKeyDown={(e) => e.key === "Enter" && take()}
          className="h-80 overflow-y-auto"
        >
          {shown.length === 0 && <p className="p-2 text-quiet">No head is like that.</p>}
          {shown.length > 0 && hung.length > 0 && (
            <p className="p-2 text-xs text-quiet">
              {hung.map((a) => inWords(a.name)).join("; ")}: hung on a head once it is in. These
              take it:
            </p>
          )}
          {shown.map((h) => (
            <Radio
              key={h.key}
              value={h}
              onDoubleClick={() => take()}
              className="flex min-h-10 cursor-pointer items-center justify-between gap-3 rounded px-2 hover:bg-raised data-checked:bg-raised data-checked:text-lamp"
            >
              <span>{inWords(h.name)}</span>
              <span className="shrink-0 text-xs text-quiet">
                {light.text(atTwo(h), atTwo(h) / LUX_PER_FC)} · {h.weight} kg
              </span>
            </Radio>
          ))}
        </RadioGroup>
        <div
          className={`grid content-start gap-3 border-l border-line pl-4 ${shown.length ? "" : "invisible"}`}
        >
          <dl className="grid grid-cols-2 gap-y-1">
            <dt className="text-quiet">peak</dt>
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
            <dt className="text-quiet">draws</dt>
            <dd>{picked.watts} W</dd>
            <dt className="text-quiet">weight</dt>
            <dd>{picked.weight} kg</dd>
            <dt className="text-quiet">price</dt>
            <dd>{picked.price}</dd>
          </dl>
          <p className="text-xs text-quiet">Figures: {picked.source}.</p>
          <p className="rounded border border-line p-2 text-xs">
            <b className="text-fault">Mind:</b> {inWords(picked.caution)}
          </p>
        </div>
      </div>
      <div className="mt-4 flex justify-end gap-2">
        <Button look="bare" onClick={close}>
          Cancel
        </Button>
        <Button look="lamp" disabled={shown.length === 0} onClick={() => take()}>
          Bring it in
        </Button>
      </div>
    </Sheet>
  );
}
