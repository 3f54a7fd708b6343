import type { KeyboardEvent } from "react";
import type { Spot } from "../place/walls";

/** How far a key carries what is on the floor, and finely, with shift [m]. */
const STEP = 0.1,
  FINE = 0.01;
const ARROWS: Record<string, Spot> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** The way that a key carries what is on the floor [m], east and north; nothing for other keys. */
export function carriedBy(event: KeyboardEvent): Spot | undefined {
  const way = ARROWS[event.key];
  const by = event.shiftKey ? FINE : STEP;
  return way && [way[0] * by, way[1] * by];
}
