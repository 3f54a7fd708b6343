import type { Figure } from "../app/api";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { NumberField } from "../parts/NumberField";
import { useLength } from "./preferences";
import { act, mayEdit, useDesk, withFigure } from "./store";

const PEOPLE = [
  { value: "weathered-man", label: "Weathered man" }, { value: "young-woman", label: "Young woman" },
  { value: "middle-aged-woman", label: "Middle-aged woman" }, { value: "broad-man", label: "Broad man" },
] as const;
const POSES = [{ value: "standing", label: "standing" }, { value: "seated", label: "seated" }] as const;

export function FigurePanel() {
  const figure = useDesk((d) => d.draft!.figures[0]!);
  const editable = useDesk(mayEdit);
  const length = useLength();
  const disabled = !editable;
  const set = (change: Partial<Figure>, words: string) => act(withFigure(() => change), `${figure.name}: ${words}`);
  return (
    <div className="grid grid-cols-2 gap-2">
      <Choice label="Who" value={figure.figure} options={[...PEOPLE]} disabled={disabled} onChange={(who) => set({ figure: who }, who)} />
      <Choice label="Pose" value={figure.pose} options={[...POSES]} disabled={disabled} onChange={(pose) => set({ pose }, pose)} />
      <NumberField label="Faces (0° north)" unit="°" value={figure.facing} step={5} min={-360} max={360} disabled={disabled} onChange={(facing) => set({ facing: Math.round(facing * 10) / 10 }, "turned")} />
      <div className="grid content-end"><Button pressed={figure.spectacles} disabled={disabled} onClick={() => set({ spectacles: !figure.spectacles }, figure.spectacles ? "spectacles off" : "spectacles on")}>Spectacles</Button></div>
      {(["From the west wall", "From the south wall"] as const).map((label, axis) => (
        <NumberField key={label} label={label} unit={length.unit} digits={2} value={length.show(figure.position[axis]!)} step={0.1} min={0} max={200} disabled={disabled}
          onChange={(v) => set({ position: figure.position.map((p, k) => (k === axis ? +length.take(v).toFixed(3) : p)) as [number, number] }, "moved")} />
      ))}
    </div>
  );
}
