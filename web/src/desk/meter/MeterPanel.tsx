import type { Constants, Document, Point } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { frameOf } from "../units/gestures";
import { takeTo } from "../order/order";
import { useLength, useLight } from "../preferences";
import { RatioSetter, Schools } from "./Schools";
import { FixedPage } from "./FixedPage";
import { TargetsPage } from "./TargetsPage";
import { WalkPage } from "./WalkPage";
import { act, isFresh, mayEdit, readDesk, setDesk, useDesk, type MeterPage } from "../store";

type Mark = Document["marks"][number];
type Way = "lens" | "unit" | "up" | "kept";

const RECEIVERS = [
  { value: "dome", label: "dome" },
  { value: "disc", label: "disc" },
] as const;
const AXES = ["From west", "From south", "Over floor"];

const PAGES: [MeterPage, string][] = [
  ["ways", "Ways to meter"],
  ["ratios", "Ratios"],
  ["fixed", "What can't be dimmed"],
  ["targets", "Targets"],
  ["walk", "Walk through it"],
  ["marks", "More marks"],
];

/** All that is metered and judged, page by page. */
export function MeterPanel({ constants }: { constants: Constants }) {
  const page = useDesk((d) => d.meter);
  return (
    <div className="grid gap-3">
      <Choice
        label="At the meter"
        value={page}
        options={PAGES.map(([value, label]) => ({ value, label }))}
        onChange={(meter) => setDesk({ meter })}
      />
      {page === "ways" && (
        <>
          <Schools />
          <Asked />
        </>
      )}
      {page === "ratios" && (
        <>
          <RatioSetter />
          <ThreeWays />
          <RatioTable rows={constants.ratios as [number, number][]} />
        </>
      )}
      {page === "fixed" && <FixedPage />}
      {page === "targets" && <TargetsPage constants={constants} />}
      {page === "walk" && <WalkPage />}
      {page === "marks" && <Marks />}
    </div>
  );
}

/** The other way round: what the camera's settings ask for, and the dimmers that give it. */
function Asked() {
  const asked = useDesk((d) => d.judged?.asked),
    stop = useDesk((d) => d.draft!.cameras[0]!.t_stop);
  const editable = useDesk(mayEdit),
    fresh = useDesk(isFresh);
  const light = useLight();
  if (!asked) return null;
  return (
    <section aria-label="What the stop asks for" className="grid gap-1 border-t border-line pt-2">
      <p>
        T{+stop.toFixed(1)} as set asks for <b>{light.text(asked.lux, asked.footcandles)}</b> on the
        key side.
      </p>
      <ul className="grid gap-0.5 text-xs">
        {asked.units.map((u) => (
          <li key={u.id} className="flex min-h-10 items-center justify-between gap-2">
            <span>
              <b>{u.name}</b> <span className="text-quiet">{u.words}</span>
            </span>
            {u.dimmer != null && (
              <Button
                disabled={!editable || !fresh}
                className="text-xs"
                onClick={() => takeTo(u.id, u.dimmer!)}
              >
                Take it there
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

const THIRDS = ["", " ⅓", " ⅔"];

/** Stops and ratios, both ways. */
function RatioTable({ rows }: { rows: [number, number][] }) {
  const stops = (s: number) =>
    `${s >= 1 || s === 0 ? Math.floor(s + 0.01) : ""}${THIRDS[Math.round((s % 1) * 3) % 3]!.trim()}`;
  return (
    <table aria-label="Stops and ratios" className="w-full text-xs">
      <tbody>
        <tr>
          <th scope="row" className="text-left font-normal text-quiet">
            stops
          </th>
          {rows.map(([s]) => (
            <td key={s} className="text-center">
              {stops(s)}
            </td>
          ))}
        </tr>
        <tr>
          <th scope="row" className="text-left font-normal text-quiet">
            : 1
          </th>
          {rows.map(([s, r]) => (
            <td key={s} className="text-center font-bold">
              {r < 9.95 ? +r.toFixed(1) : r.toFixed(0)}
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}

/**
 * Ratios by the meter, by the signal as it is read, by the signal made linear: side by side, with
 * the reason.
 */
function ThreeWays() {
  const ratios = useDesk((d) => d.judged?.ratios);
  if (!ratios) return <p className="text-quiet">Looking at the picture…</p>;
  return (
    <section aria-label="Three ways" className="grid gap-1">
      <table className="w-full text-xs">
        <thead>
          <tr className="text-left text-quiet">
            <th className="font-normal">Key side</th>
            <th className="font-normal">meter</th>
            <th className="font-normal">light seen</th>
            <th className="font-normal">percent</th>
          </tr>
        </thead>
        <tbody>
          {ratios.map((r) => (
            <tr key={r.key} className="border-t border-line" title={r.why}>
              <th scope="row" className="py-1 text-left font-normal">
                {r.name}
              </th>
              <td className="font-bold">{r.words.meter}</td>
              <td>{r.words.linear}</td>
              <td className="text-quiet">{r.words.read}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {ratios.map((r) => (
        <p key={r.key} className="text-xs text-quiet">
          {r.name}: {r.why}
        </p>
      ))}
    </section>
  );
}

/** More places for the meter than the standard ones: held anywhere, pointed anywhere. */
function Marks() {
  const marks = useDesk((d) => d.draft!.marks);
  const editable = useDesk(mayEdit);
  return (
    <section aria-label="More marks" className="grid gap-3">
      {marks.length === 0 && (
        <p className="text-quiet">
          The standard marks follow the face. Hold the meter somewhere else to read the desk, the
          wall, the next step of the walk.
        </p>
      )}
      {marks.map((mark) => (
        <MarkRow key={mark.id} mark={mark} disabled={!editable} />
      ))}
      {editable && <Button onClick={hold}>Hold the meter beside the face</Button>}
    </section>
  );
}

function hold() {
  const frame = frameOf();
  const { draft } = readDesk();
  if (!frame || !draft) return;
  const taken = new Set(draft.marks.map((m) => m.id));
  let n = 1;
  while (taken.has(`m${n}`)) n++;
  const away = toward(frame.face, frame.lens);
  const position = frame.face.map(
    (v, k) => +(v + (k === 0 ? -away[1] : k === 1 ? away[0] : 0) * 0.5).toFixed(3),
  ) as Point;
  const mark: Mark = {
    id: `m${n}`,
    name: `Mark ${n}`,
    position,
    direction: toward(position, frame.lens),
    receiver: "dome",
  };
  act((d) => ({ ...d, marks: [...d.marks, mark] }), `${mark.name} held`);
}

function toward(from: Point, to: Point): Point {
  const d = to.map((v, k) => v - from[k]!);
  const length = Math.hypot(...d) || 1;
  return d.map((v) => +(v / length).toFixed(4)) as Point;
}

function MarkRow({ mark, disabled }: { mark: Mark; disabled: boolean }) {
  const length = useLength();
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
      {AXES.map((label, axis) => (
        <NumberField
          key={label}
          label={label}
          unit={length.unit}
          digits={2}
          value={length.show(mark.position[axis]!)}
          step={0.1}
          min={0}
          max={200}
          disabled={disabled}
          onChange={(v) =>
            set(
              {
                position: mark.position.map((p, k) =>
                  k === axis ? +length.take(v).toFixed(3) : p,
                ) as Point,
              },
              "moved",
            )
          }
        />
      ))}
      <div className="col-span-2">
        <Choice
          label="Points"
          value={"kept" as Way}
          options={ways}
          disabled={disabled}
          onChange={point}
        />
      </div>
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
