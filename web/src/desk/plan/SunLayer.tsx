import { useDesk } from "../store";
import { ringPath } from "../units/LandingMarks";
import type { PlanScale } from "./planScale";

/** What the sun draws on the floor at the hour that stands: patches by windows, shadows. */
export function SunLayer({ scale }: { scale: PlanScale }) {
  const patches = useDesk((d) => d.sunPatches);
  if (!patches.length) return null;
  return (
    <g pointerEvents="none" role="img" aria-label="Sun on the floor">
      {patches.map((p) => (
        <path
          key={`${p.what} ${p.shadow}`}
          d={ringPath(p.corners.map(([x, y]) => scale.toScreen([x!, y!, 0])))}
          className={p.shadow ? "fill-ink/70 stroke-quiet" : "fill-lamp/35 stroke-lamp/60"}
          strokeWidth={1}
        />
      ))}
    </g>
  );
}
