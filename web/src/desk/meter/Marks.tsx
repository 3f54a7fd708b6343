import { useState } from "react";
import type { Point } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { PlaceFields } from "../place/PlaceFields";
import { useLength } from "../../app/preferences";
import { act, mayEdit, setDesk, useDesk } from "../store";
import { frameOf } from "../units/gestures";
import { holdBesideFace, lineOf, MOST, repeat, toward, type Mark, type Run } from "./marking";

type Way = "lens" | "unit" | "up" | "kept";

const RECEIVERS = [
  { value: "dome", label: "dome" },
  { value: "disc", label: "disc" },
] as const;
const AXES = ["From west", "From south", "Over floor"];
const RUNS = [
  { value: "across", label: "to the right" },
  { value: "lens", label: "toward the lens" },
  { value: "grid", label: "a grid" },
] as const;

/** More places for the meter than the standard ones: held anywhere, pointed anywhere. */
export function Marks() {
  const marks = useDesk((d) => d.draft!.marks);
  const editable = useDesk(mayEdit);
  const pointing = useDesk((d) => d.pointing === "mark");
  return (
    <section aria-label="More marks" className="grid gap-3">
      {marks.length === 0 && (
        <p className="text-quiet">
          The standard marks follow the face. Hold the meter somewhere else to read the desk, the
          wall, the next step of the walk.
        </p>
      )}
      {editable && (
        <div className="grid grid-cols-2 gap-1.5">
          <Button
            pressed={pointing}
            disabled={marks.length >= MOST}
            onClick={() => setDesk({ pointing: pointing ? false : "mark" })}
          >
            Point at the place
          </Button>
          <Button disabled={marks.length >= MOST} onClick={holdBesideFace}>
            Beside the face
          </Button>
        </div>
      )}
      {pointing && (
        <p role="status" className="text-xs text-lamp">
          Press on the frame or the plan where the meter is to be held; Esc ends it.
        </p>
      )}
      {marks.length > 1 && editable && (
        <Button
          look="bare"
          className="text-xs"
          onClick={() => act((d) => ({ ...d, marks: [] }), "all marks taken away")}
        >
          Take all {marks.length} away
        </Button>
      )}
      {marks.map((mark) => (
        <MarkRow key={mark.id} mark={mark} disabled={!editable} />
      ))}
    </section>
  );
}

/** More marks from one: along a wall, on a walk, or a grid on the wall. */
function LineOf({ mark }: { mark: Mark }) {
  const length = useLength();
  const metric = length.unit === "m";
  const [open, setOpen] = useState(false);
  const [run, setRun] = useState<Run>("across");
  const [count, setCount] = useState(4);
  const [every, setEvery] = useState(metric ? 0.5 : 0.6096);
  const room = useDesk((d) => MOST - d.draft!.marks.length);
  const made = lineOf(mark, run, count, every);
  return (
    <div className="col-span-3 grid grid-cols-3 gap-1.5">
      <Button
        look="bare"
        className="col-span-3 justify-start text-xs"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {open ? "No line" : "A line of marks from here…"}
      </Button>
      {open && (
        <>
          <Choice label="Runs" value={run} options={[...RUNS]} onChange={setRun} />
          <NumberField
            label={run === "grid" ? "Each way" : "Marks"}
            unit=""
            value={count}
            step={1}
            min={2}
            max={run === "grid" ? 6 : 20}
            onChange={(n) => setCount(Math.round(n))}
          />
          <NumberField
            label="Every"
            unit={length.unit}
            digits={2}
            value={length.show(every)}
            step={metric ? 0.25 : 1}
            min={0.05}
            max={length.show(10)}
            onChange={(v) => setEvery(length.take(v))}
          />
          <Button
            className="col-span-3"
            disabled={made.length > room}
            title={made.length > room ? `Room for ${room} more marks` : undefined}
            onClick={() => {
              repeat(mark, made);
              setOpen(false);
            }}
          >
            Set {made.length} more
          </Button>
        </>
      )}
    </div>
  );
}

function MarkRow({ mark, disabled }: { mark: Mark; disabled: boolean }) {
  const unit = useDesk((d) => d.draft!.units.find((u) => u.id === d.chosen));
  const set = (change: Partial<Mark>, words: string) =>
    act(
      (d) => ({ ...d, marks: d.marks.map((m) => (m.id === mark.id ? { ...m, ...change } : m)) }),
      `${mark.name}: ${words}`,
    );
  const ways = [
    { value: "kept" as Way, label: "as it points" },
    { value: "lens" as Way, label: "to the lens" },
    ...(unit ? [{ value: "unit" as Way, label: `to ${unit.name}` }] : []),
    { value: "up" as Way, label: "straight up" },
  ];
  function point(way: Way) {
    const frame = frameOf();
    if (way === "kept" || !frame) return;
    const direction =
      way === "up"
        ? ([0, 0, 1] as Point)
        : toward(mark.position as Point, way === "lens" ? frame.lens : (unit!.position as Point));
    set({ direction }, ways.find((w) => w.value === way)!.label);
  }
  return (
    <fieldset className="grid grid-cols-3 gap-1.5 border-t border-line pt-2">
      <legend className="sr-only">{mark.name}</legend>
      <label className="col-span-2 grid gap-0.5 text-xs text-quiet">
        Name
        <input
          className="h-10 min-w-0 rounded border border-line bg-ink px-2.5 text-sm text-paper"
          defaultValue={mark.name}
          maxLength={80}
          disabled={disabled}
          onBlur={(e) =>
            e.target.value.trim() &&
            e.target.value !== mark.name &&
            set({ name: e.target.value.trim() }, "renamed")
          }
        />
      </label>
      <Choice
        label="Receiver"
        value={mark.receiver}
        options={[...RECEIVERS]}
        disabled={disabled}
        onChange={(receiver) => set({ receiver }, receiver)}
      />
      <PlaceFields
        labels={AXES}
        place={mark.position as Point}
        disabled={disabled}
        onChange={(position) => set({ position }, "moved")}
      />
      <div className="col-span-2">
        <Choice
          label="Points"
          value={"kept" as Way}
          options={ways}
          disabled={disabled}
          onChange={point}
        />
      </div>
      {!disabled && <LineOf mark={mark} />}
      <div className="grid content-end">
        <Button
          look="bare"
          disabled={disabled}
          onClick={() =>
            act(
              (d) => ({ ...d, marks: d.marks.filter((m) => m.id !== mark.id) }),
              `${mark.name} taken away`,
            )
          }
        >
          Take away
        </Button>
      </div>
    </fieldset>
  );
}
