import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import {
  api,
  got,
  type Constants,
  type Problem,
  type Production,
  type Schemas,
  type SetupRecord,
} from "../app/api";
import { useConstants } from "../app/constants";
import { useLength } from "../app/preferences";
import { Ending } from "../parts/Ending";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { NumberField } from "../parts/NumberField";
import { Sheet } from "../parts/Sheet";
import { TextField } from "../parts/TextField";
import {
  choicesOf,
  isNumber,
  NOTHING,
  NUMBERS,
  offered,
  stackKey,
  stackOf,
  type Making,
  type Of,
} from "./axes";

const STAGES = {
  face: "one face, one key at 45°/45°",
  wall: "a wall of 12 × 12 ft, lamp at 6 ft",
  table: "at a table, lamp hung over it",
  doorway: "seen through a doorway",
};
const OF: { value: Of; label: string }[] = [
  { value: "heads", label: "heads" },
  { value: "hung", label: "what is hung on" },
  { value: "moves", label: "cloths and rigs" },
  ...(Object.keys(NUMBERS) as (keyof typeof NUMBERS)[]).map((value) => ({
    value,
    label: NUMBERS[value].name,
  })),
];

/** Put a trial together: on what, rows, columns; how much it is is told before it is run. */
export function MakeTrial(props: {
  production: Production;
  close: () => void;
  done: (trial: Schemas["TrialOut"]) => void;
}) {
  const constants = useConstants();
  return (
    <Sheet open close={props.close} title="New trial" wide="card">
      {constants.data ? (
        <Form {...props} constants={constants.data} />
      ) : (
        <p className="text-quiet">{constants.error?.message ?? "Looking up the catalogue…"}</p>
      )}
    </Sheet>
  );
}

function Form(props: {
  production: Production;
  constants: Constants;
  close: () => void;
  done: (trial: Schemas["TrialOut"]) => void;
}) {
  const { production, constants, close, done } = props;
  const length = useLength();
  const [title, setTitle] = useState("Heads side by side");
  const [on, setOn] = useState<string>("face");
  const [unit, setUnit] = useState("");
  const [rows, setRows] = useState<Making>({ ...NOTHING, of: "heads" });
  const [columns, setColumns] = useState<Making>(NOTHING);
  const [level, setLevel] = useState<"same" | "full">("same");
  const [alone, setAlone] = useState<"off" | "on">("off");
  const [busy, setBusy] = useState(false),
    [fault, setFault] = useState("");
  const staged = on in STAGES;
  const record = useQuery({
    queryKey: ["record", Number(on)],
    enabled: !staged,
    queryFn: () =>
      got<SetupRecord>(api.GET("/api/setups/{pk}", { params: { path: { pk: Number(on) } } })),
  });
  const units = record.data?.document.units ?? [];
  const tried = staged ? "key" : (units.find((u) => u.id === unit) ?? units[0])?.id;
  const down = choicesOf(rows, constants, length.text),
    across = choicesOf(columns, constants, length.text);
  const ready = !!down?.length && (across === null || across.length > 0) && !!tried;
  const body: Schemas["PlanIn"] | null =
    ready && (staged || record.data)
      ? ({
          ...(staged ? { stage: on } : { document: record.data!.document }),
          unit: tried,
          rows: { choices: down },
          columns: across && { choices: across },
          level,
          alone: staged || alone === "off",
        } as Schemas["PlanIn"])
      : null;
  const path = { params: { path: { pk: production.id } } };
  const effort = useQuery({
    queryKey: ["effort", production.id, JSON.stringify(body)],
    enabled: body !== null,
    queryFn: () =>
      got<Schemas["EffortOut"]>(
        api.POST("/api/productions/{pk}/trials/effort", { ...path, body: body! }),
      ),
    retry: false,
  });
  async function run() {
    setBusy(true);
    setFault("");
    try {
      const call = api.POST("/api/productions/{pk}/trials", {
        ...path,
        body: { title: title.trim(), plan: body! },
      });
      done(await got<Schemas["TrialOut"]>(call));
    } catch (error) {
      setFault((error as Problem).message);
      setBusy(false);
    }
  }
  const setups = production.scenes.flatMap((s) =>
    s.setups.map((made) => ({ value: String(made.id), label: `${s.title}: ${made.title}` })),
  );
  return (
    <div className="grid gap-3">
      <div className="grid grid-cols-[1fr_1.4fr_1fr_auto] items-end gap-2">
        <TextField label="Name of the trial" value={title} maxLength={80} onChange={setTitle} />
        <Choice
          label="Tried on"
          value={on}
          options={[
            ...Object.entries(STAGES).map(([value, label]) => ({ value, label })),
            ...setups,
          ]}
          onChange={setOn}
        />
        {staged ? (
          <span />
        ) : (
          <div className="grid grid-cols-2 gap-2">
            <Choice
              label="Unit that is tried"
              value={tried ?? ""}
              options={units.map((u) => ({ value: u.id, label: u.name }))}
              onChange={setUnit}
            />
            <Choice
              label="Other light"
              value={alone}
              options={[
                { value: "off", label: "off" },
                { value: "on", label: "as it is" },
              ]}
              onChange={setAlone}
            />
          </div>
        )}
        <Choice
          label="Each cell"
          value={level}
          options={[
            { value: "same", label: "at one level" },
            { value: "full", label: "at full" },
          ]}
          onChange={setLevel}
        />
      </div>
      <div className="grid grid-cols-2 gap-4">
        <AxisMaker title="Rows" making={rows} constants={constants} change={setRows} />
        <AxisMaker
          title="Columns"
          none
          making={columns}
          constants={constants}
          change={setColumns}
        />
      </div>
      <p role="status" aria-label="How much it is" className="min-h-5 text-sm text-quiet">
        {body === null
          ? "Tick what is to be tried."
          : effort.isFetching
            ? "Counting…"
            : effort.error
              ? effort.error.message
              : effort.data && `${effort.data.words}.`}
      </p>
      {!!effort.data?.impossible.length && (
        <ul className="max-h-20 overflow-y-auto text-xs text-quiet">
          {effort.data.impossible.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      )}
      <Ending
        fault={fault}
        close={close}
        leave="Leave"
        action="Run it"
        disabled={busy || !body || !title.trim() || effort.isFetching || !!effort.error}
        done={() => void run()}
      />
    </div>
  );
}

/** Two or three cloths one after another, put together by hand. */
function StackMaker({ constants, add }: { constants: Constants; add: (key: string) => void }) {
  const cloths = constants.materials
    .filter((m) => m.group === "cloth")
    .map((m) => ({ value: m.key, label: m.name }));
  const [stack, setStack] = useState(["", "", ""]);
  const put = (at: number) => (key: string) =>
    setStack(stack.map((was, k) => (k === at ? key : was)));
  const chosen = stack.filter(Boolean);
  return (
    <div
      role="group"
      aria-label="A stack of cloths"
      className="grid grid-cols-2 items-end gap-2 border-b border-line pb-2"
    >
      {["Next to the lamp", "Then", "Last, if a third"].map((label, at) => (
        <Choice
          key={label}
          label={label}
          value={stack[at]!}
          options={[{ value: "", label: "no cloth" }, ...cloths]}
          onChange={put(at)}
        />
      ))}
      <Button
        disabled={chosen.length < 2}
        onClick={() => {
          add(stackKey(chosen));
          setStack(["", "", ""]);
        }}
      >
        Tick this stack
      </Button>
    </div>
  );
}

function AxisMaker(props: {
  title: string;
  none?: boolean;
  making: Making;
  constants: Constants;
  change: (making: Making) => void;
}) {
  const { title, none, making, constants, change } = props;
  const length = useLength();
  const stacks = making.picked.flatMap((key) => {
    const made = stackOf(key, constants);
    return made ? [[key, made] as const] : [];
  });
  const known = [...stacks, ...Object.entries(offered(making.of, constants))];
  function choose(of: Of) {
    const usual = isNumber(of) ? { from: NUMBERS[of].from, to: NUMBERS[of].to } : {};
    change({ ...NOTHING, of, ...usual });
  }
  const far = making.of === "distance";
  const show = (v: number) => (far ? length.show(v) : v),
    take = (v: number) => (far ? length.take(v) : v);
  return (
    <section aria-label={title} className="grid content-start gap-2">
      <Choice
        label={title}
        value={making.of}
        options={[...(none ? [{ value: "none" as Of, label: "nothing more" }] : []), ...OF]}
        onChange={choose}
      />
      {isNumber(making.of) && (
        <div className="grid grid-cols-3 gap-2">
          {(["from", "to"] as const).map((end) => (
            <NumberField
              key={end}
              label={end === "from" ? "From" : "To"}
              unit={far ? length.unit : NUMBERS[making.of as keyof typeof NUMBERS].unit}
              digits={far ? 2 : 0}
              value={show(making[end])}
              step={making.of === "white" ? 100 : far ? 0.1 : 5}
              min={making.of === "white" ? 2000 : far ? 0.1 : -180}
              max={making.of === "white" ? 10000 : 180}
              onChange={(v) => change({ ...making, [end]: take(v) })}
            />
          ))}
          <NumberField
            label="In so many"
            unit=""
            value={making.count}
            step={1}
            min={1}
            max={40}
            onChange={(v) => change({ ...making, count: Math.round(v) })}
          />
        </div>
      )}
      {making.of === "moves" && (
        <StackMaker
          constants={constants}
          add={(key) =>
            !making.picked.includes(key) && change({ ...making, picked: [...making.picked, key] })
          }
        />
      )}
      {known.length > 0 && (
        <div className="grid max-h-60 content-start overflow-y-auto rounded border border-line p-1">
          {known.map(([key, { name }]) => (
            <label
              key={key}
              className="flex min-h-8 items-center gap-2 rounded px-1 text-sm hover:bg-raised"
            >
              <input
                type="checkbox"
                className="size-4 accent-lamp"
                checked={making.picked.includes(key)}
                onChange={(e) =>
                  change({
                    ...making,
                    picked: e.target.checked
                      ? [...making.picked, key]
                      : making.picked.filter((k) => k !== key),
                  })
                }
              />
              {name}
            </label>
          ))}
        </div>
      )}
    </section>
  );
}
