import type { Schemas } from "../app/api";
import { nameOf, pictureOf } from "./CellCard";
import { plane, told, type Cell, type Dot, type Figure } from "./figures";
import { keyOf } from "./TrialPage";

const left = (x: number) => 6 + 88 * x,
  bottom = (y: number) => 8 + 84 * y;

/** A sweep's curves, one a column. */
function Curves({ dots }: { dots: Dot[] }) {
  const columns = [...new Set(dots.map((d) => d.cell.column))];
  return (
    <li aria-hidden className="pointer-events-none absolute inset-0">
      <svg viewBox="0 0 100 100" preserveAspectRatio="none" className="h-full w-full">
        {columns.map((column) => (
          <polyline
            key={column}
            points={dots
              .filter((d) => d.cell.column === column)
              .sort((a, b) => a.x - b.x)
              .map((d) => `${left(d.x)},${100 - bottom(d.y)}`)
              .join(" ")}
            className="fill-none stroke-lamp"
            strokeWidth="1.5"
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
    </li>
  );
}

/** Any two figures against each other, the frames as points. */
export function Plane(props: {
  trial: Schemas["TrialOut"];
  cells: Cell[];
  across: Figure;
  up: Figure;
  open: string | null;
  choose: (cell: Cell) => void;
}) {
  const { trial, cells, across, up, open, choose } = props;
  const dots = plane(cells, across.key, up.key);
  const ends = (f: Figure) => {
    const values = dots.map((d) => d.cell.figures[f.key]!);
    return [Math.min(...values), Math.max(...values)] as const;
  };
  if (!dots.length) return <p className="p-6 text-quiet">No cell has both figures yet.</p>;
  const [x, y] = [ends(across), ends(up)];
  return (
    <div className="grid h-full min-h-[28rem] grid-cols-[5rem_1fr] grid-rows-[1fr_2.5rem] gap-2 text-xs text-quiet">
      <div className="flex flex-col justify-between py-2 text-right">
        <span>{told(up, y[1])}</span>
        <span className="text-paper">{up.name}</span>
        <span>{told(up, y[0])}</span>
      </div>
      <ul
        aria-label={`${up.name} against ${across.name}`}
        className="relative border-b border-l border-line"
      >
        {across.key === "at" && <Curves dots={dots} />}
        {dots.map(({ cell, x: at, y: high }) => (
          <li
            key={keyOf(cell)}
            className="absolute -translate-x-1/2 translate-y-1/2"
            style={{ left: `${left(at)}%`, bottom: `${bottom(high)}%` }}
          >
            <button
              type="button"
              aria-pressed={keyOf(cell) === open}
              aria-label={nameOf(trial, cell)}
              title={`${nameOf(trial, cell)}: ${told(across, cell.figures[across.key])}, ${told(up, cell.figures[up.key])}`}
              onClick={() => choose(cell)}
              className={`block w-[82px] rounded border-2 hover:z-10 ${keyOf(cell) === open ? "border-lamp" : "border-line"}`}
            >
              <img src={pictureOf(trial, cell)} alt="" className="h-11 w-[78px] rounded-sm" />
            </button>
          </li>
        ))}
      </ul>
      <span />
      <div className="flex justify-between px-2">
        <span>{told(across, x[0])}</span>
        <span className="text-paper">{across.name}</span>
        <span>{told(across, x[1])}</span>
      </div>
    </div>
  );
}
