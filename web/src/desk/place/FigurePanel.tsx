import type { Constants, Figure, Point } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { fromPolar, toPolar } from "../plan/polar";
import { LookFields } from "./LookFields";
import { PlaceFields } from "./PlaceFields";
import { eyesOf } from "./aiming";
import { addReverse, bringPerson, makeSubject, MOST, sendAway, turnToward } from "./people";
import { act, choosePerson, mayEdit, personOf, useDesk, withFigure } from "../store";

const PEOPLE = [
  { value: "weathered-man", label: "Weathered man" },
  { value: "young-woman", label: "Young woman" },
  { value: "middle-aged-woman", label: "Woman of fifty" },
  { value: "broad-man", label: "Broad man" },
  { value: "old-woman", label: "Old woman" },
  { value: "young-man", label: "Young man" },
  { value: "middle-aged-man", label: "Man of fifty" },
  { value: "girl", label: "Girl" },
] as const;
const POSES = [
  { value: "standing", label: "standing" },
  { value: "seated", label: "seated" },
  { value: "leaning", label: "at a table" },
] as const;

export function FigurePanel({ constants }: { constants: Constants }) {
  const figures = useDesk((d) => d.draft!.figures);
  const figure = useDesk(personOf);
  const editable = useDesk(mayEdit);
  const disabled = !editable;
  const subject = figure === figures[0];
  const set = (change: Partial<Figure>, words: string) =>
    act(
      withFigure(figure.id, () => change),
      `${figure.name}: ${words}`,
    );
  return (
    <div className="grid grid-cols-2 gap-2">
      <Choice
        label="Person"
        value={figure.id}
        options={figures.map((f, at) => ({
          value: f.id,
          label: f.name,
          note: at === 0 ? "in the picture" : undefined,
        }))}
        onChange={choosePerson}
      />
      <Choice
        label="Bring in a person"
        value="-"
        disabled={disabled || figures.length >= MOST}
        options={[{ value: "-", label: "who…" }, ...PEOPLE]}
        onChange={(who) => who !== "-" && bringPerson(who as Figure["figure"])}
      />
      <label className="grid gap-0.5">
        <span className="text-xs text-quiet">Name</span>
        <input
          key={figure.id + figure.name}
          className="h-10 w-full min-w-0 rounded border border-line bg-ink px-2.5"
          defaultValue={figure.name}
          disabled={disabled}
          maxLength={80}
          onBlur={(e) =>
            e.target.value.trim() &&
            e.target.value !== figure.name &&
            set({ name: e.target.value.trim() }, "renamed")
          }
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        />
      </label>
      <div className="grid content-end">
        {subject ? (
          <p className="py-2 text-xs text-quiet">
            The picture is {figure.name}&#8217;s: meter, ratio and order follow.
          </p>
        ) : (
          <Button disabled={disabled} onClick={() => makeSubject(figure.id)}>
            Make the picture theirs
          </Button>
        )}
      </div>
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
      {figures.length > 1 && (
        <div className="col-span-2 flex flex-wrap gap-1">
          {figures
            .filter((f) => f !== figure)
            .slice(0, 3)
            .map((f) => (
              <Button
                key={f.id}
                disabled={disabled}
                onClick={() => turnToward(figure.id, f.position, f.name)}
              >
                Face {f.name}
              </Button>
            ))}
          {!subject && (
            <Button disabled={disabled} onClick={() => addReverse(figure.id)}>
              A camera on {figure.name}
            </Button>
          )}
          <Button look="bare" disabled={disabled} onClick={() => sendAway(figure.id)}>
            Send away
          </Button>
        </div>
      )}
      <LookFields figure={figure} constants={constants} disabled={disabled} set={set} />
      {subject && <Eyeline figure={figure} disabled={disabled} set={set} />}
    </div>
  );
}

const OFF = 1.5;
/** Before the id of a person: an id may be any word, "left" too. */
const PERSON = "person:";

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
  const figures = useDesk((d) => d.draft!.figures);
  const anchor = useDesk((d) => d.look?.anchor),
    camera = useDesk((d) => d.draft!.cameras[0]!),
    key = useDesk((d) => d.draft!.units.find((u) => u.id === d.look?.readings.key));
  if (!anchor) return null;
  const face = anchor as Point,
    lens = camera.position as Point;
  const others = figures.filter((f) => f.id !== figure.id),
    whom =
      figure.eyeline &&
      others.find((f) => Math.hypot(...eyesOf(f).map((v, k) => v - figure.eyeline![k]!)) < 0.02);
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
        value={whom ? PERSON + whom.id : !at ? "lens" : at.angle < 0 ? "left" : "right"}
        disabled={disabled}
        options={[
          { value: "lens", label: "the lens" },
          { value: "left", label: "camera left of it" },
          { value: "right", label: "camera right of it" },
          ...others.map((f) => ({ value: PERSON + f.id, label: f.name })),
        ]}
        onChange={(where) => {
          const person = others.find((f) => PERSON + f.id === where);
          return person
            ? set({ eyeline: eyesOf(person) }, `eyes on ${person.name}`)
            : where === "lens"
              ? set({ eyeline: null }, "eyes on the lens")
              : rest(
                  (where === "left" ? -1 : 1) * Math.max(8, Math.abs(at?.angle ?? 15)),
                  at?.height ?? 0,
                );
        }}
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
