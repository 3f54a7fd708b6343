import type { Grip, Unit } from "../../app/api";
import type { PlanScale } from "./planScale";
import { armOf, gripStands, unitStands } from "./stands";

/** How far the feet of a stand are from its pole [m]; as moth.place.standing draws them. */
const SPREAD = 0.45;

/** Where stands stand: the legs of what is in hand, every boom's foot and arm, and every arm. */
export function StandLayer({
  units,
  grip,
  chosen,
  scale,
}: {
  units: Unit[];
  grip: Grip[];
  /** Of a unit, and of a piece of grip where that is in hand. */
  chosen: { unit: string | null; grip: string | null };
  scale: PlanScale;
}) {
  const all = [
    ...units.map((u) => ({
      item: u,
      mine: u.id === chosen.unit,
      stands: [...unitStands(u), ...armOf(u)],
    })),
    ...grip.map((g) => ({
      item: g,
      mine: g.id === chosen.grip,
      stands: [...gripStands(g), ...armOf(g)],
    })),
  ];
  return (
    <g pointerEvents="none">
      {all.flatMap(({ item, mine, stands }) =>
        stands
          .filter((stood) => mine || stood.arm)
          .map(({ foot, arm }, k) => {
            const [x, y] = scale.toScreen(item.position),
              [fx, fy] = scale.toScreen(foot as [number, number]);
            return (
              <g
                key={`${item.id} ${k}`}
                className={mine ? "stroke-lamp" : "stroke-quiet"}
                role="img"
                aria-label={`${item.held === "arm" ? "Arm" : "Stand"} of ${item.name}`}
              >
                {arm && <line x1={x} y1={y} x2={fx} y2={fy} strokeWidth="1.5" />}
                {item.held !== "arm" && (
                  <circle
                    cx={fx}
                    cy={fy}
                    r={SPREAD * scale.zoom}
                    fill="none"
                    strokeDasharray="2 3"
                  />
                )}
                {arm && <circle cx={fx} cy={fy} r="2.5" className="fill-ink" />}
              </g>
            );
          }),
      )}
    </g>
  );
}
