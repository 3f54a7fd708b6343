import { useState } from "react";
import type { Constants, Document, Grip } from "../../app/api";
import { Button } from "../../parts/Button";
import { NumberField } from "../../parts/NumberField";
import { act, setDesk } from "../store";

type Own = Document["materials"][number];
type Share = "straight" | "forward" | "through" | "reflectance" | "lobe" | "mirror";

const THROUGH: [Share, string][] = [
  ["straight", "Straight on"],
  ["forward", "In a lobe"],
  ["through", "Diffuse"],
];
const BACK: [Share, string][] = [
  ["reflectance", "Diffuse"],
  ["lobe", "In a lobe"],
  ["mirror", "Mirrored"],
];
const MOST = 0.98;

/** A cloth of the catalogue taken as the start of one of the user's own. */
export function makeOwn(piece: Grip, from: Constants["materials"][number]) {
  const id = `own-${piece.id}`;
  const {
    reflectance,
    mirror,
    lobe,
    lobe_width,
    straight,
    forward,
    forward_width,
    through,
    tint,
    colour,
  } = from;
  const made: Own = {
    id,
    name: `${from.name}, own`,
    reflectance,
    mirror,
    lobe,
    lobe_width,
    straight,
    forward,
    forward_width,
    through,
    tint,
    colour,
  };
  act(
    (d) => ({
      ...d,
      materials: [...d.materials.filter((m) => m.id !== id), made],
      grip: d.grip.map((g) => (g.id === piece.id ? { ...g, material: id } : g)),
    }),
    `${piece.name}: cloth of its own`,
  );
}

/** Where the light on it goes: shares in percent, lobes in degrees, the tint in mired. */
export function OwnMaterial({ own, disabled }: { own: Own; disabled: boolean }) {
  const [open, setOpen] = useState(false);
  const sum = [...THROUGH, ...BACK].reduce((t, [k]) => t + own[k], 0);
  const passed = own.straight + own.forward + own.through;
  function set(change: Partial<Own>, words: string) {
    const next = { ...own, ...change };
    const whole = [...THROUGH, ...BACK].reduce((t, [k]) => t + next[k], 0);
    if (whole > MOST + 1e-9) {
      setDesk({
        fault: {
          text: `All shares would come to ${(whole * 100).toFixed(0)} %: no cloth gives back more than ${MOST * 100} % of its light. Take some from another share first.`,
          path: "materials",
        },
      });
      return;
    }
    act(
      (d) => ({ ...d, materials: d.materials.map((m) => (m.id === own.id ? next : m)) }),
      `${own.name}: ${words}`,
    );
  }
  if (!open)
    return (
      <Button look="bare" onClick={() => setOpen(true)}>
        Its shares of light…
      </Button>
    );
  const shares = (
    title: string,
    rows: [Share, string][],
    width: "forward_width" | "lobe_width",
  ) => (
    <fieldset className="grid grid-cols-4 gap-1.5">
      <legend className="text-xs text-quiet">{title}</legend>
      {rows.map(([key, label]) => (
        <NumberField
          key={key}
          label={label}
          unit="%"
          digits={0}
          value={own[key] * 100}
          step={1}
          min={0}
          max={98}
          disabled={disabled}
          onChange={(v) =>
            set({ [key]: v / 100 }, `${title.toLowerCase()}, ${label.toLowerCase()}`)
          }
        />
      ))}
      <NumberField
        label="Lobe"
        unit="°"
        digits={0}
        value={own[width]}
        step={1}
        min={2}
        max={90}
        disabled={disabled}
        onChange={(v) => set({ [width]: v }, "lobe")}
      />
    </fieldset>
  );
  return (
    <div
      className="grid gap-1.5 rounded border border-line p-2"
      role="group"
      aria-label={`Shares of ${own.name}`}
    >
      <label className="grid gap-0.5">
        <span className="text-xs text-quiet">Name of the cloth</span>
        <input
          className="h-10 w-full min-w-0 rounded border border-line bg-ink px-2.5"
          defaultValue={own.name}
          disabled={disabled}
          maxLength={80}
          onBlur={(e) =>
            e.target.value.trim() &&
            e.target.value !== own.name &&
            set({ name: e.target.value.trim() }, "renamed")
          }
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        />
      </label>
      {shares("Goes through", THROUGH, "forward_width")}
      {shares("Comes back", BACK, "lobe_width")}
      <div className="grid grid-cols-[1fr_2fr] items-end gap-1.5">
        <NumberField
          label="Tint, + warmer"
          unit="mired"
          digits={0}
          value={own.tint}
          step={5}
          min={-200}
          max={200}
          disabled={disabled}
          onChange={(v) => set({ tint: v }, "tint")}
        />
        <p className="pb-2 text-xs text-quiet">
          {passed > 0.005 ? `Costs ${(-Math.log2(passed)).toFixed(1)} stops. ` : ""}
          {Math.round((1 - sum) * 100)} % is swallowed.
        </p>
      </div>
      <Button look="bare" onClick={() => setOpen(false)}>
        Close
      </Button>
    </div>
  );
}
