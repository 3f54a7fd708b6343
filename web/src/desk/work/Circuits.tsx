import { type Document, type Schemas } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { act, mayEdit, useDesk } from "../store";
import { FeedRow } from "./FeedRow";
import { Sockets } from "./Sockets";
import { BATTERY, withCircuit, type Circuit } from "./feeding";

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
            <FeedRow
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
