import { useEffect, useRef, useState } from "react";
import { api, got, type Problem, type Walked } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { useLength, usePreferences } from "../../app/preferences";
import { readDesk, setDesk, useDesk } from "../store";

const WAYS = [
  { value: 0, label: "toward the lens" },
  { value: 90, label: "to camera right" },
  { value: -90, label: "to camera left" },
  { value: 180, label: "away from the lens" },
] as const;
const WIDE = 270,
  HIGH = 90,
  SPAN = 3;

/**
 * Walk the subject through the light: the change along the way, and the area in which the level
 * keeps.
 */
export function WalkPage() {
  const walked = useDesk((d) => d.walked);
  const look = useDesk((d) => d.look);
  const length = useLength();
  const step = usePreferences((p) => p.step);
  const [angle, setAngle] = useState<number>(0);
  const [distance, setDistance] = useState(1.5);
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState<string | null>(null);
  const stop = useRef(new AbortController());
  useEffect(
    () => () => {
      stop.current.abort();
      setDesk({ walked: null });
    },
    [],
  );
  // What was walked in another light is no answer for this one.
  useEffect(() => {
    setDesk({ walked: null });
  }, [look]);
  async function walk() {
    const { record, draft, stored } = readDesk();
    if (!record || !draft) return;
    stop.current = new AbortController();
    setBusy(true);
    setSaid(null);
    try {
      const found = await got<Walked>(
        api.POST("/api/setups/{pk}/walk", {
          params: { path: { pk: record.id } },
          body: { document: draft === stored ? null : draft, angle, distance, step },
          signal: stop.current.signal,
        }),
      );
      if (readDesk().draft === draft) setDesk({ walked: found });
    } catch (error) {
      if (!stop.current.signal.aborted) setSaid((error as Problem).message);
    } finally {
      setBusy(false);
    }
  }
  const y = (stops: number) =>
    HIGH / 2 - (Math.max(-SPAN, Math.min(SPAN, stops)) / SPAN) * (HIGH / 2);
  const far = walked?.path.at(-1)?.distance ?? 1;
  return (
    <section aria-label="Walk" className="grid gap-2">
      <p className="text-xs text-quiet">A dome held to the lens, carried from the mark.</p>
      <div className="grid grid-cols-[1fr_6rem] gap-1.5">
        <Choice label="Way" value={angle} options={[...WAYS]} onChange={setAngle} />
        <NumberField
          label="As far as"
          unit={length.unit}
          digits={1}
          value={length.show(distance)}
          step={0.5}
          min={0.2}
          max={40}
          onChange={(v) => setDistance(Math.min(12, +length.take(v).toFixed(2)))}
        />
      </div>
      {busy ? (
        <Button onClick={() => stop.current.abort()}>Stop walking</Button>
      ) : (
        <Button onClick={() => void walk()}>Walk it</Button>
      )}
      {busy && (
        <p role="status" className="late text-xs text-quiet">
          Carrying the meter through the light…
        </p>
      )}
      {said && (
        <p role="alert" className="text-fault">
          {said}
        </p>
      )}
      {walked && (
        <>
          <svg
            width={WIDE}
            height={HIGH + 16}
            role="img"
            aria-label="Change along the walk"
            className="max-w-full"
          >
            {[-2, -1, 0, 1, 2].map((s) => (
              <g key={s}>
                <line x1={0} x2={WIDE} y1={y(s)} y2={y(s)} className="stroke-line" />
                <text x={2} y={y(s) - 2} className="fill-quiet text-[10px]">
                  {s > 0 ? `+${s}` : s < 0 ? `−${-s}` : "mark"}
                </text>
              </g>
            ))}
            <rect
              x={0}
              width={WIDE}
              y={y(0.5)}
              height={y(-0.5) - y(0.5)}
              className="fill-calm"
              opacity={0.12}
            />
            <polyline
              points={walked.path
                .map((p) => `${(p.distance / far) * WIDE},${y(p.stops)}`)
                .join(" ")}
              className="fill-none stroke-lamp"
              strokeWidth={2}
            />
            <text x={WIDE} y={HIGH + 13} textAnchor="end" className="fill-quiet text-[11px]">
              {length.text(far, 1)}
            </text>
          </svg>
          <p role="status" aria-label="Walked">
            At the end{" "}
            {walked.path.at(-1)!.words === "0"
              ? "as on the mark"
              : `${walked.path.at(-1)!.words} stops`}
            .{" "}
            {walked.acting.areas
              .map((a) => `Within ${a.part < 0.4 ? "⅓" : "½"} stop: ${a.area.toFixed(1)} m²`)
              .join("; ")}{" "}
            about the mark, outlined on the plan.
          </p>
          {walked.path.at(-1)!.distance < distance - 0.1 && (
            <p className="text-xs text-quiet">The wall ends the walk.</p>
          )}
        </>
      )}
    </section>
  );
}
