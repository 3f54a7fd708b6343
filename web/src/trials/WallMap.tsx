import { useQuery } from "@tanstack/react-query";
import { api, got, type Schemas } from "../app/api";
import { keyOf } from "./TrialPage";
import type { Cell } from "./figures";

type Trial = Schemas["TrialOut"];
type Stops = (number | null)[][];

const SIDE = 288;
/** Every so many feet a figure stands, and its size; beside another map there is half the room. */
const TOLD = { alone: { every: 2, size: 9.5 }, beside: { every: 3, size: 16 } };

/** What a cell's unit does on the wall behind the face, on a grid of feet. */
export function WallMap({
  trial,
  cell,
  name,
  told,
}: {
  trial: Trial;
  cell: Cell;
  name: string;
  told: keyof typeof TOLD;
}) {
  const path = { pk: trial.id, row: cell.row, column: cell.column };
  const wall = useQuery({
    queryKey: ["wall", trial.id, keyOf(cell)],
    queryFn: () =>
      got<Schemas["WallOut"]>(
        api.GET("/api/trials/{pk}/cells/{row}/{column}/wall", { params: { path } }),
      ),
    staleTime: Infinity,
  });
  if (wall.error)
    return (
      <p role="alert" className="text-xs text-fault">
        {wall.error.message}
      </p>
    );
  if (!wall.data?.stops) return null;
  return (
    <figure className="grid gap-1 pt-2">
      <Grid stops={wall.data.stops} name={name} told={TOLD[told]} />
      <figcaption className="text-xs text-quiet">
        {name}: 12 × 12 ft of the wall behind, a line every foot, stops from its brightest
      </figcaption>
    </figure>
  );
}

function Grid({
  stops,
  name,
  told: { every, size },
}: {
  stops: Stops;
  name: string;
  told: { every: number; size: number };
}) {
  const feet = stops.length - 1,
    step = SIDE / feet;
  const squares = stops.slice(0, -1).flatMap((row, y) =>
    row.slice(0, -1).map((low, x) => {
      const corners = [low, row[x + 1]!, stops[y + 1]![x]!, stops[y + 1]![x + 1]!];
      const on = corners.filter((k): k is number => k !== null);
      return { x, y, mean: on.length === 4 ? on.reduce((a, b) => a + b) / 4 : null };
    }),
  );
  const up = (y: number) => SIDE - y * step;
  return (
    <svg
      role="img"
      aria-label={`Wall by ${name}`}
      viewBox={`-8 -8 ${SIDE + 16} ${SIDE + 16}`}
      className="w-full rounded bg-ink"
    >
      {squares.map(
        ({ x, y, mean }) =>
          mean !== null && (
            <rect
              key={`${x} ${y}`}
              x={x * step}
              y={up(y + 1)}
              width={step}
              height={step}
              className="fill-lamp stroke-line"
              strokeWidth="0.6"
              fillOpacity={0.85 * 2 ** (mean / 2)}
            />
          ),
      )}
      {stops.flatMap((row, y) =>
        row.map(
          (told, x) =>
            told !== null &&
            x % every === 0 &&
            y % every === 0 && (
              <text
                key={`${x} ${y}`}
                x={Math.min(Math.max(x * step, 1.5 * size), SIDE - 1.5 * size)}
                y={Math.min(Math.max(up(y) + size / 3, 0.8 * size), SIDE - 1)}
                textAnchor="middle"
                fontSize={size}
                className="fill-paper"
                stroke="var(--color-ink)"
                strokeWidth="2.5"
                paintOrder="stroke"
              >
                {wordOf(told)}
              </text>
            ),
        ),
      )}
    </svg>
  );
}

/** Stops under the brightest, as they stand on the map. */
export const wordOf = (stops: number) =>
  stops > -0.05 ? "0" : stops <= -10 ? "dark" : `−${(-stops).toFixed(1)}`;
