import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { useDesk } from "../store";
import { changeReason, dropReason, KINDS, MOST, sayWhy, type Kind } from "./reasons";

const OPTIONS = (Object.keys(KINDS) as Kind[]).map((value) => ({
  value,
  label: KINDS[value].name.replace(/^The |^An? /, ""),
}));

/** What gives light outside the frame: said of a unit's light, changed, taken back. */
export function SayWhy({ unit }: { unit: string }) {
  const reasons = useDesk((d) => d.draft!.reasons) ?? [];
  return (
    <div role="group" aria-label="Light from outside the frame" className="grid gap-1.5">
      <Choice
        label="It comes, outside the frame, from"
        value="-"
        disabled={reasons.length >= MOST}
        options={[{ value: "-", label: "say what it is…" }, ...OPTIONS]}
        onChange={(kind) => kind !== "-" && sayWhy(unit, kind as Kind)}
      />
      {reasons.map((r) => (
        <div key={r.id} className="grid grid-cols-2 gap-1.5 border-t border-line pt-1.5">
          <p className="self-center text-quiet">{r.name}</p>
          <Button
            look="bare"
            aria-label={`Take ${r.name.toLowerCase()} back`}
            onClick={() => dropReason(r.id)}
          >
            Take back
          </Button>
          <NumberField
            label="From north"
            unit="°"
            value={r.bearing ?? 0}
            step={5}
            min={-360}
            max={360}
            onChange={(to) => changeReason(r.id, { bearing: Math.round(to) })}
          />
          <NumberField
            label="White"
            unit="K"
            value={r.cct ?? 5600}
            step={100}
            min={1500}
            max={12000}
            onChange={(cct) => changeReason(r.id, { cct: Math.round(cct) })}
          />
        </div>
      ))}
    </div>
  );
}
