import type { Unit } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { rigMove } from "../grip/gripping";
import { OnWhose } from "./OnWhose";
import { bearersOf, onArm } from "./bearing";
import { act, useDesk, withUnit } from "../store";

const WAYS = [
  { value: "stand", label: "a stand" },
  { value: "boom", label: "a boom over a stand" },
  { value: "arm", label: "an arm on another's stand" },
  { value: "hung", label: "hung from above" },
  { value: "built-in", label: "built in, clamped, laid down" },
] as const;

/** What holds a unit, and what is to be minded of it. */
export function HeldBy({ unit, disabled }: { unit: Unit; disabled: boolean }) {
  const holding = useDesk((d) => (d.inspection?.id === unit.id ? d.inspection.holding : null));
  const bearers = bearersOf(
    useDesk((d) => d.draft),
    unit,
  );
  return (
    <>
      <div className="grid grid-cols-[1fr_auto] items-end gap-1.5">
        <Choice
          label="Held by"
          value={unit.held}
          disabled={disabled}
          options={WAYS.filter((w) => w.value !== "arm" || bearers.length > 0)}
          onChange={(held) =>
            held === "boom"
              ? void rigMove(unit.id, "boom")
              : held === "arm"
                ? act(
                    withUnit(unit.id, () => onArm(bearers[0]!)),
                    `${unit.name} on the stand of ${bearers[0]!.name}`,
                  )
                : act(
                    withUnit(unit.id, () => ({ held, foot: null, bearer: "" })),
                    `${unit.name} ${held === "stand" ? "on a stand" : held === "hung" ? "hung" : "built in"}`,
                  )
          }
        />
        {unit.held === "boom" && (
          <Button disabled={disabled} onClick={() => void rigMove(unit.id, "boom")}>
            Find its stand a place
          </Button>
        )}
      </div>
      {unit.held === "arm" && (
        <OnWhose
          item={unit}
          bearers={bearers}
          disabled={disabled}
          onChange={(on) =>
            act(
              withUnit(unit.id, () => onArm(on)),
              `${unit.name} on the stand of ${on.name}`,
            )
          }
        />
      )}
      {!!holding?.length && (
        <p className="text-xs text-quiet">
          <b className="text-fault">Mind:</b> {holding.join(" ")}
        </p>
      )}
    </>
  );
}
