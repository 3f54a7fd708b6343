import { useShallow } from "zustand/react/shallow";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { mayEdit, useDesk } from "../store";
import { addState, MOST, removeState, renameState, turnTo } from "./states";

const TIMES = ["day", "dusk", "night", "after lunch", "another time"];

/** The place at several times: day and night over the same geometry. */
export function StatePanel() {
  const { states, state } = useDesk(
    useShallow((d) => ({ states: d.draft!.states, state: d.draft!.state })),
  );
  const editable = useDesk(mayEdit);
  const now = states.find((s) => s.id === state);
  const full = states.length >= MOST;
  return (
    <section aria-label="States of the place" className="grid grid-cols-2 gap-1.5">
      <Choice
        label="State of the place"
        value={now?.id ?? "-"}
        disabled={!editable || !states.length}
        options={[
          ...(now
            ? []
            : [{ value: "-", label: states.length ? "none of these" : "only this one" }]),
          ...states.map((s) => ({ value: s.id, label: s.name })),
        ]}
        onChange={(id) => id !== "-" && turnTo(id)}
      />
      <Choice
        label="Add a state"
        value="-"
        disabled={!editable || full}
        options={[
          { value: "-", label: full ? "eight: no more" : "as it is now, at…" },
          ...TIMES.map((value) => ({ value, label: value })),
        ]}
        onChange={(name) => name !== "-" && addState(name)}
      />
      {now && (
        <>
          <label className="grid gap-0.5">
            <span className="text-xs text-quiet">Called</span>
            <input
              key={now.id + now.name}
              className="h-10 w-full min-w-0 rounded border border-line bg-ink px-2.5"
              defaultValue={now.name}
              disabled={!editable}
              maxLength={80}
              onBlur={(e) => {
                const name = e.target.value.trim();
                if (name && name !== now.name) renameState(now.id, name);
              }}
              onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
            />
          </label>
          <div className="grid content-end justify-start">
            <Button look="bare" disabled={!editable} onClick={() => removeState(now.id)}>
              Take this state away
            </Button>
          </div>
          <p className="col-span-2 text-xs text-quiet">
            Each keeps its own sky, levels and whites; places and furniture are the same in all.
          </p>
        </>
      )}
    </section>
  );
}
