import { memo, useMemo } from "react";
import type { LevelMap } from "../../app/api";
import { bands, wallGrid, wordPlaces, type Spot } from "./levels";
import type { PlanScale } from "./planScale";
import { FOOT } from "../../app/units";
import { useLength, useLight } from "../../app/preferences";

const FC = 10.763910416709722;

type Place = (u: number, v: number) => Spot;

function Bands({ map, place, bare }: { map: LevelMap; place: Place; bare?: boolean }) {
  const light = useLight();
  const found = useMemo(() => bands(map), [map]);
  const lines = found.map((band) => ({
    ...band,
    text: light.text(band.lux, band.lux / FC),
    rings: band.rings.map((polygon) =>
      polygon.map((ring) => ring.map(([x, y]) => place(x! / map.columns, y! / map.rows))),
    ),
  }));
  // The brightest lines say theirs first.
  const said = lines.filter((line) => line.stops > -6.5).reverse();
  const spots = wordPlaces(
    bare ? [] : said.map((line) => ({ text: line.text, along: line.rings[0]?.[0] ?? [] })),
  );
  return (
    <>
      {lines.map(({ lux, stops, rings }) => (
        <path
          key={lux}
          d={rings
            .flat()
            .map(
              (ring) =>
                "M" + ring.map((at) => at.map((n) => n.toFixed(1)).join(" ")).join("L") + "Z",
            )
            .join("")}
          className="fill-lamp stroke-lamp"
          fillOpacity={0.055}
          strokeOpacity={Math.abs(stops) < 0.01 ? 0.95 : 0.5}
          strokeWidth={1}
          fillRule="evenodd"
        />
      ))}
      {said.map(
        ({ lux, text }, k) =>
          spots[k] && (
            <text
              key={lux}
              x={spots[k][0]}
              y={spots[k][1] + 10}
              textAnchor="middle"
              className="fill-lamp text-[10px]"
              stroke="var(--color-ink)"
              strokeWidth="3"
              paintOrder="stroke"
            >
              {text}
            </text>
          ),
      )}
    </>
  );
}

/** Lines of equal level over the plan, a stop apart. */
export const PlanLevels = memo(function PlanLevels({
  map,
  scale,
}: {
  map: LevelMap;
  scale: PlanScale;
}) {
  const place: Place = (u, v) =>
    scale.toScreen([
      map.corner[0]! + u * map.along[0]! + v * map.up[0]!,
      map.corner[1]! + u * map.along[1]! + v * map.up[1]!,
      0,
    ]);
  return (
    <g aria-label="Lines of equal level, a stop apart" role="img" pointerEvents="none">
      <Bands map={map} place={place} />
    </g>
  );
});

/**
 * The same on a wall, seen from inside the room, over a grid of feet or half metres from its
 * middle; where the grid crosses, how many stops the light is off the middle's.
 */
export function WallLevels({ map }: { map: LevelMap }) {
  const { unit } = useLength();
  const light = useLight();
  const wide = Math.hypot(...map.along),
    high = Math.hypot(...map.up);
  const width = 340,
    height = Math.max(60, Math.min(210, (width * high) / wide));
  // From inside, walls run from right to left; north and west ones are measured the other way.
  const flip = map.plane !== "north" && map.plane !== "west";
  const name = typeof map.plane === "number" ? `wall ${map.plane + 1}` : `${map.plane} wall`;
  const place: Place = (u, v) => [(flip ? 1 - u : u) * width, (1 - v) * height];
  const grid = useMemo(() => wallGrid(map, unit === "ft" ? FOOT : 0.5), [map, unit]);
  return (
    <figure className="absolute top-12 right-2 z-10 rounded border border-line bg-ink/90 p-2">
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={`Lines of equal level on the ${name}`}
      >
        <rect width={width} height={height} className="fill-panel" />
        <g className="stroke-line" strokeWidth={0.6}>
          {grid.across.map((u) => (
            <line key={`u${u}`} x1={u * width} x2={u * width} y1={0} y2={height} />
          ))}
          {grid.up.map((v) => (
            <line key={`v${v}`} x1={0} x2={width} y1={(1 - v) * height} y2={(1 - v) * height} />
          ))}
        </g>
        <Bands map={map} place={place} bare />
        {grid.crossings.map(({ u, v, words }) => {
          const [x, y] = place(u, v);
          return (
            <text
              key={`${u} ${v}`}
              x={x}
              y={y - 2}
              textAnchor="middle"
              className="fill-paper text-[9px]"
              stroke="var(--color-ink)"
              strokeWidth="2.5"
              paintOrder="stroke"
            >
              {words}
            </text>
          );
        })}
      </svg>
      <figcaption className="mt-1 text-xs text-quiet" style={{ width }}>
        {name} from inside, {light.text(grid.middle, grid.middle / FC)} in its middle: lines a stop
        apart, figures in stops from the middle, a grid every{" "}
        {unit === "ft" ? "foot" : "half metre"}
      </figcaption>
    </figure>
  );
}
