import { useState } from "react";
import { numberOf } from "../../app/units";
import { TextField } from "../../parts/TextField";

/** The trade counts a stop as 0.3. */
const STOP = 0.3;
const written = (filters: number[]) => filters.map((f) => +(f * STOP).toFixed(2)).join("  ");

/** Filters [stops] of a line of densities, rising; null where something in it is no density. */
export function filtersOf(text: string): number[] | null {
  const found = text
    .split(/[\s,;]+(?!\d{3}\b)/)
    .filter(Boolean)
    .map(numberOf);
  if (found.some((f) => f === null || f <= 0 || f > 6)) return null;
  const stops = found.map((f) => +(f! / STOP).toFixed(3));
  return [...new Set(stops)].sort((a, b) => a - b).slice(0, 20);
}

/** The ND filters in the bag, typed by density; an empty line stands for all that are made. */
export function NdFilters({
  filters,
  disabled,
  onChange,
}: {
  filters: number[];
  disabled: boolean;
  onChange: (filters: number[]) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const found = typed === null ? filters : filtersOf(typed);
  function take() {
    if (typed === null || !found) return;
    setTyped(null);
    if (written(found) !== written(filters)) onChange(found);
  }
  return (
    <TextField
      label="ND at hand, by density"
      placeholder="all that are made; or 0.3 0.6 0.9 1.2"
      value={typed ?? written(filters)}
      disabled={disabled}
      fault={found ? undefined : "Densities between 0 and 6, such as 0.3 0.6 1.2"}
      onChange={setTyped}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === "Enter") take();
        if (e.key === "Escape") setTyped(null);
      }}
    />
  );
}
