import { NumberField } from "../../parts/NumberField";
import { useLength } from "../../app/preferences";
import type { Polar } from "./polar";

type Props = {
  polar: Polar;
  /** Height over the floor [m], and the least that may be typed. */
  height: number;
  lowest: number;
  disabled: boolean;
  /** One of the words is another: what the gesture is called, and the word [deg, m]. */
  place: (words: string, polar: Partial<Polar>) => void;
  lift: (words: string, height: number) => void;
};

/** The four words by which a lamp or a piece of grip is placed. */
export function PolarFields({ polar, height, lowest, disabled, place, lift }: Props) {
  const length = useLength();
  return (
    <div className="grid grid-cols-4 gap-1.5">
      <NumberField
        label="Off lens"
        unit="°"
        value={polar.angle}
        step={5}
        min={-180}
        max={180}
        disabled={disabled}
        onChange={(angle) => place("angle", { angle })}
      />
      <NumberField
        label="Above eyes"
        unit="°"
        value={polar.height}
        step={5}
        min={-85}
        max={85}
        disabled={disabled}
        onChange={(above) => place("height angle", { height: above })}
      />
      <NumberField
        label="To the face"
        unit={length.unit}
        digits={2}
        value={length.show(polar.distance)}
        step={0.1}
        min={0.2}
        max={60}
        disabled={disabled}
        onChange={(d) => place("distance", { distance: length.take(d) })}
      />
      <NumberField
        label="Over floor"
        unit={length.unit}
        digits={2}
        value={length.show(height)}
        step={0.1}
        min={lowest}
        max={60}
        disabled={disabled}
        onChange={(z) => lift("height", length.take(z))}
      />
    </div>
  );
}
