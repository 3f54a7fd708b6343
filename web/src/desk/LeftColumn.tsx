import type { Constants } from "../app/api";
import { OrderColumn } from "./order/OrderColumn";
import { setDesk, useDesk } from "./store";
import { UnitList } from "./units/UnitList";

const COLUMNS = [
  ["units", "Units"],
  ["order", "Order of work"],
] as const;

/** Beside the frame: the units on the set, or the order in which to build. */
export function LeftColumn({ constants }: { constants: Constants }) {
  const column = useDesk((d) => d.column);
  return (
    <div className="flex min-h-0 flex-col">
      <div role="group" aria-label="Left column" className="flex gap-3 px-3 pt-1">
        {COLUMNS.map(([key, label]) => (
          <button
            key={key}
            type="button"
            aria-pressed={column === key}
            onClick={() => setDesk({ column: key })}
            className={`min-h-10 font-serif text-base italic ${column === key ? "text-lamp" : "text-quiet hover:text-paper"}`}
          >
            {label}
          </button>
        ))}
      </div>
      {column === "units" ? (
        <UnitList heads={constants.heads} />
      ) : (
        <OrderColumn constants={constants} />
      )}
    </div>
  );
}
