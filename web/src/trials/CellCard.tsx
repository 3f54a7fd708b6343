import type { Schemas } from "../app/api";
import { told, type Cell, type Figure } from "./figures";

type Trial = Schemas["TrialOut"];

export const pictureOf = (trial: { id: number }, cell: Cell) =>
  `/api/trials/${trial.id}/cells/${cell.row}/${cell.column}.png`;

/** What a cell tries; a lone column says nothing. */
export const nameOf = (trial: Trial, cell: Cell) =>
  [trial.rows[cell.row], trial.columns.length > 1 && trial.columns[cell.column]]
    .filter(Boolean)
    .join(", ");

/** One cell on the sheet: waiting, under way, failed and done each look their own way. */
export function CellCard(props: {
  cell: Cell;
  trial: Trial;
  figures: Figure[];
  open: boolean;
  choose: () => void;
}) {
  const { cell, trial, figures, open, choose } = props;
  const name = nameOf(trial, cell);
  return (
    <li
      className={`rounded border ${open ? "border-lamp bg-raised" : cell.favourite ? "border-calm" : "border-line"}`}
    >
      <button
        type="button"
        aria-pressed={open}
        aria-label={`${name}: ${cell.state}`}
        onClick={choose}
        className="grid w-full grid-cols-[minmax(0,1fr)] gap-1 p-1.5 text-left"
      >
        {cell.state === "done" ? (
          <img
            src={pictureOf(trial, cell)}
            alt=""
            loading="lazy"
            className="aspect-video w-full rounded-sm"
          />
        ) : (
          <span
            className={`grid aspect-video w-full place-items-center rounded-sm p-2 text-center text-xs ${LOOK[cell.state]}`}
          >
            {WORDS[cell.state] ?? cell.fault}
          </span>
        )}
        <span className="flex items-baseline gap-1.5">
          <b className="min-w-0 flex-1 truncate font-semibold">{name}</b>
          {cell.favourite && <span className="text-xs text-calm">kept in mind</span>}
        </span>
        {cell.state === "done" && (
          <span className="grid grid-cols-2 gap-x-3 text-xs">
            {figures.map((f) => (
              <span key={f.key} title={f.name} className="flex justify-between gap-1">
                <span className="min-w-0 truncate text-quiet">{f.name}</span>
                <span className="whitespace-nowrap">{told(f, cell.figures[f.key])}</span>
              </span>
            ))}
          </span>
        )}
      </button>
    </li>
  );
}

const WORDS: Partial<Record<Cell["state"], string>> = { waiting: "waits", running: "under way" };
const LOOK: Record<Cell["state"], string> = {
  waiting: "border border-dashed border-line text-quiet",
  running: "skeleton bg-raised text-paper",
  done: "",
  failed: "border border-fault text-fault",
  impossible: "bg-panel text-quiet",
};
