import { useEffect, useState } from "react";
import { api, got, type Grip, type Problem, type Schemas, type Unit } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { report } from "../session/line";
import { OnWhose } from "../units/OnWhose";
import { bearersOf, onArm } from "../units/bearing";
import { act, readDesk, setDesk, useDesk, withGrip } from "../store";

const WAYS: { value: Grip["held"]; label: string }[] = [
  { value: "stand", label: "stands at its sides" },
  { value: "boom", label: "a boom over a stand" },
  { value: "arm", label: "an arm on a unit's stand" },
  { value: "hung", label: "hung from above" },
  { value: "built-in", label: "taped, clamped, laid down" },
  { value: "hand", label: "a hand" },
  { value: "", label: "not said: nothing is drawn" },
];

/** What holds a sheet, whether that can stand there, and what is to be minded of it. */
export function GripHeld({ piece, disabled }: { piece: Grip; disabled: boolean }) {
  const draft = useDesk((d) => d.draft);
  const [found, setFound] = useState<Schemas["Holding"] | null>(null);
  useEffect(() => {
    const stop = new AbortController();
    const soon = setTimeout(() => {
      const { record, stored } = readDesk();
      if (!record || !draft) return;
      got<Schemas["Holding"]>(
        api.POST("/api/setups/{pk}/holding", {
          params: { path: { pk: record.id } },
          body: { document: draft === stored ? null : draft, grip: piece.id },
          signal: stop.signal,
        }),
      )
        .then((holding) => !stop.signal.aborted && setFound(holding))
        .catch((error: Problem) => !stop.signal.aborted && report(error));
    }, 400);
    return () => {
      clearTimeout(soon);
      stop.abort();
    };
  }, [draft, piece.id]);
  async function find(by: "stand" | "boom" | null) {
    const asked = readDesk();
    if (!asked.record || !asked.draft) return;
    try {
      const made = await got<Schemas["RigOut"]>(
        api.POST("/api/setups/{pk}/stand", {
          params: { path: { pk: asked.record.id } },
          body: { document: asked.draft, grip: piece.id, by },
        }),
      );
      if (readDesk().draft === asked.draft) act(() => made.document, made.gesture);
    } catch (error) {
      setDesk({ fault: { text: (error as Error).message, path: "" } });
    }
  }
  const mine = found?.id === piece.id ? found : null;
  const bearers = bearersOf(draft, piece);
  const on = (unit: Unit) =>
    act(
      withGrip(piece.id, () => onArm(unit)),
      `${piece.name} on the stand of ${unit.name}`,
    );
  return (
    <>
      <div className="grid grid-cols-[1fr_auto] items-end gap-1.5">
        <Choice
          label="Held by"
          value={piece.held}
          disabled={disabled}
          options={WAYS.filter((w) => w.value !== "arm" || bearers.length > 0)}
          onChange={(held) =>
            held === "boom" || held === "stand"
              ? void find(held)
              : held === "arm"
                ? on(bearers[0]!)
                : act(
                    withGrip(piece.id, () => ({ held, foot: null, bearer: "" })),
                    `${piece.name}: ${WAYS.find((w) => w.value === held)!.label}`,
                  )
          }
        />
        <Button disabled={disabled} onClick={() => void find(null)}>
          Find its stand a place
        </Button>
      </div>
      {piece.held === "arm" && (
        <OnWhose item={piece} bearers={bearers} disabled={disabled} onChange={on} />
      )}
      {mine?.fault && (
        <p role="alert" className="text-xs text-fault">
          {mine.fault}
        </p>
      )}
      {!!mine?.words.length && (
        <p className="text-xs text-quiet">
          <b className="text-fault">Mind:</b> {mine.words.join(" ")}
        </p>
      )}
    </>
  );
}
