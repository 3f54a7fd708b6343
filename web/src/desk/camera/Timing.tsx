import { Button } from "../../parts/Button";
import { ndWords, type SetCamera } from "./settings";
import { useDesk } from "../store";

/** The shutter both ways, and lamps on the mains that it would show pulsing. */
export function Timing({ disabled, set }: { disabled: boolean; set: SetCamera }) {
  const facts = useDesk((d) => d.cameraFacts);
  if (!facts) return null;
  const unsafe = facts.flicker.filter((f) => !f.safe);
  const worst = [50, 60].flatMap((mains) =>
    unsafe
      .filter((f) => f.mains === mains)
      .sort((a, b) => b.change - a.change)
      .slice(0, 1),
  );
  return (
    <div className="grid gap-1 text-xs">
      <p className="text-quiet">
        Shutter 1/{(1 / facts.time).toFixed(facts.time < 0.01 ? 0 : 1)} s, {facts.angle.toFixed(1)}°
        {facts.angle > 360.5 ? ": longer than a frame" : ""}.{" "}
        {facts.density > 0 && `${ndWords(facts.density / Math.log10(2))}.`}
      </p>
      {worst.length === 0 && (
        <p className="text-quiet">No lamp on 50 or 60 Hz mains pulses at this shutter.</p>
      )}
      {worst.map((f) => (
        <div key={f.mains} className="flex items-center justify-between gap-2">
          <span>
            <b className="text-fault">{f.mains} Hz:</b>{" "}
            {unsafe
              .filter((u) => u.mains === f.mains)
              .map((u) => u.lamp)
              .join("; ")}{" "}
            pulse by up to {(f.change * 100).toFixed(0)} %.
          </span>
          {f.nearest === null && (
            <span className="text-quiet">No shutter is safe at this rate.</span>
          )}
          {f.nearest && (
            <Button
              disabled={disabled}
              className="shrink-0 text-xs"
              onClick={() =>
                set(
                  { shutter: { angle: null, time: f.nearest! } },
                  `1/${(1 / f.nearest!).toFixed(0)} s against flicker`,
                )
              }
            >
              1/{(1 / f.nearest).toFixed(0)} s
              {f.nearest_angle ? `, ${f.nearest_angle.toFixed(1)}°` : ""}
            </Button>
          )}
        </div>
      ))}
    </div>
  );
}
