import { useId } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Unit } from "../../app/api";
import { Button } from "../../parts/Button";
import { act, mayEdit, useDesk, withUnit } from "../store";
import { switchesOf, turnSwitches } from "./gestures";

/** The place's own lamps: one press for all of them, and one for each switch. */
export function HouseLights() {
  const units = useDesk(useShallow((d) => d.draft!.units.filter((u) => u.switch !== "")));
  const editable = useDesk(mayEdit);
  if (!units.length) return null;
  const switches = switchesOf(units),
    lit = (name: string) => units.some((u) => u.switch === name && u.on);
  const row = (title: string, names: string[]) => {
    const on = names.some(lit);
    return (
      <li key={title} className="flex items-center rounded border border-transparent">
        <span className={`min-w-0 flex-1 truncate px-2 ${on ? "" : "opacity-55"}`}>{title}</span>
        <Button
          look="bare"
          className="min-w-10 px-0! text-xs"
          disabled={!editable}
          aria-label={`${title} ${on ? "off" : "on"}`}
          onClick={() => turnSwitches(names, !on)}
        >
          {on ? "off" : "on"}
        </Button>
      </li>
    );
  };
  return (
    <ul aria-label="House lights" className="border-t border-line px-2 py-1">
      {row("House lights", switches)}
      {switches.length > 1 && switches.map((name) => row(`Switch ${name}`, [name]))}
    </ul>
  );
}

/** Which switch of the place a unit hangs on. */
export function SwitchField({ unit, disabled }: { unit: Unit; disabled: boolean }) {
  const names = useDesk(useShallow((d) => switchesOf(d.draft!.units)));
  const list = useId();
  return (
    <label className="grid gap-0.5">
      <span className="text-xs text-quiet">On a switch of the house</span>
      <input
        key={unit.id + unit.switch}
        className="h-10 w-full min-w-0 rounded border border-line bg-ink px-2.5"
        defaultValue={unit.switch}
        placeholder="none: it was brought"
        disabled={disabled}
        maxLength={40}
        list={list}
        onBlur={(e) => {
          const name = e.target.value.trim();
          if (name !== unit.switch)
            act(
              withUnit(unit.id, () => ({ switch: name })),
              `${unit.name} ${name ? `on the switch ${name}` : "on no switch of the house"}`,
            );
        }}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
      />
      <datalist id={list}>
        {names.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
    </label>
  );
}
