import { Button } from "../../parts/Button";
import { usePreferences } from "../../app/preferences";
import { setDesk, useDesk } from "../store";
import { useLanding } from "./landing";

const WIDE = 1600,
  HIGH = 900;
type At = readonly [number, number] | null;

/** A closed line through what is seen; where something hides it, it is broken. */
export function ringPath(places: readonly At[]) {
  const shown = [...places, places[0] ?? null];
  return shown
    .map((p, k) => {
      if (!p) return "";
      const begins = k === 0 || !shown[k - 1];
      return `${begins ? "M" : "L"}${p[0].toFixed(1)} ${p[1].toFixed(1)}`;
    })
    .join("");
}

/** The outline of the chosen unit's beam, on the frame. */
export function LandingMarks() {
  useLanding();
  const landing = useDesk((d) => d.landing);
  if (!landing) return null;
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      preserveAspectRatio="none"
      className="pointer-events-none absolute inset-0 h-full w-full"
      role="img"
      aria-label="Where the beam lands, in the frame"
    >
      {landing.rings.map((ring, k) => (
        <path
          key={k}
          d={ringPath(ring.frame.map((p) => p && ([p[0]! * WIDE, p[1]! * HIGH] as const)))}
          className="fill-none stroke-lamp"
          strokeWidth={3}
          strokeDasharray={ring.mirrors ? "10 7" : undefined}
        />
      ))}
    </svg>
  );
}

/** Shows the outline, says what it lies on, and puts it elsewhere. */
export function LandingFields({ disabled, what }: { disabled: boolean; what: string }) {
  const shown = usePreferences((p) => p.landing);
  const landing = useDesk((d) => d.landing);
  const pointing = useDesk((d) => d.pointing === "patch");
  return (
    <div className="grid gap-1">
      <div className="grid grid-cols-2 gap-1.5">
        <Button
          pressed={shown}
          onClick={() => usePreferences.setState(({ landing: on }) => ({ landing: !on }))}
        >
          Where it lands
        </Button>
        <Button
          pressed={pointing}
          disabled={disabled}
          onClick={() => setDesk({ pointing: pointing ? false : "patch" })}
        >
          Put the patch…
        </Button>
      </div>
      {pointing && (
        <p role="status" className="text-xs text-lamp">
          Press on the frame or the plan where {what} is to throw it; Esc ends it.
        </p>
      )}
      {shown && landing && (
        <p role="status" aria-label="Landing" className="text-xs text-quiet">
          {landing.rings.length
            ? landing.rings
                .map((r) =>
                  r.mirrors
                    ? `by ${r.mirrors === 1 ? "a mirror" : "mirrors"} on ${r.on}`
                    : `on ${r.on}`,
                )
                .join("; ")
            : landing.beam > 100
              ? "A beam so wide lands everywhere."
              : "Nothing of the beam comes in."}
        </p>
      )}
    </div>
  );
}
