import { numberOf } from "../app/units";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

type Props = {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  fine: number;
  text: string;
  note?: string;
  onChange: (value: number) => void;
  onDone?: () => void;
  disabled?: boolean;
  track?: string;
  /** What a typed number means on the bar; without it, itself. */
  typed?: (number: number) => number;
};

/**
 * A bar that follows the finger; arrows move it by `step`, with Shift by `fine`; a digit or Enter
 * opens a field to type in.
 */
export function Slider({
  label,
  value,
  min,
  max,
  step,
  fine,
  text,
  note,
  onChange,
  onDone,
  disabled,
  track,
  typed = (number) => number,
}: Props) {
  const bar = useRef<HTMLDivElement>(null);
  const dropped = useRef(false);
  const [typing, setTyping] = useState<string | null>(null);
  const part = Math.min(1, Math.max(0, (value - min) / (max - min)));
  const clamp = (n: number) => Math.min(max, Math.max(min, n));

  function follow(event: PointerEvent) {
    const box = bar.current!.getBoundingClientRect();
    onChange(clamp(min + ((event.clientX - box.left) / box.width) * (max - min)));
  }
  /** On leaving the field, by whatever way: Enter and Escape leave it too. */
  function leave() {
    const number = typing === null || dropped.current ? null : numberOf(typing);
    dropped.current = false;
    setTyping(null);
    if (number === null || !Number.isFinite(typed(number))) return;
    onChange(clamp(typed(number)));
    onDone?.();
  }
  function pressed(event: KeyboardEvent) {
    if (disabled || event.target !== bar.current) return;
    if (event.key === "Enter" || /^[\d.−-]$/.test(event.key)) {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      return setTyping(event.key === "Enter" ? "" : event.key);
    }
    const amount = event.shiftKey ? fine : step;
    const next = {
      ArrowRight: value + amount,
      ArrowUp: value + amount,
      ArrowLeft: value - amount,
      ArrowDown: value - amount,
      Home: min,
      End: max,
    }[event.key];
    if (next === undefined) return;
    event.preventDefault();
    onChange(clamp(next));
    onDone?.();
  }
  return (
    <div
      ref={bar}
      role="slider"
      tabIndex={disabled ? -1 : 0}
      aria-label={label}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuenow={value}
      aria-valuetext={note ? `${text}, ${note}` : text}
      aria-disabled={disabled}
      className={`relative flex h-10 touch-none items-center justify-between overflow-hidden rounded bg-raised px-2.5 select-none ${disabled ? "opacity-50" : "cursor-ew-resize"}`}
      style={track ? { background: track } : undefined}
      onPointerDown={(e) => {
        if (!disabled) {
          e.currentTarget.setPointerCapture(e.pointerId);
          follow(e);
        }
      }}
      onPointerMove={(e) => {
        if (e.currentTarget.hasPointerCapture(e.pointerId)) follow(e);
      }}
      onLostPointerCapture={() => onDone?.()}
      onKeyDown={pressed}
      onDoubleClick={() => !disabled && setTyping("")}
    >
      {!track && (
        <div
          aria-hidden
          className="absolute inset-y-0 left-0 bg-gradient-to-r from-[#6b4a16] to-[#b8812f]"
          style={{ width: `${part * 100}%` }}
        />
      )}
      <div
        aria-hidden
        className="absolute inset-y-1 w-0.5 bg-paper"
        style={{ left: `calc(${part * 100}% - 1px)` }}
      />
      <span className="relative truncate rounded bg-ink/90 px-1.5 py-0.5 text-xs">
        {label} <b className="text-sm">{text}</b>
      </span>
      {note && <span className="relative rounded bg-ink/90 px-1.5 py-0.5 text-xs">{note}</span>}
      {typing !== null && (
        <input
          autoFocus
          aria-label={`${label}, typed`}
          inputMode="decimal"
          placeholder={text}
          className="absolute inset-0 rounded border border-lamp bg-ink px-2.5 outline-none"
          value={typing}
          onChange={(e) => setTyping(e.target.value)}
          onPointerDown={(e) => e.stopPropagation()}
          onBlur={leave}
          onKeyDown={(e) => {
            if (e.key !== "Enter" && e.key !== "Escape") return;
            e.preventDefault();
            dropped.current = e.key === "Escape";
            bar.current?.focus();
          }}
        />
      )}
    </div>
  );
}
