import { NumberField } from "../../parts/NumberField";
import { useLength } from "../../app/preferences";

/** A place in the room by a number each way, metres or feet: one field a label. */
export function PlaceFields<P extends number[]>({
  labels,
  place,
  disabled,
  onChange,
}: {
  labels: readonly string[];
  place: P;
  disabled: boolean;
  onChange: (place: P) => void;
}) {
  const length = useLength();
  return labels.map((label, axis) => (
    <NumberField
      key={label}
      label={label}
      unit={length.unit}
      digits={2}
      value={length.show(place[axis]!)}
      step={0.1}
      min={-200}
      max={200}
      disabled={disabled}
      onChange={(v) =>
        onChange(place.map((p, k) => (k === axis ? +length.take(v).toFixed(3) : p)) as P)
      }
    />
  ));
}
