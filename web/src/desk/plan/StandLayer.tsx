import type { Unit } from "../../app/api";
import type { PlanScale } from "./planScale";

/** How far the feet of a stand are from its pole [m]; as moth.transport.housings draws them. */
const SPREAD = 0.45;

/** Where stands stand: the legs of the chosen unit's, and every boom's foot and arm. */
export function StandLayer({
  units,
  chosen,
  scale,
}: {
  units: Unit[];
  chosen: string | null;
  scale: PlanScale;
}) {
  return (
    <g pointerEvents="none">
      {units.map((unit) => {
        const mine = unit.id === chosen,
          boomed = unit.held === "boom" && unit.foot;
        if (!boomed && !(mine && unit.held === "stand")) return null;
        const [x, y] = scale.toScreen(unit.position),
          [fx, fy] = scale.toScreen(boomed ? unit.foot! : unit.position);
        return (
          <g
            key={unit.id}
            className={mine ? "stroke-lamp" : "stroke-quiet"}
            role="img"
            aria-label={`Stand of ${unit.name}`}
          >
            {boomed && <line x1={x} y1={y} x2={fx} y2={fy} strokeWidth="1.5" />}
            <circle cx={fx} cy={fy} r={SPREAD * scale.zoom} fill="none" strokeDasharray="2 3" />
            {boomed && <circle cx={fx} cy={fy} r="2.5" className="fill-ink" />}
          </g>
        );
      })}
    </g>
  );
}
