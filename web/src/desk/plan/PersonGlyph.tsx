import type { PointerEvent } from "react";
import type { Figure } from "../../app/api";
import { choosePerson } from "../store";
import { turnOn, type PlanScale } from "./planScale";

/** Somebody besides the subject, from above: a hollow head, its nose the way the chest faces. */
export function PersonGlyph({
  person,
  scale,
  chosen,
  onPointerDown,
}: {
  person: Figure;
  scale: PlanScale;
  chosen: boolean;
  onPointerDown: (e: PointerEvent<SVGGElement>) => void;
}) {
  const [x, y] = scale.toScreen(person.position);
  return (
    <g
      transform={`translate(${x} ${y})`}
      className={`cursor-grab fill-ink active:cursor-grabbing ${chosen ? "stroke-lamp" : "stroke-paper"}`}
      strokeWidth="1.5"
      role="button"
      tabIndex={0}
      aria-label={`${person.name} on the plan`}
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") choosePerson(person.id);
      }}
      onPointerDown={onPointerDown}
    >
      <circle r="20" fill="transparent" stroke="none" />
      <g transform={`rotate(${turnOn(scale, person.facing)})`}>
        <ellipse rx="16" ry="5" cy="-2" opacity=".6" />
        <g transform={`rotate(${-person.head_turn})`}>
          <circle r="7" />
          <path d="M-3.5 6.5h7L0 13z" />
        </g>
      </g>
      {chosen && (
        <text
          y={26}
          textAnchor="middle"
          className="pointer-events-none fill-lamp stroke-none text-xs font-bold"
        >
          {person.name}
        </text>
      )}
    </g>
  );
}
