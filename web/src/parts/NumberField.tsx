import { numberOf } from "../app/units";
import { useId, useState, type KeyboardEvent } from "react";

type Props = {
  label: string;
  hideLabel?: boolean;
  value: number;
  unit: string;
  digits?: number;
  step: number;
  min: number;
  max: number;
  onChange: (value: number) => void;
  disabled?: boolean;
};

/**
 * A number that is typed or nudged: arrow keys step it, Shift steps a tenth; it is taken on Enter
 * or on leaving.
 */
export function NumberField({
  label,
  hideLabel,
  value,
  unit,
  digits = 0,
  step,
  min,
  max,
  onChange,
  disabled,
}: Props) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const clamp = (n: number) => Math.min(max, Math.max(min, n));
  const shown = value.toFixed(digits).replace(/^-(0(\.0*)?)$/, "$1");

  function take() {
    if (typed === null) return;
    const number = numberOf(typed);
    setTyped(null);
    if (number !== null && typed !== shown) onChange(clamp(number));
  }
  function pressed(event: KeyboardEvent) {
    if (event.key === "Enter") take();
    if (event.key === "Escape") setTyped(null);
    const way = event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0;
    if (way) {
      event.preventDefault();
      setTyped(null);
      onChange(clamp(value + way * step * (event.shiftKey ? 0.1 : 1)));
    }
  }
  return (
    <div className="grid min-w-0 gap-0.5">
      <label htmlFor={id} className={hideLabel ? "sr-only" : "truncate text-xs text-quiet"}>
        {label}
      </label>
      <div className="flex h-10 items-center rounded border border-line bg-ink pr-2 focus-within:border-lamp">
        <input
          id={id}
          inputMode="decimal"
          autoComplete="off"
          disabled={disabled}
          className="h-full w-full min-w-0 bg-transparent pl-2.5 outline-none"
          value={typed ?? shown}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={take}
          onKeyDown={pressed}
          onFocus={(e) => e.target.select()}
        />
        <span className="shrink-0 text-xs text-quiet">{unit}</span>
      </div>
    </div>
  );
}
