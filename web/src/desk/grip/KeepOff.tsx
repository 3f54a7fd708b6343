import { useRef, useState } from "react";
import { api, got, type Problem, type Schemas } from "../../app/api";
import { usePreferences } from "../../app/preferences";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { thingsOf } from "../place/aiming";
import { act, readDesk, setDesk, useDesk } from "../store";

const BACKDROP = "@backdrop";

/** A flag that keeps a unit's light off one thing and leaves the face alone, found and metered. */
export function KeepOff({ disabled }: { disabled: boolean }) {
  const draft = useDesk((d) => d.draft!),
    chosen = useDesk((d) => d.chosen);
  const [picked, setPicked] = useState<string | null>(null),
    [thing, setThing] = useState(BACKDROP),
    [busy, setBusy] = useState(false),
    [said, setSaid] = useState(""),
    [mind, setMind] = useState("");
  const stop = useRef(new AbortController());
  const unit =
    draft.units.find((u) => u.id === picked) ??
    draft.units.find((u) => u.id === chosen) ??
    draft.units[0];
  if (!unit) return null;
  const subject = `person:${draft.figures[0]!.id}`;
  const things = [
    { value: BACKDROP, label: "the backdrop" },
    ...thingsOf(draft, subject).filter(({ value }) => !/^(unit|camera):/.test(value)),
  ];
  const off = things.some((t) => t.value === thing) ? thing : BACKDROP;
  async function find() {
    const asked = readDesk();
    if (!asked.record || !asked.draft) return;
    const { signal } = (stop.current = new AbortController());
    setBusy(true);
    setSaid("");
    setMind("");
    try {
      const found = await got<Schemas["RigOut"]>(
        api.POST("/api/setups/{pk}/flag", {
          params: { path: { pk: asked.record.id } },
          body: {
            document: asked.draft,
            unit: unit!.id,
            thing: off,
            step: usePreferences.getState().step,
          },
          signal,
        }),
      );
      // What the hand did meanwhile counts more.
      if (signal.aborted || readDesk().draft !== asked.draft) return;
      act(() => found.document, found.gesture);
      setSaid(`${found.gesture}.`);
      setMind(found.caution);
      setDesk({ chosenGrip: found.document.grip.at(-1)!.id });
    } catch (error) {
      if (!signal.aborted) setSaid((error as Problem).message);
    } finally {
      if (!signal.aborted) setBusy(false);
    }
  }
  return (
    <section aria-label="Keep light off" className="grid gap-1.5 border-t border-line pt-2">
      <h3 className="font-serif text-base text-lamp italic">Keep light off</h3>
      <div className="grid grid-cols-2 gap-1.5">
        <Choice
          label="Light of"
          value={unit.id}
          options={draft.units.map((u) => ({ value: u.id, label: u.name, note: u.role }))}
          disabled={disabled}
          onChange={setPicked}
        />
        <Choice label="Off" value={off} options={things} disabled={disabled} onChange={setThing} />
      </div>
      <div className="flex items-center gap-2">
        <Button disabled={disabled || busy} onClick={() => void find()}>
          Find a flag
        </Button>
        {busy && (
          <>
            <progress aria-label="Looking for a flag" className="h-1.5 min-w-0 flex-1" />
            <Button
              look="bare"
              onClick={() => {
                stop.current.abort();
                setBusy(false);
              }}
            >
              Stop
            </Button>
          </>
        )}
      </div>
      {said && (
        <p role="status" className="text-xs">
          {said}
        </p>
      )}
      {mind && (
        <p className="text-xs text-quiet">
          <b className="text-fault">Mind:</b> {mind}
        </p>
      )}
    </section>
  );
}
