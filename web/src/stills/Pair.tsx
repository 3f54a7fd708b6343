import { useEffect, useState } from "react";
import { useConstants } from "../app/constants";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import type { Held } from "./Against";
import { Banded, Scope, useMonitor } from "./Scopes";

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
    [second, setSecond] = useState(false),
    [bands, setBands] = useState(false),
    [scopes, setScopes] = useState<"none" | "luma" | "rgb">("none");
  const constants = useConstants().data,
    facts = useMonitor();
  useEffect(() => {
    if (way !== "in turn") return;
    const turn = setInterval(() => setSecond((s) => !s), TURN);
    return () => clearInterval(turn);
  }, [way]);
  const box = { aspectRatio: String(1 / aspect) };
  const shown = (src: string, name: string) =>
    bands && constants && facts ? (
      <Banded src={src} name={name} constants={constants} facts={facts} />
    ) : (
      <img src={src} alt={name} className="absolute inset-0 size-full object-contain" />
    );
  const theirs = shown(other.picture, other.title),
    ours = shown(still, "The still");
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
        <Button look="bare" pressed={bands} onClick={() => setBands(!bands)}>
          Bands of stops
        </Button>
        <Choice
          label="Traces of both"
          hideLabel
          value={scopes}
          options={[
            { value: "none", label: "no traces" },
            { value: "luma", label: "luma of both" },
            { value: "rgb", label: "channels of both" },
          ]}
          onChange={setScopes}
        />
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
      {scopes !== "none" && constants && facts && (
        <div className="grid grid-cols-2 gap-1 border-t border-line p-1">
          {[
            [still, "the still"],
            [other.picture, other.title],
          ].map(([src, name]) => (
            <Scope
              key={name}
              src={src!}
              name={name!}
              constants={constants}
              facts={facts}
              mode={scopes}
            />
          ))}
          <p className="col-span-2 px-1 text-xs text-quiet">
            Both as the monitor shows them: a still's own curve is undone first where it is known.
          </p>
        </div>
      )}
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
