import { useState, type PointerEvent } from "react";
import { useLength } from "../../../app/preferences";
import { Button } from "../../../parts/Button";
import { NumberField } from "../../../parts/NumberField";
import { apart, type Scan } from "./scans";

type Spot = readonly [number, number];
const VIEWS = { above: "From above", front: "From the front", side: "From its left" } as const;
type View = keyof typeof VIEWS;

/** A model to look at, and two points of it, far apart by a known length: it gets its scale. */
export function Measured({ scan, scaleBy }: { scan: Scan; scaleBy: (scale: number) => void }) {
  const length = useLength();
  const [view, setView] = useState<View>("front"),
    [spots, setSpots] = useState<Spot[]>([]);
  const seen = scan.views[view]!;
  const far = spots.length === 2 ? apart(seen, spots[0]!, spots[1]!) : 0;
  const [known, setKnown] = useState(1);
  function press(event: PointerEvent<SVGSVGElement>) {
    const box = event.currentTarget.getBoundingClientRect();
    const at: Spot = [
      (event.clientX - box.left) / box.width,
      (event.clientY - box.top) / box.height,
    ];
    setSpots((s) => (s.length === 1 ? [s[0]!, at] : [at]));
  }
  const take = (metres: number) => {
    setKnown(metres);
    if (far > 0) scaleBy(metres / far);
  };
  const [wide, high] = fitted(seen);
  return (
    <div className="grid gap-2">
      <div className="flex gap-1" role="group" aria-label="Seen">
        {(Object.keys(VIEWS) as View[]).map((v) => (
          <Button
            key={v}
            pressed={view === v}
            onClick={() => {
              setView(v);
              setSpots([]);
            }}
          >
            {VIEWS[v]}
          </Button>
        ))}
      </div>
      <div className="grid h-72 place-items-center rounded border border-line bg-ink">
        <svg
          role="img"
          aria-label={`${scan.name}, ${VIEWS[view].toLowerCase()}`}
          viewBox={`0 0 ${wide} ${high}`}
          style={{ width: wide, height: high }}
          className="cursor-crosshair touch-none"
          onPointerDown={press}
        >
          <image href={`/api/scans/${scan.id}/${view}.png`} width={wide} height={high} />
          {spots.length === 2 && (
            <line
              {...{ x1: spots[0]![0] * wide, y1: spots[0]![1] * high }}
              {...{ x2: spots[1]![0] * wide, y2: spots[1]![1] * high }}
              className="stroke-lamp"
              strokeWidth="2"
              strokeDasharray="5 3"
            />
          )}
          {spots.map(([x, y], k) => (
            <circle
              key={k}
              cx={x * wide}
              cy={y * high}
              r="4.5"
              className="fill-lamp stroke-ink"
              strokeWidth="1.5"
            />
          ))}
        </svg>
      </div>
      <div className="grid grid-cols-[1fr_8rem] items-end gap-2">
        <p className="text-xs text-quiet" role="status" aria-label="Two points">
          {spots.length === 2
            ? "Say how far these two are apart, and the whole takes its size from that."
            : spots.length === 1
              ? "And the other point."
              : "True to scale? If not, press two points whose distance you know."}
        </p>
        <NumberField
          label="They are apart"
          unit={length.unit}
          digits={2}
          value={length.show(known)}
          step={0.1}
          min={0.01}
          max={600}
          disabled={spots.length < 2}
          onChange={(v) => take(length.take(v))}
        />
      </div>
    </div>
  );
}

/** Width and height of a picture as it fits its frame [px]. */
function fitted(view: { wide: number; high: number }): [number, number] {
  const by = Math.min(420 / view.wide, 270 / view.high);
  return [Math.round(view.wide * by), Math.round(view.high * by)];
}
