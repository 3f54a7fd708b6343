import { useDesk } from "../store";
import { ringPath } from "../units/LandingMarks";
import type { PlanScale } from "./planScale";

/** The outline of the chosen unit's beam from above, on whatever it lies. */
export function LandingLayer({ scale }: { scale: PlanScale }) {
  const landing = useDesk((d) => d.landing);
  if (!landing) return null;
  return (
    <g pointerEvents="none" role="img" aria-label="Where the beam lands, on the plan">
      {landing.rings.map((ring, k) => (
        <path
          key={k}
          d={ringPath(ring.places.map((p) => scale.toScreen(p as [number, number, number])))}
          className="fill-lamp/10 stroke-lamp"
          strokeWidth={1.5}
          strokeDasharray={ring.mirrors ? "5 4" : undefined}
        />
      ))}
    </g>
  );
}
