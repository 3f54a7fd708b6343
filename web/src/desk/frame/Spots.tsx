import type { KeyboardEvent, PointerEvent } from "react";
import { setDesk, useDesk } from "../store";

type Key = "A" | "B";
const clamp = (v: number) => Math.min(1, Math.max(0, v));

export function placeSpot(key: Key, at: [number, number] | null) {
  setDesk(({ spots }) => ({ spots: { ...spots, [key]: at } }) as never);
}

/** The spot meter's places over the frame: carried with the pointer, or with the arrow keys. */
export function Spots() {
  const spots = useDesk((d) => d.spots);
  function carry(key: Key, event: PointerEvent<HTMLButtonElement>) {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const box = event.currentTarget.parentElement!.getBoundingClientRect();
    placeSpot(key, [
      clamp((event.clientX - box.left) / box.width),
      clamp((event.clientY - box.top) / box.height),
    ]);
  }
  function nudge(key: Key, event: KeyboardEvent, [x, y]: [number, number]) {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[
      event.key
    ];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    const by = event.shiftKey ? 0.002 : 0.01;
    placeSpot(key, [clamp(x + way[0]! * by), clamp(y + way[1]! * by * (16 / 9))]);
  }
  return (["A", "B"] as const).map((key) => {
    const at = spots[key];
    return (
      at && (
        <button
          key={key}
          type="button"
          aria-label={`Spot ${key}`}
          className="absolute grid size-10 -translate-x-1/2 -translate-y-1/2 cursor-move touch-none place-items-center rounded-full"
          style={{ left: `${at[0] * 100}%`, top: `${at[1] * 100}%` }}
          onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
          onPointerMove={(e) => carry(key, e)}
          onKeyDown={(e) => nudge(key, e, at)}
        >
          <svg aria-hidden viewBox="0 0 24 24" className="size-6">
            <path
              d="M2 8V2h6M16 2h6v6M22 16v6h-6M8 22H2v-6"
              fill="none"
              stroke="#000"
              strokeWidth="4"
            />
            <path
              d="M2 8V2h6M16 2h6v6M22 16v6h-6M8 22H2v-6"
              fill="none"
              stroke="var(--color-lamp)"
              strokeWidth="2"
            />
            <text
              x="12"
              y="16"
              textAnchor="middle"
              fontSize="10"
              fill="var(--color-lamp)"
              stroke="#000"
              strokeWidth="2"
              paintOrder="stroke"
            >
              {key}
            </text>
          </svg>
        </button>
      )
    );
  });
}
