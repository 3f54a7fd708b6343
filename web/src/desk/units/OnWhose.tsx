import type { Grip, Unit } from "../../app/api";
import { Choice } from "../../parts/Choice";

type Props = {
  item: Unit | Grip;
  bearers: readonly Unit[];
  disabled: boolean;
  onChange: (unit: Unit) => void;
};

/** Whose stand the arm of a unit or a piece of grip is on. */
export function OnWhose({ item, bearers, disabled, onChange }: Props) {
  return (
    <Choice
      label="On the stand of"
      value={item.bearer}
      disabled={disabled}
      options={bearers.map((u) => ({ value: u.id, label: u.name }))}
      onChange={(id) => onChange(bearers.find((u) => u.id === id)!)}
    />
  );
}
