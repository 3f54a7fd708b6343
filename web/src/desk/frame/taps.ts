/** The mixed frame, handed on to whoever measures it. */
import type { Linear } from "../../parts/signal";

type Tap = (frame: Linear) => void;
const taps = new Set<Tap>();
let last: Linear | null = null;

/**
 * Hand every newly mixed frame to the instruments; they are gone when the function returned is
 * called.
 */
export function tap(listen: Tap) {
  taps.add(listen);
  if (last) listen(last);
  return () => void taps.delete(listen);
}

export function announce(frame: Linear) {
  last = frame;
  for (const listen of taps) listen(frame);
}
