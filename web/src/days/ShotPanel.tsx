import { clock } from "../app/clock";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, got, type Schemas } from "../app/api";
import { Button } from "../parts/Button";
import { NumberField } from "../parts/NumberField";
import { TextField } from "../parts/TextField";
import { namesOf, spanned, spansOf, type Day, type Shot } from "./day";

type Props = {
  day: Day;
  shot: Shot;
  mayEdit: boolean;
  put: (change: Partial<Shot>) => void;
  out: () => void;
};

/** One set-up of the day: how long, where, when the light is right, who and what it waits for. */
export function ShotPanel({ day, shot, mayEdit, put, out }: Props) {
  const title = day.setups.find((s) => s.id === shot.setup)?.title ?? "gone";
  const slot = day.plan?.slots.find((s) => Number(s.key) === shot.setup),
    sheet = day.sheet?.slots.find((s) => s.setup === shot.setup);
  return (
    <section aria-label={`Of ${title}`} className="grid content-start gap-2">
      <h2 className="font-serif text-base text-lamp italic">
        <Link to={`/setups/${shot.setup}`}>{title}</Link>
      </h2>
      {slot?.broken.map((words) => (
        <p key={words} role="alert" className="text-fault">
          Not met: {words}
        </p>
      ))}
      {sheet && (
        <p className="text-sm text-quiet">
          {sheet.rigging.words} {sheet.watts.toFixed(0)} W.{" "}
          {[...sheet.short.map((s) => s.words), ...sheet.changes].map((words) => (
            <b key={words} className="block text-fault">
              {words}
            </b>
          ))}
        </p>
      )}
      <div className="grid grid-cols-2 gap-2">
        <NumberField
          label="To shoot it"
          unit="min"
          value={shot.minutes}
          step={5}
          min={1}
          max={1440}
          disabled={!mayEdit}
          onChange={(m) => put({ minutes: Math.round(m) })}
        />
        <NumberField
          label="Rigging took, by the log"
          unit="min"
          value={shot.took ?? 0}
          step={5}
          min={0}
          max={1440}
          disabled={!mayEdit}
          onChange={(m) => put({ took: m || null })}
        />
      </div>
      <Typed
        label="Where"
        value={shot.room}
        disabled={!mayEdit}
        take={(room) => put({ room: room.trim().slice(0, 80) })}
      />
      <Typed
        label="Light is right"
        value={spanned(shot.windows)}
        placeholder="any time, or 8:30–9:40, 15–16"
        disabled={!mayEdit}
        take={(text) => {
          const windows = spansOf(text);
          if (!windows) return "Write hours as 8:30–9:40, a comma between them.";
          put({ windows });
        }}
      />
      <Typed
        label="Because it"
        value={shot.why}
        placeholder="needs sun"
        disabled={!mayEdit}
        take={(why) => put({ why: why.trim().slice(0, 80) })}
      />
      <SunOfDay day={day} shot={shot} mayEdit={mayEdit} put={put} />
      <Typed
        label="People"
        value={shot.people.join(", ")}
        placeholder="keeper, pilot"
        disabled={!mayEdit}
        take={(text) => put({ people: namesOf(text) })}
      />
      <Typed
        label="Shared pieces it waits for"
        value={shot.pieces.join(", ")}
        disabled={!mayEdit}
        take={(text) => put({ pieces: namesOf(text) })}
      />
      {mayEdit && (
        <Button look="bare" className="justify-self-start" onClick={out}>
          Out of the day
        </Button>
      )}
    </section>
  );
}

type Typed = {
  label: string;
  value: string;
  placeholder?: string;
  disabled: boolean;
  /** What is wrong with it, or nothing. */
  take: (text: string) => string | void;
};

/** A line that is taken on Enter or on leaving, and says what is wrong with it. */
export function Typed({ label, value, placeholder, disabled, take }: Typed) {
  const [typed, setTyped] = useState<string | null>(null),
    [fault, setFault] = useState("");
  function done() {
    if (typed === null || typed === value) return setTyped(null);
    const wrong = take(typed);
    setFault(wrong ?? "");
    if (!wrong) setTyped(null);
  }
  return (
    <TextField
      small
      label={label}
      value={typed ?? value}
      {...(placeholder ? { placeholder } : {})}
      disabled={disabled}
      fault={fault}
      onChange={(text) => {
        setTyped(text);
        setFault("");
      }}
      onBlur={done}
      onKeyDown={(e) => e.key === "Enter" && done()}
    />
  );
}

/** What the sun does to the set-up that day, each span to be taken as its window. */
function SunOfDay({ day, shot, mayEdit, put }: Omit<Props, "out">) {
  const sun = useQuery({
    queryKey: ["sun-of-day", day.id, day.version, shot.setup],
    queryFn: ({ signal }) =>
      got<Schemas["Day"]>(
        api.GET("/api/days/{pk}/sun/{setup}", {
          params: { path: { pk: day.id, setup: shot.setup } },
          signal,
        }),
      ),
    retry: false,
    placeholderData: (before) => before,
  });
  if (sun.error) return <p className="text-xs text-quiet">{sun.error.message}</p>;
  if (!sun.data) return <p className="late text-xs text-quiet">Asking the sun…</p>;
  return (
    <div className="text-xs text-quiet">
      <p>{sun.data.words}</p>
      <ul>
        {sun.data.moments.map((m) => (
          <li key={m.kind + m.what + m.begin} className="flex items-center gap-2">
            <span className="flex-1">{m.words}</span>
            {mayEdit && (
              <Button
                look="bare"
                className="min-h-8! text-xs"
                aria-label={`Take ${clock(m.begin)} to ${clock(m.end)} as its window`}
                onClick={() =>
                  put({
                    windows: [...shot.windows, [m.begin, m.end] as [number, number]]
                      .slice(-6)
                      .sort((a, b) => a[0] - b[0]),
                    why: WHY[m.kind] ?? shot.why,
                  })
                }
              >
                take
              </Button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

const WHY: Record<string, string> = {
  window: "needs sun in the window",
  person: "needs sun",
  backdrop: "needs a sunlit backdrop",
  shade: "needs shade",
  match: "has to match",
};
