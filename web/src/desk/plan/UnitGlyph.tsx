import { arc } from "d3-shape";
import type { PointerEvent } from "react";
import type { Head, Unit } from "../../app/api";
import type { PlanScale } from "./planScale";
import { setDesk, useDesk } from "../store";

type Props = {
  unit: Unit;
  head: Head | undefined;
  beam: number | undefined;
  scale: PlanScale;
  chosen: boolean;
  /** Where its name stands. */
  name: { x: number; y: number; anchor: "start" | "middle" | "end" };
  onPointerDown: (e: PointerEvent<SVGGElement>) => void;
};

const wedge = arc<{ half: number }>()
  .innerRadius(8)
  .outerRadius(74)
  .startAngle((d) => -d.half)
  .endAngle((d) => d.half);

/** The glyph's hue: the unit's white as the camera will see it. */
function tint(colour: [number, number, number] | undefined) {
  if (!colour) return "#efece4";
  const top = Math.max(...colour);
  return `rgb(${colour.map((c) => Math.round(255 * Math.max(0.35, c / top) ** 0.6)).join(" ")})`;
}

/**
 * A unit from above: its lit face in true width, a dot for the head behind it, its beam when
 * chosen.
 */
export function UnitGlyph({ unit, head, beam, scale, chosen, name, onPointerDown }: Props) {
  const [x, y] = scale.toScreen(unit.position),
    [ax, ay] = scale.toScreen(unit.aim);
  const turn = (Math.atan2(ay - y, ax - x) * 180) / Math.PI + 90;
  const round = head?.shape === "bulb";
  const half = Math.max(4, ((head?.size[0] ?? 0.1) / 2) * scale.zoom);
  const hue = useDesk((d) => tint(d.mix?.colours[unit.id]));
  return (
    <g
      transform={`translate(${x} ${y})`}
      className="cursor-grab active:cursor-grabbing"
      opacity={unit.on ? 1 : 0.45}
      onPointerDown={onPointerDown}
      role="button"
      tabIndex={0}
      // By Tab it is chosen too, and the inspector keeps its page.
      onFocus={() => setDesk({ chosen: unit.id, also: [] })}
      aria-label={`${unit.name} on the plan`}
      data-unit={unit.id}
    >
      {chosen && unit.on && !round && (
        <path
          d={wedge({ half: ((Math.min(beam ?? 0, 160) / 2) * Math.PI) / 180 }) ?? ""}
          transform={`rotate(${turn})`}
          fill={hue}
          opacity=".1"
          pointerEvents="none"
        />
      )}
      <circle
        r="20"
        fill="transparent"
        stroke={chosen ? "var(--color-lamp)" : "none"}
        strokeWidth="1.5"
      />
      <g
        transform={`rotate(${turn})`}
        stroke={hue}
        strokeWidth="3"
        fill={hue}
        strokeLinecap="round"
      >
        {round ? (
          <circle r="5" />
        ) : (
          <>
            <line x1={-half} x2={half} />
            <line y2="9" strokeWidth="2" />
            <circle cy="11" r="2.5" />
          </>
        )}
        {!unit.on && <path d="M-7 -7L7 7" stroke="var(--color-fault)" strokeWidth="2" />}
      </g>
      <text
        y={name.y}
        x={name.x}
        textAnchor={name.anchor}
        className={`text-xs ${chosen ? "fill-lamp font-bold" : "fill-paper"}`}
      >
        {unit.name}
      </text>
    </g>
  );
}
