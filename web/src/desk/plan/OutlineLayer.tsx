import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Document } from "../../app/api";
import { carryCorner, carryWall, dropCorner } from "../place/outline";
import { cornersOf, wallsOf, type Spot } from "../place/walls";
import { nudge } from "../units/gestures";
import { chooseWall, settle, useDesk } from "../store";
import { carriedBy } from "./arrows";
import type { PlanScale } from "./planScale";

type Hold = { k: number; wall: boolean; corners: Spot[]; from: Spot };

/** The outline in the hand: corners and walls that can be carried, by pointer and by keys. */
export function OutlineLayer({
  room,
  scale,
  place,
  hold,
}: {
  room: Document["room"];
  scale: PlanScale;
  /** Where a pointer is on the floor. */
  place: (event: PointerEvent) => Spot;
  /** Told when a gesture begins and ends: the plan keeps still meanwhile. */
  hold: (held: boolean) => void;
}) {
  const chosen = useDesk((d) => d.chosenWall);
  const held = useRef<Hold | null>(null);
  const corners = cornersOf(room),
    walls = wallsOf(room);
  function grab(event: PointerEvent<SVGElement>, k: number, wall: boolean) {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    if (wall) chooseWall(k);
    held.current = { k, wall, corners: cornersOf(room), from: place(event) };
    hold(true);
  }
  function drag(event: PointerEvent) {
    const h = held.current;
    if (!h) return;
    const [x, y] = place(event);
    if (!h.wall) return carryCorner(h.k, [x, y], event.altKey);
    const { inward } = wallsAt(h.corners, h.k);
    const by = (x - h.from[0]) * inward[0] + (y - h.from[1]) * inward[1];
    carryWall(h.k, h.corners, by, event.altKey);
  }
  function drop() {
    const h = held.current;
    if (!h) return;
    held.current = null;
    hold(false);
    settle(h.wall ? `wall ${h.k + 1} moved` : `corner ${h.k + 1} moved`);
  }
  function cornerKey(event: KeyboardEvent, k: number) {
    const way = carriedBy(event);
    if (event.key === "Delete") dropCorner(k);
    else if (way) {
      const [x, y] = corners[k]!;
      nudge(() => carryCorner(k, [x + way[0], y + way[1]], true), `corner ${k + 1} moved`);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
  function wallKey(event: KeyboardEvent, k: number) {
    const way = carriedBy(event);
    if (event.key === "Enter" || event.key === " ") chooseWall(k);
    else if (way) {
      const { inward } = walls[k]!,
        by = way[0] * inward[0] + way[1] * inward[1];
      nudge(() => carryWall(k, corners, by, true), `wall ${k + 1} moved`);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
  const hands = { onPointerMove: drag, onPointerUp: drop, onPointerCancel: drop };
  return (
    <g>
      {walls.map((wall) => {
        const [a, b] = [scale.toScreen(wall.from), scale.toScreen(wall.to)];
        const [x1, y1, x2, y2] = [...a, ...b];
        return (
          <g
            key={wall.at}
            {...hands}
            onPointerDown={(e) => grab(e, wall.at, true)}
            onKeyDown={(e) => wallKey(e, wall.at)}
            role="button"
            tabIndex={0}
            aria-label={`Wall ${wall.at + 1} on the plan`}
            className="cursor-move outline-none [&:focus-visible>line]:stroke-lamp"
          >
            <line {...{ x1, y1, x2, y2 }} stroke="transparent" strokeWidth={18} />
            <line
              {...{ x1, y1, x2, y2 }}
              className={chosen === wall.at ? "stroke-lamp" : "stroke-paper/60"}
              strokeWidth={chosen === wall.at ? 4 : 2.5}
            />
          </g>
        );
      })}
      {corners.map((corner, k) => {
        const [x, y] = scale.toScreen(corner);
        return (
          <g
            key={k}
            {...hands}
            transform={`translate(${x} ${y})`}
            onPointerDown={(e) => grab(e, k, false)}
            onKeyDown={(e) => cornerKey(e, k)}
            role="button"
            tabIndex={0}
            aria-label={`Corner ${k + 1} on the plan`}
            className="cursor-move fill-ink stroke-paper outline-none focus-visible:stroke-lamp"
          >
            <circle r={18} fill="transparent" stroke="none" />
            <path d="M0 -6L6 0L0 6L-6 0Z" strokeWidth={1.5} />
          </g>
        );
      })}
    </g>
  );
}

/** The wall of given corners, before it was moved. */
function wallsAt(corners: Spot[], k: number) {
  const [a, b] = [corners[k]!, corners[(k + 1) % corners.length]!],
    length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  return { inward: [-(b[1] - a[1]) / length, (b[0] - a[0]) / length] as Spot };
}
