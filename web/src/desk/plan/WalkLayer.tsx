import { contours } from "d3-contour";
import { memo, useMemo } from "react";
import type { Walked } from "../../app/api";
import type { PlanScale } from "./planScale";

/** The acting area about the mark and the walk, over the plan. */
export const WalkLayer = memo(function WalkLayer({
  walked,
  scale,
}: {
  walked: Walked;
  scale: PlanScale;
}) {
  const { acting, path } = walked;
  const rings = useMemo(
    () =>
      acting.areas.map(({ part }) => ({
        part,
        // Inside is where the change keeps within the part on either side.
        shapes: contours()
          .size([acting.cells, acting.cells])
          .thresholds([0])(acting.stops.map((s) => part - Math.abs(s)))
          .flatMap((c) => c.coordinates),
      })),
    [acting],
  );
  const each = acting.side / (acting.cells - 1);
  const place = ([x = 0, y = 0]: number[]) =>
    scale
      .toScreen([acting.corner[0]! + (x - 0.5) * each, acting.corner[1]! + (y - 0.5) * each, 0])
      .map((v) => v.toFixed(1))
      .join(" ");
  const last = path.at(-1);
  const dot = last && scale.toScreen(last.position);
  return (
    <g pointerEvents="none" role="img" aria-label="Acting area and walk">
      {rings.map(({ part, shapes }) => (
        <path
          key={part}
          d={shapes
            .map((polygon) => polygon.map((ring) => "M" + ring.map(place).join("L") + "Z").join(""))
            .join("")}
          fillRule="evenodd"
          className="fill-calm stroke-calm"
          fillOpacity={0.08}
          strokeDasharray={part < 0.4 ? undefined : "4 4"}
        />
      ))}
      <polyline
        points={path.map((p) => scale.toScreen(p.position).join(",")).join(" ")}
        className="fill-none stroke-lamp"
        strokeWidth={2}
      />
      {dot && last && (
        <text
          x={dot[0] + 6}
          y={dot[1] + 4}
          className="fill-lamp text-xs"
          stroke="var(--color-ink)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          {last.words === "0" ? "as on the mark" : last.words}
        </text>
      )}
    </g>
  );
});
