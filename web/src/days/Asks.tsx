import { clock, minuteOf } from "../app/clock";
import { useState } from "react";
import type { Constants } from "../app/api";
import { Button } from "../parts/Button";
import { NumberField } from "../parts/NumberField";
import { Sheet } from "../parts/Sheet";
import { TextField } from "../parts/TextField";
import { type Asked, type Day } from "./day";
import { Typed } from "./ShotPanel";

type Props = {
  day: Day;
  constants: Constants;
  mayEdit: boolean;
  change: (make: (asked: Asked) => Asked) => void;
  close: () => void;
};

/** What is asked of the whole day: its hours, who rigs how fast, meals, people, pieces, money. */
export function Asks({ day, constants, mayEdit, change, close }: Props) {
  const { asked } = day;
  const put = (part: Partial<Asked>) => change((a) => ({ ...a, ...part }));
  return (
    <Sheet open close={close} title="What the day asks" wide="card">
      <div className="grid max-h-[70vh] gap-4 overflow-y-auto pr-2">
        <div className="grid grid-cols-4 items-end gap-2">
          <Typed
            label="Date"
            value={asked.date}
            disabled={!mayEdit}
            take={(date) =>
              /^\d{4}-\d\d-\d\d$/.test(date) && !Number.isNaN(Date.parse(date))
                ? put({ date })
                : "Write it as 2026-10-15."
            }
          />
          <Hour
            label="From"
            minute={asked.begin}
            mayEdit={mayEdit}
            put={(begin) => put({ begin })}
          />
          <Hour label="To" minute={asked.end} mayEdit={mayEdit} put={(end) => put({ end })} />
          <NumberField
            label="Between rooms"
            unit="min"
            value={asked.move}
            step={5}
            min={0}
            max={600}
            disabled={!mayEdit}
            onChange={(m) => put({ move: Math.round(m) })}
          />
          <NumberField
            label="Hands that rig"
            unit="people"
            value={asked.hands}
            step={1}
            min={1}
            max={30}
            disabled={!mayEdit}
            onChange={(h) => put({ hands: Math.round(h) })}
          />
          <NumberField
            label="Pace against the typical"
            unit="×"
            digits={2}
            value={asked.pace}
            step={0.1}
            min={0.2}
            max={5}
            disabled={!mayEdit}
            onChange={(pace) => put({ pace })}
          />
          <NumberField
            label="Budget (0: none)"
            unit=""
            value={asked.budget ?? 0}
            step={100}
            min={0}
            max={1e9}
            disabled={!mayEdit}
            onChange={(budget) => put({ budget: budget || null })}
          />
          {day.sheet?.pace != null && Math.abs(day.sheet.pace - asked.pace) > 0.02 && (
            <Button disabled={!mayEdit} onClick={() => put({ pace: day.sheet!.pace! })}>
              Pace of the log: {day.sheet.pace.toFixed(2)} ×
            </Button>
          )}
        </div>
        <Meals asked={asked} mayEdit={mayEdit} put={put} />
        <People asked={asked} mayEdit={mayEdit} put={put} />
        <Pieces asked={asked} mayEdit={mayEdit} put={put} />
        <section aria-label="Minutes of tasks" className="grid gap-1">
          <h3 className="font-serif text-lamp italic">Minutes of tasks</h3>
          <div className="grid grid-cols-4 gap-2">
            {constants.tasks.map((t) => (
              <NumberField
                key={t.key}
                label={t.name}
                unit="min"
                digits={1}
                value={asked.minutes[t.key] ?? t.minutes}
                step={1}
                min={0}
                max={600}
                disabled={!mayEdit}
                onChange={(m) => put({ minutes: { ...asked.minutes, [t.key]: m } })}
              />
            ))}
          </div>
        </section>
      </div>
      <div className="flex justify-end pt-3">
        <Button look="lamp" onClick={close}>
          Done
        </Button>
      </div>
    </Sheet>
  );
}

type Hour = { label: string; minute: number; mayEdit: boolean; put: (minute: number) => void };

function Hour({ label, minute, mayEdit, put }: Hour) {
  return (
    <Typed
      label={label}
      value={clock(minute)}
      disabled={!mayEdit}
      take={(text) => {
        const typed = minuteOf(text);
        if (typed === null) return "Write an hour as 8:30.";
        put(typed);
      }}
    />
  );
}

type Part = { asked: Asked; mayEdit: boolean; put: (part: Partial<Asked>) => void };

function Meals({ asked, mayEdit, put }: Part) {
  const set = (at: number, part: Partial<Asked["meals"][number]>) =>
    put({ meals: asked.meals.map((m, k) => (k === at ? { ...m, ...part } : m)) });
  return (
    <section aria-label="Meals" className="grid gap-1">
      <h3 className="font-serif text-lamp italic">Meals</h3>
      {asked.meals.map((m, at) => (
        <div key={at} className="grid grid-cols-[1fr_1fr_1fr_1fr_auto] items-end gap-2">
          <Typed
            label="Meal"
            value={m.name}
            disabled={!mayEdit}
            take={(name) => set(at, { name })}
          />
          <Hour
            label="Begins from"
            minute={m.earliest}
            mayEdit={mayEdit}
            put={(earliest) => set(at, { earliest, latest: Math.max(earliest, m.latest) })}
          />
          <Hour
            label="to"
            minute={m.latest}
            mayEdit={mayEdit}
            put={(latest) => set(at, { latest })}
          />
          <NumberField
            label="Lasts"
            unit="min"
            value={m.minutes}
            step={5}
            min={5}
            max={180}
            disabled={!mayEdit}
            onChange={(minutes) => set(at, { minutes: Math.round(minutes) })}
          />
          <Away
            name={m.name}
            mayEdit={mayEdit}
            out={() => put({ meals: asked.meals.filter((_, k) => k !== at) })}
          />
        </div>
      ))}
      {mayEdit && asked.meals.length < 4 && (
        <Button
          look="bare"
          className="justify-self-start"
          onClick={() =>
            put({
              meals: [
                ...asked.meals,
                { name: `Meal ${asked.meals.length + 1}`, earliest: 720, latest: 810, minutes: 45 },
              ],
            })
          }
        >
          Another meal
        </Button>
      )}
    </section>
  );
}

function People({ asked, mayEdit, put }: Part) {
  const [name, setName] = useState("");
  const set = (at: number, part: Partial<Asked["people"][number]>) =>
    put({ people: asked.people.map((p, k) => (k === at ? { ...p, ...part } : p)) });
  return (
    <section aria-label="People of the day" className="grid gap-1">
      <h3 className="font-serif text-lamp italic">People, and when they are there</h3>
      {asked.people.map((p, at) => (
        <div key={p.name} className="grid grid-cols-[1fr_1fr_1fr_1fr_auto] items-end gap-2">
          <span className="flex h-10 items-center">{p.name}</span>
          <Hour
            label={`${p.name} from`}
            minute={p.begin}
            mayEdit={mayEdit}
            put={(begin) => set(at, { begin })}
          />
          <Hour
            label={`${p.name} to`}
            minute={Math.min(p.end, 1439)}
            mayEdit={mayEdit}
            put={(end) => set(at, { end })}
          />
          <NumberField
            label="Rate of the day"
            unit=""
            value={p.rate}
            step={50}
            min={0}
            max={1e6}
            disabled={!mayEdit}
            onChange={(rate) => set(at, { rate })}
          />
          <Away
            name={p.name}
            mayEdit={mayEdit}
            out={() => put({ people: asked.people.filter((_, k) => k !== at) })}
          />
        </div>
      ))}
      {mayEdit && (
        <div className="flex items-end gap-2">
          <TextField small label="Somebody more" value={name} onChange={setName} maxLength={80} />
          <Button
            disabled={!name.trim() || asked.people.some((p) => p.name === name.trim())}
            onClick={() => {
              const person = { name: name.trim(), begin: asked.begin, end: asked.end, rate: 0 };
              put({ people: [...asked.people, person] });
              setName("");
            }}
          >
            Add them
          </Button>
        </div>
      )}
    </section>
  );
}

function Pieces({ asked, mayEdit, put }: Part) {
  const [name, setName] = useState("");
  return (
    <section aria-label="Shared pieces" className="grid gap-1">
      <h3 className="font-serif text-lamp italic">Shared pieces, and from when they are there</h3>
      {asked.pieces.map((p, at) => (
        <div key={p.name} className="grid grid-cols-[1fr_1fr_2fr_auto] items-end gap-2">
          <span className="flex h-10 items-center">{p.name}</span>
          <Hour
            label={`${p.name} here from`}
            minute={p.begin}
            mayEdit={mayEdit}
            put={(begin) =>
              put({ pieces: asked.pieces.map((o, k) => (k === at ? { ...o, begin } : o)) })
            }
          />
          <span />
          <Away
            name={p.name}
            mayEdit={mayEdit}
            out={() => put({ pieces: asked.pieces.filter((_, k) => k !== at) })}
          />
        </div>
      ))}
      {mayEdit && (
        <div className="flex items-end gap-2">
          <TextField small label="Something more" value={name} onChange={setName} maxLength={80} />
          <Button
            disabled={!name.trim() || asked.pieces.some((p) => p.name === name.trim())}
            onClick={() => {
              put({ pieces: [...asked.pieces, { name: name.trim(), begin: asked.begin }] });
              setName("");
            }}
          >
            Add it
          </Button>
        </div>
      )}
    </section>
  );
}

function Away({ name, mayEdit, out }: { name: string; mayEdit: boolean; out: () => void }) {
  return (
    <Button look="bare" disabled={!mayEdit} aria-label={`Take ${name} out`} onClick={out}>
      Out
    </Button>
  );
}
