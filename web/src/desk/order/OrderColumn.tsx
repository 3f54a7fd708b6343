import { useState } from "react";
import type { Constants } from "../../app/api";
import { Button } from "../../parts/Button";
import { Why } from "../../parts/Why";
import { Choice } from "../../parts/Choice";
import { begin, mark, shift, takeTo, openTool, type Judgement } from "./order";
import { act, mayEdit, useDesk } from "../store";

/**
 * The order of work beside the frame: every step with its check, the open one with its tool in
 * hand.
 */
export function OrderColumn({ constants }: { constants: Constants }) {
  const order = useDesk((d) => d.draft!.order);
  const judged = useDesk((d) => d.judged);
  const editable = useDesk(mayEdit);
  const [open, setOpen] = useState<string | null>(null);
  const plans = constants.plans.map((p) => ({ value: p.key, label: p.name }));
  if (!order) {
    return (
      <div className="grid content-start gap-2 p-3">
        <p className="text-quiet">
          An order to build by: each step says what to look at and checks itself against the light.
          Take one, move its steps as you like.
        </p>
        {constants.plans.map((p) => (
          <Button
            key={p.key}
            disabled={!editable}
            onClick={() => begin(p)}
            className="justify-start text-left"
          >
            {p.name}
          </Button>
        ))}
      </div>
    );
  }
  const rows = order.steps.map((s) => judged?.order.find((r) => r.key === s.key) ?? null);
  /** Open a step, its tool in hand. */
  function go(key: string | null) {
    setOpen(key);
    const row = judged?.order.find((r) => r.key === key);
    if (row) openTool(row);
  }
  const left = order.steps.filter((s) => s.state === "open").length;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="px-2 pb-1">
        <Choice
          label="Order"
          hideLabel
          value={order.plan as string}
          options={plans}
          disabled={!editable}
          onChange={(key) => begin(constants.plans.find((p) => p.key === key)!)}
        />
      </div>
      <ol aria-label="Steps" className="min-h-0 flex-1 overflow-y-auto px-2">
        {order.steps.map((step, at) => (
          <StepRow
            key={step.key}
            step={step}
            judgement={rows[at] ?? null}
            open={open === step.key}
            first={at === 0}
            last={at === order.steps.length - 1}
            editable={editable}
            toggle={() => go(open === step.key ? null : step.key)}
            next={() => go(order.steps.slice(at + 1).find((s) => s.state === "open")?.key ?? null)}
          />
        ))}
      </ol>
      <p role="status" className="px-3 py-2 text-xs text-quiet">
        {left === 0
          ? "Built: every step is done or skipped."
          : `${left} step${left === 1 ? "" : "s"} to go.`}
      </p>
    </div>
  );
}

type RowProps = {
  step: { key: string; state?: string; reason?: string };
  judgement: Judgement | null;
  open: boolean;
  first: boolean;
  last: boolean;
  editable: boolean;
  toggle: () => void;
  next: () => void;
};

function StepRow(props: RowProps) {
  const { step, judgement, open, toggle } = props;
  return (
    <li
      className={`mb-0.5 rounded border ${open ? "border-lamp bg-raised" : "border-transparent"}`}
    >
      <button
        type="button"
        aria-expanded={open}
        onClick={toggle}
        className="flex min-h-10 w-full items-center gap-2 rounded px-2 text-left hover:bg-raised"
      >
        <Token state={step.state ?? "open"} met={judgement?.met ?? null} />
        <span className={`flex-1 ${step.state !== "open" ? "text-quiet" : ""}`}>
          {judgement?.title ?? step.key}
        </span>
        <span className="sr-only">
          {step.state === "done"
            ? "done"
            : step.state === "skipped"
              ? `skipped: ${step.reason}`
              : judgement === null
                ? ""
                : judgement.met
                  ? "met"
                  : judgement.met === null
                    ? "no check"
                    : "not yet"}
        </span>
      </button>
      {open && <StepBody {...props} />}
    </li>
  );
}

function StepBody({ step, judgement, first, last, editable, next }: RowProps) {
  const judging = useDesk((d) => d.inspecting);
  const [skipping, setSkipping] = useState(false);
  const title = judgement?.title ?? step.key,
    settled = step.state !== "open";
  function done() {
    mark(step.key, "done", title);
    next();
  }
  function skip(why: string) {
    mark(step.key, "skipped", title, why);
    setSkipping(false);
    next();
  }
  return (
    <div className="grid gap-1.5 px-2 pb-2 text-xs">
      <p className="text-quiet">{judgement?.look}</p>
      <p
        role="status"
        aria-label={`${title}, check`}
        aria-busy={judging}
        className={judgement?.met ? "text-calm" : "text-paper"}
      >
        {judgement
          ? `${judgement.met ? "Met" : judgement.met === null ? "No check" : "Not yet"}: ${judgement.words}.`
          : "Looking…"}
      </p>
      {step.state === "skipped" && <p className="text-quiet">Skipped: {step.reason}</p>}
      {step.key === "note" && <Note disabled={!editable} />}
      {editable && judgement?.unit && judgement.dimmer != null && !judgement.met && (
        <Button disabled={judging} onClick={() => takeTo(judgement.unit!, judgement.dimmer!)}>
          Take it to {(100 * judgement.dimmer).toFixed(0)} %
        </Button>
      )}
      {editable && !settled && !skipping && (
        <div className="flex gap-1">
          <Button look={judgement?.met ? "lamp" : "plain"} className="flex-1 px-1" onClick={done}>
            Done
          </Button>
          <Button look="bare" className="flex-1 px-1" onClick={() => setSkipping(true)}>
            Skip…
          </Button>
        </div>
      )}
      {skipping && (
        <Why
          label="Why it is skipped"
          doIt="Skip it"
          give={skip}
          leave={() => setSkipping(false)}
        />
      )}
      {editable && settled && (
        <Button look="bare" onClick={() => mark(step.key, "open", title)}>
          Take it up again
        </Button>
      )}
      {editable && (
        <div className="flex gap-1">
          <Button
            look="bare"
            className="flex-1 px-1 text-xs text-quiet"
            disabled={first}
            aria-label={`Move ${title} earlier`}
            onClick={() => shift(step.key, -1, title)}
          >
            earlier
          </Button>
          <Button
            look="bare"
            className="flex-1 px-1 text-xs text-quiet"
            disabled={last}
            aria-label={`Move ${title} later`}
            onClick={() => shift(step.key, 1, title)}
          >
            later
          </Button>
        </div>
      )}
    </div>
  );
}

/** A wick: unlit, lit when the check is met, crossed when it is skipped, capped when it is done. */
function Token({ state, met }: { state: string; met: boolean | null }) {
  const lit = met && state !== "skipped";
  return (
    <svg aria-hidden width="16" height="20" viewBox="0 0 16 20" className="shrink-0">
      <path
        d="M8 2c3 4 4.5 6 4.5 8.5a4.5 4.5 0 0 1-9 0C3.5 8 5 6 8 2z"
        className={lit ? "fill-lamp stroke-lamp" : "fill-none stroke-quiet"}
        strokeWidth="1.5"
        opacity={state === "skipped" ? 0.4 : 1}
      />
      {state === "done" && (
        <path d="M2 18.5h12" className="stroke-calm" strokeWidth="2.5" strokeLinecap="round" />
      )}
      {state === "skipped" && <path d="M3 4l10 11" className="stroke-quiet" strokeWidth="1.5" />}
    </svg>
  );
}

function Note({ disabled }: { disabled: boolean }) {
  const notes = useDesk((d) => d.draft!.notes);
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <label className="grid gap-0.5 text-quiet">
      Notes
      <textarea
        rows={6}
        maxLength={20_000}
        disabled={disabled}
        className="w-full resize-y rounded border border-line bg-ink p-2 text-sm text-paper"
        value={typed ?? notes}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => {
          if (typed !== null && typed !== notes) act((d) => ({ ...d, notes: typed }), "Notes");
          setTyped(null);
        }}
      />
    </label>
  );
}
