import { useState } from "react";
import { Picture } from "../../parts/Picture";

export type Mode = "beside" | "wipe";

/** Two pictures beside each other, or one over the other with an edge to push. */
export function Pictures({
  mode,
  here,
  own,
  there,
  name,
}: {
  mode: Mode;
  here: string;
  own: string;
  there: string;
  name: string;
}) {
  const [edge, setEdge] = useState(50);
  if (mode === "beside") {
    return (
      <div className="grid grid-cols-2 gap-2">
        <figure>
          <img src={here} alt="This frame" className="aspect-video w-full bg-black" />
          <figcaption className="text-xs text-quiet">{own}</figcaption>
        </figure>
        <figure>
          <Picture key={there} src={there} alt={name} className="aspect-video w-full" />
          <figcaption className="text-xs text-quiet">{name}</figcaption>
        </figure>
      </div>
    );
  }
  return (
    <div className="mx-auto grid w-full max-w-[640px] gap-1">
      <div className="relative aspect-video bg-black">
        <Picture key={there} src={there} alt={name} className="size-full" />
        <img
          src={here}
          alt="This frame"
          className="absolute inset-0 size-full"
          style={{ clipPath: `inset(0 ${100 - edge}% 0 0)` }}
        />
        <div
          aria-hidden
          className="absolute inset-y-0 w-0.5 -translate-x-1/2 bg-lamp"
          style={{ left: `${edge}%` }}
        />
      </div>
      <input
        type="range"
        aria-label="Edge of the wipe"
        min={0}
        max={100}
        value={edge}
        onChange={(e) => setEdge(Number(e.target.value))}
        className="w-full accent-lamp"
      />
      <p className="flex justify-between text-xs text-quiet">
        <span>{own}</span>
        <span>{name}</span>
      </p>
    </div>
  );
}
