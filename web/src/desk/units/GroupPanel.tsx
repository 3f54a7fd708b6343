import { useShallow } from "zustand/react/shallow";
import { Button } from "../../parts/Button";
import { NumberField } from "../../parts/NumberField";
import { clampDimmer, SMALLEST_DIMMER } from "./gestures";
import { act, choose, mayEdit, useDesk, withUnits } from "../store";

/** Several units in hand: dimmed, whitened and switched together. */
export function GroupPanel() {
  const units = useDesk(
    useShallow((d) => d.draft!.units.filter((u) => u.id === d.chosen || d.also.includes(u.id))),
  );
  const editable = useDesk(mayEdit);
  const ids = units.map((u) => u.id),
    names = units.map((u) => u.name).join(", "),
    on = units.some((u) => u.on);
  const dim = (stops: number, words: string) =>
    act(
      withUnits(ids, ({ dimmer }) => ({
        dimmer: dimmer === 0 && stops > 0 ? SMALLEST_DIMMER : clampDimmer(dimmer * 2 ** stops),
      })),
      `${words}: ${names}`,
    );
  const white = units[0]!.cct;
  return (
    <section aria-label="Units in hand" className="grid gap-3">
      <h3 className="text-base">
        {units.length} units <span className="text-quiet">in hand: {names}</span>
      </h3>
      <div role="group" aria-label="Dimmers of all" className="grid grid-cols-4 gap-1">
        {(
          [
            [-1, "− 1"],
            [-1 / 3, "− ⅓"],
            [1 / 3, "+ ⅓"],
            [1, "+ 1"],
          ] as const
        ).map(([stops, text]) => (
          <Button
            key={text}
            disabled={!editable}
            aria-label={`${text} stop, all`}
            onClick={() => dim(stops, `${text} stop`)}
          >
            {text}
          </Button>
        ))}
      </div>
      <NumberField
        label="White of all"
        unit="K"
        value={white}
        step={100}
        min={2000}
        max={10000}
        disabled={!editable}
        onChange={(cct) =>
          act(
            withUnits(ids, () => ({ cct: Math.round(cct) })),
            `white ${Math.round(cct)} K: ${names}`,
          )
        }
      />
      <div className="grid grid-cols-2 gap-1">
        <Button
          disabled={!editable}
          onClick={() =>
            act(
              withUnits(ids, () => ({ on: !on })),
              `${on ? "off" : "on"}: ${names}`,
            )
          }
        >
          {on ? "All off" : "All on"}
        </Button>
        <Button look="bare" onClick={() => choose(ids[0]!)}>
          Only {units[0]!.name}
        </Button>
      </div>
      <p className="text-xs text-quiet">
        Shift or Ctrl and a press in the list takes a unit in or out. Whites that a head cannot give
        stay at its nearest.
      </p>
    </section>
  );
}
