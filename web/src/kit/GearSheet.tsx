import { useState, type FormEvent } from "react";
import { api, type Constants } from "../app/api";
import { Ending } from "../parts/Ending";
import { Choice } from "../parts/Choice";
import { NumberField } from "../parts/NumberField";
import { Sheet } from "../parts/Sheet";
import { TextField } from "../parts/TextField";
import { catalogue, FIGURES, fresh, LABELS, type Gear, type GearLine, type Kind } from "./gear";

type Props = {
  production: number;
  /** None for a new one. */
  line: GearLine | null;
  constants: Constants;
  close: () => void;
  done: () => Promise<void>;
};

/** A line of the kit, typed. */
export function GearSheet({ production, line, constants, close, done }: Props) {
  const [gear, setGear] = useState<Gear>(() => (line ? bare(line) : fresh("head")));
  const [fault, setFault] = useState(""),
    [busy, setBusy] = useState(false);
  const known = catalogue(gear.kind, constants);
  const put = (change: Partial<Gear>) => setGear((g) => ({ ...g, ...change }));

  async function store(event: FormEvent) {
    event.preventDefault();
    setBusy(true);
    try {
      const name = gear.name.trim() || known.find((k) => k.key === gear.key)?.name || "";
      const body = { ...gear, name };
      if (line) await api.PUT("/api/kit/{pk}", { params: { path: { pk: line.id } }, body });
      else
        await api.POST("/api/productions/{pk}/kit", { params: { path: { pk: production } }, body });
      await done();
      close();
    } catch (error) {
      setFault((error as Error).message);
      setBusy(false);
    }
  }
  return (
    <Sheet open close={close} title={line ? line.name : "A line of the kit"} wide>
      <form onSubmit={(e) => void store(e)} className="grid gap-3">
        <div className="grid grid-cols-2 gap-3">
          <Choice
            label="Kind"
            value={gear.kind}
            options={(Object.entries(constants.gear) as [Kind, string][]).map(([value, label]) => ({
              value,
              label,
            }))}
            onChange={(kind) => setGear({ ...fresh(kind), name: gear.name, count: gear.count })}
          />
          {known.length > 0 && (
            <Choice
              label={gear.kind === "head" ? "Is, or works like" : "Of the catalogue"}
              value={gear.key}
              options={[
                ...(gear.kind === "head" ? [] : [{ value: "", label: "none of it" }]),
                ...known.map((k) => ({ value: k.key, label: k.name })),
              ]}
              onChange={(key) => put({ key })}
            />
          )}
        </div>
        <TextField
          label="Name"
          value={gear.name}
          onChange={(name) => put({ name })}
          maxLength={80}
          placeholder={known.find((k) => k.key === gear.key)?.name ?? ""}
        />
        <div className="grid grid-cols-3 gap-3">
          <NumberField
            label="How many"
            unit=""
            value={gear.count}
            step={1}
            min={0}
            max={999}
            onChange={(count) => put({ count: Math.round(count) })}
          />
          {(["price", "weight", ...FIGURES[gear.kind]] as const).map((field) => (
            <NumberField
              key={field}
              label={LABELS[field]![0]}
              unit={LABELS[field]![1]}
              digits={2}
              value={(gear[field] as number | null | undefined) ?? 0}
              step={1}
              min={0}
              max={field === "lux" ? 1e7 : 100000}
              // Nought stands for what the catalogue says.
              onChange={(value) => put({ [field]: value || (field === "price" ? 0 : null) })}
            />
          ))}
        </div>
        {gear.kind === "head" && <FileOf gear={gear} line={line} put={put} refuse={setFault} />}
        <TextField
          label="Note"
          value={gear.note}
          onChange={(note) => put({ note })}
          maxLength={200}
        />
        <p className="text-xs text-quiet">
          What is left at nought is taken from the catalogue, whose figures are typical.
        </p>
        <Ending fault={fault} close={close} action={line ? "Keep it" : "Add it"} disabled={busy} />
      </form>
    </Sheet>
  );
}

/** A line as it is sent: without what the server says of it. */
function bare(line: GearLine): Gear {
  const said = new Set(["id", "has_file"]);
  return Object.fromEntries(Object.entries(line).filter(([k]) => !said.has(k))) as Gear;
}

type FileOf = {
  gear: Gear;
  line: GearLine | null;
  put: (change: Partial<Gear>) => void;
  refuse: (words: string) => void;
};

function FileOf({ gear, line, put, refuse }: FileOf) {
  const says = gear.file
    ? "A photometric file is chosen."
    : line?.has_file
      ? "Its light is a photometric file of its own."
      : "Its light is the catalogue's, or a photometric file of its own (IES, EULUMDAT).";
  return (
    <label className="flex items-center gap-3 text-sm text-quiet">
      <span className="flex-1">{says}</span>
      <input
        type="file"
        accept=".ies,.ldt"
        aria-label="Photometric file"
        className="w-56 text-xs"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (!file) return;
          if (file.size > 400_000) return refuse("A photometric file is under 400 kB.");
          void file.text().then((text) => put({ file: text }));
        }}
      />
    </label>
  );
}
