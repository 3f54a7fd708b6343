import { scaleLinear } from "d3-scale";
import { useRef, useState, type PointerEvent } from "react";
import type { Unit } from "../../app/api";
import { spread } from "./names";
import { setHeight } from "../units/gestures";
import { usePreferences } from "../../app/preferences";
import { choose, mayEdit, settle, useDesk } from "../store";

/** Heights above the floor, floor to ceiling; dots are dragged up and down. */
export function HeightStrip({ width, height }: { width: number; height: number }) {
  const draft = useDesk((d) => d.draft!);
  const eyes = useDesk((d) => d.look?.anchor[2]);
  const chosen = useDesk((d) => d.chosen);
  const editable = useDesk(mayEdit);
  const feet = usePreferences((p) => p.length === "ft");
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<string | null>(null);
  const top = draft.room.height;
  const y = scaleLinear([0, top], [height - 16, 16]);
  const one = feet ? 0.3048 : 1;
  const ticks = Array.from(
    { length: Math.floor(top / one / (feet ? 2 : 0.5)) + 1 },
    (_, k) => k * (feet ? 2 : 0.5),
  );
  const labels = spread(
    draft.units.map((u) => ({ unit: u, y: y(u.position[2]) })),
    14,
    12,
    height - 8,
  );
  const axis = 34;

  function grab(event: PointerEvent<SVGGElement>, unit: Unit) {
    choose(unit.id);
    if (!editable) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setHeld(unit.id);
  }
  function drag(event: PointerEvent) {
    if (!held) return;
    const box = svg.current!.getBoundingClientRect();
    setHeight(held, Math.min(top - 0.05, Math.max(0.1, y.invert(event.clientY - box.top))));
  }
  function drop() {
    if (!held) return;
    settle(`${draft.units.find((u) => u.id === held)?.name ?? "unit"} height`);
    setHeld(null);
  }
  return (
    <svg
      ref={svg}
      width={width}
      height={height}
      className="shrink-0 touch-none select-none"
      role="group"
      aria-label="Heights above the floor"
      onPointerMove={drag}
      onPointerUp={drop}
      onPointerCancel={drop}
    >
      <g aria-hidden>
        <line x1={axis} x2={axis} y1={y(0)} y2={y(top)} className="stroke-line" />
        {ticks.map((t) => (
          <g key={t} transform={`translate(0 ${y(t * one)})`}>
            <line x1={axis - 4} x2={axis + 4} className="stroke-quiet" />
            {t % (feet ? 2 : 1) === 0 && (
              <text x={axis - 8} y={3.5} textAnchor="end" className="fill-quiet text-[10px]">
                {t} {feet ? "ft" : "m"}
              </text>
            )}
          </g>
        ))}
        {eyes !== undefined && (
          <g transform={`translate(0 ${y(eyes)})`}>
            <line x1={axis - 10} x2={width - 6} className="stroke-quiet" strokeDasharray="1 4" />
            <text x={width - 6} y={-3} textAnchor="end" className="fill-quiet text-[10px]">
              eyes
            </text>
          </g>
        )}
      </g>
      {labels.map(({ unit, y: at, shown }) => (
        <g
          key={unit.id}
          className="cursor-ns-resize"
          opacity={unit.on ? 1 : 0.45}
          onPointerDown={(e) => grab(e, unit)}
          role="button"
          aria-label={`${unit.name} height`}
        >
          <rect x={axis - 20} y={at - 20} width={40} height={40} fill="transparent" />
          <line
            x1={axis + 6}
            x2={axis + 18}
            y1={at}
            y2={shown}
            className="stroke-line"
            pointerEvents="none"
          />
          <circle
            cx={axis}
            cy={at}
            r={unit.id === chosen ? 6 : 4}
            className={unit.id === chosen ? "fill-lamp" : "fill-paper"}
          />
          <text
            x={axis + 21}
            y={shown + 4}
            className={`text-xs ${unit.id === chosen ? "fill-lamp font-bold" : "fill-paper"}`}
          >
            {unit.name}
          </text>
        </g>
      ))}
    </svg>
  );
}
