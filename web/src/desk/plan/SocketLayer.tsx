import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Unit } from "../../app/api";
import { nudge } from "../units/gestures";
import { atSocket, cableOf } from "../work/feeding";
import { move, settle, useDesk } from "../store";
import type { Spot } from "../place/walls";
import { carriedBy } from "./arrows";
import type { PlanScale } from "./planScale";

/** Sockets of the circuits, to be carried by hand and by keys, and the way of a cable to one. */
export function SocketLayer({
  scale,
  unit,
  editable,
  place,
  hold,
}: {
  scale: PlanScale;
  /** The unit in hand, whose cable is drawn. */
  unit: Unit | undefined;
  editable: boolean;
  /** Where a pointer is on the floor. */
  place: (event: PointerEvent) => Spot;
  /** Told when a gesture begins and ends: the plan keeps still meanwhile. */
  hold: (held: boolean) => void;
}) {
  const circuits = useDesk((d) => d.draft!.circuits);
  const held = useRef<{ circuit: string; at: number } | null>(null);
  const put = (circuit: string, at: number, [x, y]: readonly number[]) =>
    move(atSocket(circuit, at, [Math.round(x! * 100) / 100, Math.round(y! * 100) / 100]));
  function drop() {
    const h = held.current;
    if (!h) return;
    held.current = null;
    hold(false);
    settle(`socket of ${circuits.find((c) => c.id === h.circuit)?.name} moved`);
  }
  function key(event: KeyboardEvent, circuit: string, at: number, [x, y]: readonly number[]) {
    const way = carriedBy(event);
    if (!way || !editable) return;
    const name = circuits.find((c) => c.id === circuit)?.name;
    nudge(() => put(circuit, at, [x! + way[0], y! + way[1]]), `socket of ${name} moved`);
    event.preventDefault();
    event.stopPropagation();
  }
  const cable = unit && cableOf(circuits, unit);
  return (
    <g>
      {cable && (
        <polyline
          points={cable.map((p) => scale.toScreen(p).join(",")).join(" ")}
          fill="none"
          strokeWidth="1.5"
          strokeDasharray="1 4"
          strokeLinecap="round"
          className="pointer-events-none stroke-paper/70"
          role="img"
          aria-label={`Cable of ${unit.name}`}
        />
      )}
      {circuits.flatMap((c) =>
        c.sockets.map((socket, at) => {
          const [x, y] = scale.toScreen(socket);
          return (
            <g
              key={`${c.id} ${at}`}
              transform={`translate(${x} ${y})`}
              className={editable ? "cursor-grab" : ""}
              role="button"
              tabIndex={0}
              aria-label={`Socket ${at + 1} of ${c.name}`}
              onKeyDown={(e) => key(e, c.id, at, socket)}
              onPointerDown={(e) => {
                e.stopPropagation();
                if (!editable) return;
                e.currentTarget.setPointerCapture(e.pointerId);
                held.current = { circuit: c.id, at };
                hold(true);
              }}
              onPointerMove={(e) => held.current && put(c.id, at, place(e))}
              onPointerUp={drop}
              onPointerCancel={drop}
            >
              <title>{`${c.name}, ${c.amperes} A`}</title>
              <circle r="10" className="fill-transparent" />
              <path d="M-5 -3.5h10v3a5 5 0 0 1 -10 0z" className="fill-ink stroke-quiet" />
              <path d="M-2 -6v2.5M2 -6v2.5" className="stroke-quiet" strokeWidth="1.5" />
            </g>
          );
        }),
      )}
    </g>
  );
}
