import type { Figure, Point } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { fromPolar, toPolar } from "../plan/polar";
import { PlaceFields } from "./PlaceFields";
import { act, mayEdit, useDesk, withFigure } from "../store";

const PEOPLE = [
  { value: "weathered-man", label: "Weathered man" },
  { value: "young-woman", label: "Young woman" },
  { value: "middle-aged-woman", label: "Middle-aged woman" },
  { value: "broad-man", label: "Broad man" },
] as const;
const POSES = [
  { value: "standing", label: "standing" },
  { value: "seated", label: "seated" },
] as const;

export function FigurePanel() {
  const figure = useDesk((d) => d.draft!.figures[0]!);
  const editable = useDesk(mayEdit);
  const disabled = !editable;
  const set = (change: Partial<Figure>, words: string) =>
    act(
      withFigure(() => change),
      `${figure.name}: ${words}`,
    );
  return (
    <div className="grid grid-cols-2 gap-2">
      <Choice
        label="Who"
        value={figure.figure}
        options={[...PEOPLE]}
        disabled={disabled}
        onChange={(who) => set({ figure: who }, who)}
      />
      <Choice
        label="Pose"
        value={figure.pose}
        options={[...POSES]}
        disabled={disabled}
        onChange={(pose) => set({ pose }, pose)}
      />
      <NumberField
        label="Faces (0° north)"
        unit="°"
        value={figure.facing}
        step={5}
        min={-360}
        max={360}
        disabled={disabled}
        onChange={(facing) => set({ facing: Math.round(facing * 10) / 10 }, "turned")}
      />
      <div className="grid content-end">
        <Button
          pressed={figure.spectacles}
          disabled={disabled}
          onClick={() =>
            set(
              { spectacles: !figure.spectacles },
              figure.spectacles ? "spectacles off" : "spectacles on",
            )
          }
        >
          Spectacles
        </Button>
      </div>
      <PlaceFields
        labels={["From the west wall", "From the south wall"]}
        place={figure.position as [number, number]}
        disabled={disabled}
        onChange={(position) => set({ position }, "moved")}
      />
      <Eyeline figure={figure} disabled={disabled} set={set} />
    </div>
  );
}

const OFF = 1.5;

/** What the eyes rest on: the lens, or somebody beside it. */
function Eyeline({
  figure,
  disabled,
  set,
}: {
  figure: Figure;
  disabled: boolean;
  set: (change: Partial<Figure>, words: string) => void;
}) {
  const anchor = useDesk((d) => d.look?.anchor),
    camera = useDesk((d) => d.draft!.cameras[0]!),
    key = useDesk((d) => d.draft!.units.find((u) => u.id === d.look?.readings.key));
  if (!anchor) return null;
  const face = anchor as Point,
    lens = camera.position as Point;
  const at = figure.eyeline ? toPolar(figure.eyeline as Point, face, lens) : null;
  const rest = (angle: number, height: number) => {
    const place = fromPolar({ angle, height, distance: at?.distance ?? OFF }, face, lens);
    set(
      { eyeline: place.map((v) => +v.toFixed(3)) as Point },
      `eyes ${Math.abs(angle).toFixed(0)}° ${angle < 0 ? "camera left" : "camera right"}`,
    );
  };
  const lit =
    key && at ? Math.abs(toPolar(key.position as Point, face, lens).angle - at.angle) : null;
  return (
    <div className="col-span-2 grid grid-cols-2 gap-2 border-t border-line pt-2">
      <Choice
        label="Eyes rest on"
        value={!at ? "lens" : at.angle < 0 ? "left" : "right"}
        disabled={disabled}
        options={[
          { value: "lens", label: "the lens" },
          { value: "left", label: "camera left of it" },
          { value: "right", label: "camera right of it" },
        ]}
        onChange={(where) =>
          where === "lens"
            ? set({ eyeline: null }, "eyes on the lens")
            : rest(
                (where === "left" ? -1 : 1) * Math.max(8, Math.abs(at?.angle ?? 15)),
                at?.height ?? 0,
              )
        }
      />
      {at && (
        <NumberField
          label="Off the lens"
          unit="°"
          digits={0}
          value={Math.abs(at.angle)}
          step={5}
          min={1}
          max={120}
          disabled={disabled}
          onChange={(v) => rest(Math.sign(at.angle || 1) * v, at.height)}
        />
      )}
      {lit !== null && (
        <p className="col-span-2 text-xs text-quiet">
          The key stands {lit.toFixed(0)}° from the eyeline:{" "}
          {Math.sign(toPolar(key!.position as Point, face, lens).angle) === Math.sign(at!.angle)
            ? "on the side the eyes turn to, so the cheek toward the lens falls into shade"
            : "on the far side of the lens, so the cheek toward the lens is lit"}
          .
        </p>
      )}
    </div>
  );
}
