import { useId } from "react";
import type { Constants, Furniture } from "../../app/api";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { ofSwatch, swatchOf } from "./swatch";

type Surface = Furniture["surface"];

/** What a surface is of: from the list, or by its reflectance and its hue. */
export function SurfaceFields({
  title,
  surface,
  materials,
  disabled,
  onChange,
}: {
  title: string;
  surface: Surface;
  materials: Constants["materials"];
  disabled: boolean;
  onChange: (surface: Surface, words: string) => void;
}) {
  const id = useId();
  const kinds = materials.filter(
    (m) => ["wall", "ground", "board", "dark"].includes(m.group) && !m.mirror,
  );
  const named = kinds.find(
    (m) =>
      Math.abs(m.reflectance - surface.reflectance) < 1e-3 &&
      m.colour.every((c, k) => Math.abs(c - surface.colour[k]!) < 1e-3),
  );
  return (
    <div className="grid grid-cols-[1fr_5.5rem_2.75rem] items-end gap-1.5">
      <Choice
        label={title}
        value={named?.key ?? "-"}
        disabled={disabled}
        options={[
          ...(named ? [] : [{ value: "-", label: "a colour of its own" }]),
          ...kinds.map((m) => ({
            value: m.key,
            label: m.name,
            note: `${Math.round(m.reflectance * 100)} %`,
          })),
        ]}
        onChange={(key) => {
          const m = kinds.find((k) => k.key === key);
          if (m) onChange({ reflectance: m.reflectance, colour: m.colour }, m.name);
        }}
      />
      <NumberField
        label="Reflects"
        unit="%"
        value={surface.reflectance * 100}
        step={5}
        min={0}
        max={95}
        disabled={disabled}
        onChange={(v) =>
          onChange({ ...surface, reflectance: Math.round(v) / 100 }, `${v.toFixed(0)} %`)
        }
      />
      <div className="grid gap-0.5">
        <label htmlFor={id} className="text-xs text-quiet">
          Hue<span className="sr-only"> of {title.toLowerCase()}</span>
        </label>
        <input
          id={id}
          type="color"
          className="h-10 w-full rounded border border-line bg-ink p-1"
          disabled={disabled}
          value={swatchOf(surface)}
          onChange={(e) => onChange(ofSwatch(e.target.value), "colour")}
        />
      </div>
    </div>
  );
}
