import type { Unit } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { rigMove } from "../grip/gripping";
import { act, useDesk, withUnit } from "../store";

const WAYS = [
  { value: "stand", label: "a stand" },
  { value: "boom", label: "a boom over a stand" },
  { value: "hung", label: "hung from above" },
  { value: "built-in", label: "built in, clamped, laid down" },
] as const;

/** What holds a unit, and what is to be minded of it. */
export function HeldBy({ unit, disabled }: { unit: Unit; disabled: boolean }) {
  const holding = useDesk((d) => (d.inspection?.id === unit.id ? d.inspection.holding : null));
  return (
    <>
      <div className="grid grid-cols-[1fr_auto] items-end gap-1.5">
        <Choice
          label="Held by"
          value={unit.held}
          disabled={disabled}
          options={[...WAYS]}
          onChange={(held) =>
            held === "boom"
              ? void rigMove(unit.id, "boom")
              : act(
                  withUnit(unit.id, () => ({ held, foot: null })),
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
      {!!holding?.length && (
        <p className="text-xs text-quiet">
          <b className="text-fault">Mind:</b> {holding.join(" ")}
        </p>
      )}
    </>
  );
}
