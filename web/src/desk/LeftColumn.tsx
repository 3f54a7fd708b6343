import type { Constants } from "../app/api";
import { OrderColumn } from "./order/OrderColumn";
import { ReadingColumn } from "./reading/ReadingColumn";
import { setDesk, useDesk } from "./store";
import { UnitList } from "./units/UnitList";

const COLUMNS = [
  ["units", "Units", "Units"],
  ["order", "Order", "Order of work"],
  ["reading", "Reading", "What the frame does"],
] as const;

/** Beside the frame: the units, the order in which to build, or what the picture does. */
export function LeftColumn({ constants }: { constants: Constants }) {
  const column = useDesk((d) => d.column);
  return (
    <div className="flex min-h-0 flex-col">
      <div role="group" aria-label="Left column" className="flex gap-3 px-3 pt-1">
        {COLUMNS.map(([key, label, name]) => (
          <button
            key={key}
            type="button"
            aria-pressed={column === key}
            aria-label={name}
            onClick={() => setDesk({ column: key })}
            className={`min-h-10 font-serif text-base italic ${column === key ? "text-lamp" : "text-quiet hover:text-paper"}`}
          >
            {label}
          </button>
        ))}
      </div>
      {column === "units" && (
        <UnitList heads={constants.heads} attachments={constants.attachments} />
      )}
      {column === "order" && <OrderColumn constants={constants} />}
      {column === "reading" && <ReadingColumn limits={constants.limits} />}
    </div>
  );
}
