import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { useEffect, type ReactNode } from "react";
import { freezeWhenWhole, loadFrozen, useFrozen } from "../compare/frozen";
import { usePreferences } from "../../app/preferences";
import { setDesk, useDesk, type Plane } from "../store";
import { closeSweep, openSweep, useSweep } from "../sweep/sweep";

const PLANES: { value: Plane; label: string }[] = [
  { value: "none", label: "no level map" },
  { value: "floor", label: "levels on the floor" },
  { value: "face", label: "levels at eye height" },
];
const SIDES = ["north", "south", "east", "west"] as const;
const lit = (on: boolean) => (on ? "text-lamp" : "");

/** Between frame and plan: what the frame shows beside its picture, and what lies on the plan. */
export function FrameBar({
  setup,
  compare,
  children,
}: {
  setup: number;
  compare: () => void;
  children: ReactNode;
}) {
  const instruments = usePreferences((p) => p.instruments),
    strip = usePreferences((p) => p.parts),
    day = usePreferences((p) => p.day),
    depth = usePreferences((p) => p.depth);
  const sweeping = useSweep((s) => s.shown);
  const plane = useDesk((d) => d.plane);
  const outline = useDesk((d) => d.draft?.room.outline?.length ?? 0);
  const walls: { value: Plane; label: string }[] = outline
    ? [...Array(outline).keys()].map((k) => ({ value: k, label: `levels, wall ${k + 1}` }))
    : SIDES.map((value) => ({ value, label: `levels, ${value} wall` }));
  const frozen = useFrozen((f) => f.shots[setup]?.length ?? 0),
    freezing = useFrozen((f) => f.freezing);
  useEffect(() => {
    // What is amiss is said where they are looked at.
    loadFrozen(setup).catch(() => undefined);
  }, [setup]);
  return (
    <div className="flex h-10 shrink-0 items-center border-b border-line pr-1">
      <div className="w-44">
        <Choice
          label="Levels"
          hideLabel
          value={String(plane)}
          options={[...PLANES, ...walls].map(({ value, label }) => ({
            value: String(value),
            label,
          }))}
          onChange={(next) =>
            setDesk({
              plane: [...PLANES, ...walls].find((p) => String(p.value) === next)?.value ?? "none",
            })
          }
        />
      </div>
      <div className="flex min-w-0 flex-1 px-1">{children}</div>
      <div
        role="group"
        aria-label="About the frame"
        className="flex [&>button]:px-2.5 [&>button]:text-xs"
      >
        <Button
          look="bare"
          aria-pressed={instruments}
          className={lit(instruments)}
          onClick={() => usePreferences.setState({ instruments: !instruments })}
        >
          Instruments
        </Button>
        <Button
          look="bare"
          aria-pressed={strip}
          aria-label="Each light's part"
          className={lit(strip)}
          onClick={() => usePreferences.setState({ parts: !strip })}
        >
          Parts
        </Button>
        <Button
          look="bare"
          aria-pressed={sweeping}
          aria-label="Sweep one thing"
          className={lit(sweeping)}
          onClick={() => (sweeping ? closeSweep() : openSweep())}
        >
          Sweep
        </Button>
        <Button
          look="bare"
          aria-pressed={day}
          aria-label="The hour of the day"
          className={lit(day)}
          onClick={() => usePreferences.setState({ day: !day })}
        >
          Day
        </Button>
        <Button
          look="bare"
          aria-pressed={depth}
          aria-label="Draw depth of field"
          className={lit(depth)}
          onClick={() => usePreferences.setState({ depth: !depth })}
        >
          Depth
        </Button>
        <Button
          look="bare"
          aria-label="Freeze this frame"
          aria-busy={freezing}
          disabled={freezing}
          onClick={freezeWhenWhole}
        >
          {freezing ? "Freezing…" : "Freeze"}
          {frozen > 0 && <span className="text-quiet">{frozen}</span>}
        </Button>
        <Button look="bare" aria-label="Compare frames" onClick={compare}>
          Compare
        </Button>
      </div>
    </div>
  );
}
