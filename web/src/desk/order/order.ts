/** Changes to a set-up's order of work: begun from a plan, steps taken, skipped, moved. */
import type { Document, Judged, Schemas } from "../../app/api";
import { act, choose, readDesk, setDesk } from "../store";

type Plan = Schemas["PlanOut"];
type Order = NonNullable<Document["order"]>;
export type StepKey = Order["steps"][number]["key"];
export type Judgement = Judged["order"][number];

const changed = (change: (order: Order) => Order, words: string) =>
  act((d) => (d.order ? { ...d, order: change(d.order) } : d), words);

/** Begin or change the plan; what is done already stays done. */
export function begin(plan: Plan) {
  act(
    (d) => ({
      ...d,
      order: {
        plan: plan.key as Order["plan"],
        steps: plan.steps.map(
          (key) =>
            d.order?.steps.find((s) => s.key === key) ?? {
              key: key as StepKey,
              state: "open" as const,
              reason: "",
            },
        ),
      },
    }),
    `Order of work: ${plan.name.split(":")[0]!.toLowerCase()}`,
  );
}

export function mark(key: string, state: "open" | "done" | "skipped", title: string, reason = "") {
  changed(
    (o) => ({ ...o, steps: o.steps.map((s) => (s.key === key ? { ...s, state, reason } : s)) }),
    `${title} ${state === "open" ? "taken up again" : state}`,
  );
}

export function shift(key: string, by: -1 | 1, title: string) {
  changed(
    (o) => {
      const at = o.steps.findIndex((s) => s.key === key),
        to = at + by;
      if (at < 0 || to < 0 || to >= o.steps.length) return o;
      const steps = [...o.steps];
      [steps[at], steps[to]] = [steps[to]!, steps[at]!];
      return { ...o, steps };
    },
    `${title} ${by < 0 ? "earlier" : "later"}`,
  );
}

const PAGES: Partial<Record<string, "fixed" | "ratios" | "targets">> = {
  fixed: "fixed",
  fill: "ratios",
  instruments: "targets",
};

/** Put the step's tool in hand. */
export function openTool(step: Judgement) {
  if (step.unit && readDesk().draft?.units.some((u) => u.id === step.unit) && step.panel === "unit")
    return choose(step.unit);
  if (step.panel === "meter") return setDesk({ panel: "meter", meter: PAGES[step.key] ?? "ways" });
  if (step.panel === "camera" || step.panel === "room") setDesk({ panel: step.panel });
}

/** Take a unit to the dimmer that a check worked out. */
export function takeTo(id: string, dimmer: number) {
  const unit = readDesk().draft?.units.find((u) => u.id === id);
  if (unit)
    act(
      (d) => ({
        ...d,
        units: d.units.map((u) =>
          u.id === id ? { ...u, on: true, dimmer: +dimmer.toFixed(4) } : u,
        ),
      }),
      `${unit.name} ${(100 * dimmer).toFixed(0)} %`,
    );
}
