import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import { usePreferences } from "../../app/preferences";
import { Button } from "../../parts/Button";

/** As many lines as can still be told apart. */
export const MOST = 6;
const FRESH = 60;

const kept = (lines: number[]) => usePreferences.setState({ lines });
const within = (percent: number) => Math.min(Math.max(Math.round(percent), 0), 100);

/** Share of the picture's pixels that lie over a level, by how many there are of each. */
export function over(sums: ArrayLike<number>, percent: number) {
  let above = 0,
    all = 0;
  for (let k = 0; k < sums.length; k++) {
    all += sums[k]!;
    if ((100 * k) / (sums.length - 1) > percent) above += sums[k]!;
  }
  return all ? above / all : 0;
}

/**
 * Lines of one's own over a waveform, in percent of the signal: carried by hand or by keys, away
 * with Delete; each tells how much of the picture lies over it.
 */
export function WaveLines({ sums }: { sums: ArrayLike<number> | null }) {
  const lines = usePreferences((p) => p.lines);
  const box = useRef<HTMLDivElement>(null);
  const held = useRef<number | null>(null);
  const put = (at: number, percent: number) =>
    kept(lines.map((line, k) => (k === at ? within(percent) : line)));
  const away = (at: number) => kept(lines.filter((_, k) => k !== at));
  function drag(event: PointerEvent) {
    if (held.current === null) return;
    const { top, height } = box.current!.getBoundingClientRect();
    put(held.current, 100 * (1 - (event.clientY - top) / height));
  }
  function key(event: KeyboardEvent, at: number) {
    const step = event.shiftKey ? 5 : 1;
    if (event.key === "ArrowUp" || event.key === "ArrowRight") put(at, lines[at]! + step);
    else if (event.key === "ArrowDown" || event.key === "ArrowLeft") put(at, lines[at]! - step);
    else if (event.key === "Delete" || event.key === "Backspace") away(at);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  return (
    <div ref={box} className="pointer-events-none absolute inset-0">
      {lines.map((line, at) => (
        <div
          key={at}
          role="slider"
          tabIndex={0}
          aria-label={`Line ${at + 1}`}
          aria-orientation="vertical"
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={line}
          aria-valuetext={`${line} %`}
          title="Carry it by hand or arrows; Delete puts it away"
          className="pointer-events-auto absolute inset-x-0 h-2 -translate-y-1/2 cursor-ns-resize touch-none outline-offset-0"
          style={{ top: `${100 - line}%` }}
          onPointerDown={(event) => {
            held.current = at;
            event.currentTarget.setPointerCapture(event.pointerId);
          }}
          onPointerMove={drag}
          onPointerUp={() => (held.current = null)}
          onPointerCancel={() => (held.current = null)}
          onKeyDown={(event) => key(event, at)}
        >
          <div className="absolute inset-x-0 top-1/2 border-t border-dotted border-paper/80" />
          <span
            className={`absolute left-0 bg-ink/80 px-1 text-xs ${line > 88 ? "top-2" : "-top-3.5"}`}
          >
            {line} %
            {sums && (
              <span className="text-quiet">, {(100 * over(sums, line)).toFixed(0)} over</span>
            )}
          </span>
        </div>
      ))}
    </div>
  );
}

/** Puts a fresh line of one's own over the waveform. */
export function AddLine() {
  const lines = usePreferences((p) => p.lines);
  const free = [FRESH, 40, 70, 50, 80, 30].find((line) => !lines.includes(line)) ?? FRESH;
  return (
    <Button
      look="bare"
      className="justify-self-start text-xs"
      disabled={lines.length >= MOST}
      onClick={() => kept([...lines, free])}
    >
      Add a line
    </Button>
  );
}
