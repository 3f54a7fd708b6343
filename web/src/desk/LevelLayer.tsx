import { contours } from "d3-contour";
import { memo, useMemo } from "react";
import type { LevelMap } from "../app/api";
import type { PlanScale } from "./planScale";
import { useLight } from "./preferences";

const FC = 10.763910416709722;

/** Whole stops under the brightest place: the bands, and their outlines as closed runs of grid places. */
function bands(map: LevelMap) {
  const sorted = [...map.lux].sort((a, b) => a - b);
  // A lamp's own hot spot would push every line together: the brightest hundredth is left out.
  const top = sorted[Math.floor(sorted.length * 0.99)] ?? 0;
  if (top <= 0) return [];
  const levels = Array.from({ length: 8 }, (_, k) => top / 2 ** (8 - k)).concat(top);
  return contours().size([map.columns, map.rows]).thresholds(levels)(map.lux).map((c) => ({ lux: c.value, stops: Math.log2(c.value / top), rings: c.coordinates }));
}

type Place = (u: number, v: number) => [number, number];

function Bands({ map, place }: { map: LevelMap; place: Place }) {
  const light = useLight();
  const found = useMemo(() => bands(map), [map]);
  return (
    <>
      {found.map(({ lux, stops, rings }) => {
        const path = rings.map((polygon) => polygon.map((ring) => "M" + ring.map(([x, y]) => place(x! / map.columns, y! / map.rows).map((n) => n.toFixed(1)).join(" ")).join("L") + "Z").join("")).join("");
        const at = rings[0]?.[0]?.reduce((a, b) => (place(b[0]! / map.columns, b[1]! / map.rows)[1] < place(a[0]! / map.columns, a[1]! / map.rows)[1] ? b : a));
        const spot = at && place(at[0]! / map.columns, at[1]! / map.rows);
        return (
          <g key={lux}>
            <path d={path} className="fill-lamp stroke-lamp" fillOpacity={0.055} strokeOpacity={Math.abs(stops) < 0.01 ? 0.95 : 0.5} strokeWidth={1} fillRule="evenodd" />
            {spot && stops > -6.5 && <text x={spot[0]} y={spot[1] + 10} textAnchor="middle" className="fill-lamp text-[10px]" stroke="var(--color-ink)" strokeWidth="3" paintOrder="stroke">{light.text(lux, lux / FC)}</text>}
          </g>
        );
      })}
    </>
  );
}

/** Lines of equal level over the plan, a stop apart. */
export const PlanLevels = memo(function PlanLevels({ map, scale }: { map: LevelMap; scale: PlanScale }) {
  const place: Place = (u, v) => scale.toScreen([map.corner[0]! + u * map.along[0]! + v * map.up[0]!, map.corner[1]! + u * map.along[1]! + v * map.up[1]!, 0]);
  return <g aria-label="Lines of equal level, a stop apart" role="img" pointerEvents="none"><Bands map={map} place={place} /></g>;
});

/** The same on a wall, seen from inside the room. */
export function WallLevels({ map }: { map: LevelMap }) {
  const wide = Math.hypot(...map.along), high = Math.hypot(...map.up);
  const width = 260, height = Math.max(60, Math.min(150, (260 * high) / wide));
  // From inside, the south and east walls run from right to left.
  const flip = map.plane === "south" || map.plane === "east";
  const place: Place = (u, v) => [(flip ? 1 - u : u) * width, (1 - v) * height];
  return (
    <figure className="absolute top-12 right-2 z-10 rounded border border-line bg-ink/90 p-2">
      <svg width={width} height={height} role="img" aria-label={`Lines of equal level on the ${map.plane} wall`}><rect width={width} height={height} className="fill-panel" /><Bands map={map} place={place} /></svg>
      <figcaption className="mt-1 text-xs text-quiet">{map.plane} wall from inside, lines a stop apart</figcaption>
    </figure>
  );
}
