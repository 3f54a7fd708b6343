import type { PointerEvent } from "react";
import type { Figure, Point } from "../../app/api";
import { choosePerson } from "../store";
import { floorAxes } from "./polar";
import type { PlanScale } from "./planScale";

/** Turn on the screen of somebody whose chest faces `facing` [deg]. */
export function turnOf(facing: number, face: Point, lens: Point) {
  const { toward, right } = floorAxes(face, lens);
  const nose = [-Math.sin((facing * Math.PI) / 180), Math.cos((facing * Math.PI) / 180)] as const;
  const across = nose[0] * right[0] + nose[1] * right[1],
    along = nose[0] * toward[0] + nose[1] * toward[1];
  return (Math.atan2(along, across) * 180) / Math.PI - 90;
}

/** Somebody besides the subject, from above: a hollow head, its nose the way the chest faces. */
export function PersonGlyph({
  person,
  scale,
  face,
  lens,
  chosen,
  onPointerDown,
}: {
  person: Figure;
  scale: PlanScale;
  face: Point;
  lens: Point;
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
      <g transform={`rotate(${turnOf(person.facing, face, lens)})`}>
        <ellipse rx="16" ry="5" cy="-2" opacity=".6" />
        <circle r="7" />
        <path d="M-3.5 6.5h7L0 13z" />
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
