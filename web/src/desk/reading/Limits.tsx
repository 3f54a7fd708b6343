import type { Constants } from "../../app/api";
import { Button } from "../../parts/Button";
import { NumberField } from "../../parts/NumberField";
import { Sheet } from "../../parts/Sheet";
import { act, mayEdit, useDesk } from "../store";

type Limit = Constants["limits"][number];
const STEPS: Record<string, [number, number]> = {
  stops: [0.1, 1],
  "%": [1, 1],
  ΔE: [0.5, 1],
  mired: [5, 0],
  "dB(A)": [1, 0],
};

/** From where each reading is told: what is typical of the plan, and the set-up's own. */
export function Limits(props: { limits: Limit[]; open: boolean; close: () => void }) {
  const { limits, open, close } = props;
  const own = useDesk((d) => d.draft!.limits) ?? [];
  const plan = useDesk((d) => d.draft!.order?.plan);
  const editable = useDesk(mayEdit);
  const put = (key: Limit["key"], at: number | null, words: string) =>
    act(
      (d) => ({
        ...d,
        limits: [
          ...(d.limits ?? []).filter((l) => l.key !== key),
          ...(at === null ? [] : [{ key, at }]),
        ],
      }),
      words,
    );
  return (
    <Sheet open={open} close={close} title="From where it is told" wide="card">
      <p className="mb-2 text-quiet">
        Typical figures, none a rule. What is set here holds for this set-up and goes with it.
      </p>
      <ul
        aria-label="Limits"
        className="grid max-h-[65vh] grid-cols-2 gap-x-6 overflow-y-auto pr-2"
      >
        {limits.map((limit) => {
          const typical = (plan && limit.by_plan[plan]) ?? limit.typical,
            mine = own.find((l) => l.key === limit.key),
            [step, digits] = STEPS[limit.unit]!;
          return (
            <li
              key={limit.key}
              className="grid grid-cols-[1fr_6.5rem] gap-2 border-t border-line py-1.5"
            >
              <p>
                {limit.name[0]!.toUpperCase() + limit.name.slice(1)}
                <span className="block text-xs text-quiet">
                  typical {typical.toFixed(digits).replace("-", "−")}
                  {limit.by_plan[plan ?? ""] !== undefined && " for this plan"}: {limit.source}
                </span>
              </p>
              <div className="grid gap-1 self-start">
                <NumberField
                  label={`Limit: ${limit.name}`}
                  hideLabel
                  unit={limit.unit}
                  digits={digits}
                  value={mine?.at ?? typical}
                  step={step}
                  min={limit.least}
                  max={limit.most}
                  disabled={!editable}
                  onChange={(v) => put(limit.key, +v.toFixed(2), `limit: ${limit.name}`)}
                />
                {mine && editable && (
                  <Button
                    look="bare"
                    className="text-xs"
                    onClick={() => put(limit.key, null, `limit as typical: ${limit.name}`)}
                  >
                    As typical
                  </Button>
                )}
              </div>
            </li>
          );
        })}
      </ul>
      <div className="mt-3 flex justify-end">
        <Button onClick={close}>Close</Button>
      </div>
    </Sheet>
  );
}
