/** Figures of cells: told, sorted, filtered, laid out in a plane. */
import type { Constants, Schemas } from "../app/api";

export type Cell = Schemas["CellOut"];
export type Figure = Constants["figures"][number];

export function told(figure: Figure, value: number | undefined) {
  if (value === undefined) return "–";
  if (figure.words.length) return figure.words[Math.round(value)] ?? "–";
  const unit = figure.unit.replace(/^: 1$/, ":1");
  const text = value
    .toFixed(figure.digits)
    .replace(/^-(0(\.0*)?)$/, "$1")
    .replace("-", "−");
  return unit === "°" || unit === ":1" ? text + unit : `${text} ${unit}`.trim();
}

/** Cells in the order of a figure, those that lack it last; as they were made without one. */
export function sorted(cells: readonly Cell[], key: string, down: boolean): Cell[] {
  if (!key) return [...cells];
  const at = (c: Cell) => c.figures[key];
  return [...cells].sort((a, b) => {
    const [x, y] = [at(a), at(b)];
    if (x === undefined || y === undefined) return +(x === undefined) - +(y === undefined);
    return down ? y - x : x - y;
  });
}

export type Bound = { key: string; how: "at least" | "at most"; value: number };

/** Cells within a bound; whatever lacks the figure is not. */
export const within = (cells: readonly Cell[], bound: Bound | null) =>
  bound === null
    ? [...cells]
    : cells.filter((c) => {
        const value = c.figures[bound.key];
        if (value === undefined) return false;
        return bound.how === "at least" ? value >= bound.value : value <= bound.value;
      });

export type Dot = { cell: Cell; x: number; y: number };

/** Cells that have both figures, each in its place in a unit square, y up. */
export function plane(cells: readonly Cell[], across: string, up: string): Dot[] {
  const has = cells.filter((c) => c.figures[across] !== undefined && c.figures[up] !== undefined);
  const scale = (key: string) => {
    const values = has.map((c) => c.figures[key]!),
      [low, high] = [Math.min(...values), Math.max(...values)];
    return (v: number) => (high > low ? (v - low) / (high - low) : 0.5);
  };
  const [x, y] = [scale(across), scale(up)];
  return has.map((cell) => ({ cell, x: x(cell.figures[across]!), y: y(cell.figures[up]!) }));
}
