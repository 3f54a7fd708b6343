import { useEffect, useState } from "react";
import { Button } from "../parts/Button";
import type { Held } from "./Against";

const WAYS = ["beside", "wipe", "over", "in turn"] as const;
const NAMES = { beside: "Side by side", wipe: "Wiped", over: "Laid over", "in turn": "In turn" };
/** How long each picture stands when they are shown in turn [ms]. */
const TURN = 900;

/** A still and a frame, held against each other; both zoom together. */
export function Pair({
  still,
  other,
  aspect,
  close,
}: {
  still: string;
  other: Held;
  aspect: number;
  close: () => void;
}) {
  const [way, setWay] = useState<(typeof WAYS)[number]>("beside"),
    [part, setPart] = useState(50),
    [zoom, setZoom] = useState(1),
    [second, setSecond] = useState(false);
  useEffect(() => {
    if (way !== "in turn") return;
    const turn = setInterval(() => setSecond((s) => !s), TURN);
    return () => clearInterval(turn);
  }, [way]);
  const box = { aspectRatio: String(1 / aspect) };
  const theirs = (
    <img
      src={other.picture}
      alt={other.title}
      className="absolute inset-0 size-full object-contain"
    />
  );
  const ours = (
    <img src={still} alt="The still" className="absolute inset-0 size-full object-contain" />
  );
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div
        role="group"
        aria-label="How they are held"
        className="flex h-11 shrink-0 items-center gap-1 border-b border-line px-2"
      >
        {WAYS.map((w) => (
          <Button key={w} look="bare" pressed={way === w} onClick={() => setWay(w)}>
            {NAMES[w]}
          </Button>
        ))}
        <span className="flex-1" />
        {[1, 2, 4].map((z) => (
          <Button key={z} look="bare" pressed={zoom === z} onClick={() => setZoom(z)}>
            {z}×
          </Button>
        ))}
        <Button look="bare" onClick={close}>
          Back to the marks
        </Button>
      </div>
      <div className="min-h-0 flex-1 overflow-auto bg-black">
        <div style={{ width: `${100 * zoom}%` }}>
          {way === "beside" ? (
            <div className="grid grid-cols-2 gap-1">
              <figure>
                <div className="relative" style={box}>
                  {ours}
                </div>
                <figcaption className="p-1 text-xs text-quiet">the still</figcaption>
              </figure>
              <figure>
                <div className="relative" style={box}>
                  {theirs}
                </div>
                <figcaption className="p-1 text-xs text-quiet">{other.title}</figcaption>
              </figure>
            </div>
          ) : (
            <div className="relative" style={box}>
              {ours}
              <div
                className="absolute inset-0"
                style={
                  way === "wipe"
                    ? { clipPath: `inset(0 0 0 ${part}%)` }
                    : { opacity: way === "over" ? part / 100 : second ? 1 : 0 }
                }
              >
                {theirs}
              </div>
            </div>
          )}
        </div>
      </div>
      {(way === "wipe" || way === "over") && (
        <input
          type="range"
          aria-label={way === "wipe" ? "Where it is wiped" : "How much of the frame"}
          min={0}
          max={100}
          value={part}
          onChange={(e) => setPart(Number(e.target.value))}
          className="m-2 accent-lamp"
        />
      )}
    </div>
  );
}
