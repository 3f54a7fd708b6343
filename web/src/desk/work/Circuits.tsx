import { type Document, type Schemas, type Unit } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { cornersOf } from "../place/walls";
import { act, mayEdit, useDesk, withUnit } from "../store";

type Circuit = Schemas["Circuit"];
const BATTERY = "@battery";

const withCircuit = (id: string, change: Partial<Circuit>) => (d: Document) => ({
  ...d,
  circuits: d.circuits.map((c) => (c.id === id ? { ...c, ...change } : c)),
});

/** One more circuit, like the one before it. */
function added(d: Document): Document {
  const taken = new Set(d.circuits.map((c) => c.id));
  let at = d.circuits.length + 1;
  while (taken.has(`c${at}`)) at++;
  const last = d.circuits.at(-1);
  const like = last ?? { kind: "mains" as const, volts: 230, amperes: 16, wire: 2.5 };
  return {
    ...d,
    circuits: [...d.circuits, { ...like, id: `c${at}`, name: `Circuit ${at}`, sockets: [] }],
  };
}

/** A circuit taken away; what hung on it hangs on nothing. */
const gone = (id: string) => (d: Document) => ({
  ...d,
  circuits: d.circuits.filter((c) => c.id !== id),
  units: d.units.map((u) => (u.feed === id ? { ...u, feed: "" } : u)),
});

/** What hangs on what: the circuits with their loads, and each unit with what it draws. */
export function Circuits({ power }: { power: Schemas["Power"] }) {
  const circuits = useDesk((d) => d.draft!.circuits),
    units = useDesk((d) => d.draft!.units),
    editable = useDesk(mayEdit);
  const feeds = [
    { value: "", label: "not said" },
    ...circuits.map((c) => ({ value: c.id, label: c.name })),
    { value: BATTERY, label: "a battery" },
  ];
  return (
    <div className="grid gap-4 pt-2">
      <p className="text-base">
        {power.words} {power.first && <b className="text-fault">{power.first}</b>}{" "}
        <span className="text-quiet">
          For planning only: what may be connected, licensed people decide.
        </span>
      </p>
      <section aria-label="Circuits" className="grid gap-2">
        {circuits.map((c) => (
          <Row
            key={c.id}
            circuit={c}
            load={power.circuits.find((l) => l.id === c.id)}
            editable={editable}
          />
        ))}
        {circuits.length === 0 && (
          <p className="text-quiet">
            No circuits yet. Add those of the place: which breaker carries what is told at once.
          </p>
        )}
        {editable && circuits.length < 16 && (
          <Button className="w-44" onClick={() => act(added, "a circuit added")}>
            Add a circuit
          </Button>
        )}
      </section>
      <table className="w-full text-sm">
        <thead className="text-left text-xs text-quiet">
          <tr>
            <th className="pb-1 font-normal">unit</th>
            <th className="w-48 pb-1 font-normal">hangs on</th>
            <th className="w-32 pb-1 pl-3 font-normal">cable, or charge</th>
            <th className="pb-1 pl-3 font-normal">draws</th>
          </tr>
        </thead>
        <tbody>
          {units.map((u) => (
            <UnitRow
              key={u.id}
              unit={u}
              draw={power.draws.find((d) => d.id === u.id)}
              battery={power.batteries.find((b) => b.unit === u.name)}
              feeds={feeds}
              editable={editable}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

const TONE: Record<string, string> = {
  empty: "text-quiet",
  fits: "text-calm",
  close: "text-lamp",
  over: "text-fault",
};

type RowProps = {
  circuit: Circuit;
  load: Schemas["CircuitLoad"] | undefined;
  editable: boolean;
};

function Row({ circuit: c, load, editable }: RowProps) {
  const put = (change: Partial<Circuit>, words: string) => act(withCircuit(c.id, change), words);
  const number = (
    label: string,
    field: "volts" | "amperes" | "wire",
    unit: string,
    [min, max, step]: [number, number, number],
  ) => (
    <NumberField
      label={`${label} of ${c.name}`}
      hideLabel
      unit={unit}
      digits={field === "wire" ? 1 : 0}
      value={c[field]}
      min={min}
      max={max}
      step={step}
      disabled={!editable}
      onChange={(value) => put({ [field]: value }, `${c.name}: ${value} ${unit}`)}
    />
  );
  const top = Math.max(c.amperes, load?.full ?? 0, 1);
  return (
    <div className="rounded border border-line p-2">
      <div className="grid grid-cols-[1fr_9rem_6rem_6rem_7rem_auto] items-end gap-2">
        <input
          aria-label="Name of the circuit"
          key={c.name}
          defaultValue={c.name}
          disabled={!editable}
          maxLength={80}
          className="h-10 w-full min-w-0 rounded border border-line bg-ink px-2.5"
          onBlur={(e) => {
            const name = e.target.value.trim();
            if (name && name !== c.name) put({ name }, `circuit ${name}`);
            else e.target.value = c.name;
          }}
        />
        <Choice
          label={`Kind of ${c.name}`}
          hideLabel
          value={c.kind}
          disabled={!editable}
          options={[
            { value: "mains", label: "mains" },
            { value: "generator", label: "generator" },
          ]}
          onChange={(kind) => put({ kind }, `${c.name}: ${kind}`)}
        />
        {number("Volts", "volts", "V", [50, 480, 10])}
        {number("Breaker", "amperes", "A", [1, 400, 1])}
        {number("Copper", "wire", "mm²", [0.5, 120, 0.5])}
        <Button
          look="bare"
          disabled={!editable}
          aria-label={`Take ${c.name} away`}
          onClick={() => act(gone(c.id), `${c.name} taken away`)}
        >
          Away
        </Button>
      </div>
      {load && (
        <>
          <div
            aria-hidden
            className="relative mt-2 h-3 overflow-hidden rounded-sm bg-ink"
            title="what hangs on it, at full and as set"
          >
            <span
              className={`absolute inset-y-0 left-0 ${load.verdict === "over" ? "bg-fault/40" : "bg-lamp/35"}`}
              style={{ width: `${(100 * load.full) / top}%` }}
            />
            <span
              className={`absolute inset-y-0 left-0 ${load.verdict === "over" ? "bg-fault" : "bg-lamp"}`}
              style={{ width: `${(100 * load.amperes) / top}%` }}
            />
            <span
              className="absolute inset-y-0 w-0.5 bg-paper"
              style={{ left: `calc(${(80 * load.breaker) / top}% - 1px)` }}
            />
          </div>
          <p className={`pt-1 text-sm ${TONE[load.verdict]}`}>{load.words}</p>
        </>
      )}
      <Sockets circuit={c} editable={editable} />
    </div>
  );
}

/** Where its sockets are on the plan: from them the cables are reckoned. */
function Sockets({ circuit: c, editable }: { circuit: Circuit; editable: boolean }) {
  const room = useDesk((d) => d.draft!.room);
  const put = (sockets: Circuit["sockets"]) =>
    act(withCircuit(c.id, { sockets }), `sockets of ${c.name}`);
  /** Beside the last one, or in a corner of the room: from there it is carried on the plan. */
  const another = (): [number, number] => {
    const last = c.sockets.at(-1);
    return last ? [last[0] + 0.5, last[1]] : cornersOf(room)[0]!;
  };
  return (
    <div className="flex flex-wrap items-end gap-2 pt-1 text-sm text-quiet">
      {c.sockets.map((s, at) => (
        <span key={at} className="flex items-end gap-1">
          {([0, 1] as const).map((axis) => (
            <span key={axis} className="w-32">
              <NumberField
                label={`Socket ${at + 1} of ${c.name}, ${axis ? "north" : "east"}`}
                hideLabel
                unit={axis ? "m north" : "m east"}
                digits={1}
                value={s[axis]!}
                step={0.5}
                min={-200}
                max={200}
                disabled={!editable}
                onChange={(v) =>
                  put(c.sockets.map((o, k) => (k === at ? (axis ? [o[0], v] : [v, o[1]]) : o)))
                }
              />
            </span>
          ))}
          <Button
            look="bare"
            disabled={!editable}
            aria-label={`Take socket ${at + 1} of ${c.name} away`}
            onClick={() => put(c.sockets.filter((_, k) => k !== at))}
          >
            ×
          </Button>
        </span>
      ))}
      {editable && c.sockets.length < 12 && (
        <Button look="bare" className="text-xs" onClick={() => put([...c.sockets, another()])}>
          {c.sockets.length ? "Another socket" : "Put a socket on the plan"}
        </Button>
      )}
    </div>
  );
}

type UnitRowProps = {
  unit: Unit;
  draw: Schemas["Draw"] | undefined;
  battery: Schemas["Battery"] | undefined;
  feeds: { value: string; label: string }[];
  editable: boolean;
};

function UnitRow({ unit: u, draw, battery, feeds, editable }: UnitRowProps) {
  const put = (change: Partial<Unit>, words: string) =>
    act(
      withUnit(u.id, () => change),
      `${u.name}: ${words}`,
    );
  const on = feeds.find((f) => f.value === u.feed);
  return (
    <tr className="border-t border-line align-middle">
      <th scope="row" className="text-left font-normal">
        {u.name}
        {u.switch && <span className="text-quiet"> · the place's own</span>}
      </th>
      <td className="py-1">
        <Choice
          label={`What ${u.name} hangs on`}
          hideLabel
          value={on?.value ?? ""}
          disabled={!editable}
          options={feeds}
          onChange={(feed) => put({ feed }, `on ${feeds.find((f) => f.value === feed)!.label}`)}
        />
      </td>
      <td className="pl-3">
        {u.feed === BATTERY ? (
          <NumberField
            label={`Charge of ${u.name}`}
            hideLabel
            unit="%"
            value={100 * u.charge}
            step={10}
            min={0}
            max={100}
            disabled={!editable}
            onChange={(v) => put({ charge: v / 100 }, `battery at ${v.toFixed(0)} %`)}
          />
        ) : (
          u.feed && (
            <NumberField
              label={`Cable of ${u.name}`}
              hideLabel
              unit="m"
              digits={1}
              value={draw?.run ?? 0}
              step={5}
              min={0}
              max={500}
              disabled={!editable}
              onChange={(run) => put({ run }, `${run.toFixed(0)} m of cable`)}
            />
          )
        )}
      </td>
      <td className="pl-3">
        {draw?.fault || battery?.changes.length ? (
          <span className="text-fault">{draw?.fault || battery?.words}</span>
        ) : (
          draw?.words
        )}
      </td>
    </tr>
  );
}
