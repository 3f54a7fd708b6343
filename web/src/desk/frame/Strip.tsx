import { useEffect, useRef } from "react";
import type { Constants } from "../../app/api";
import { Choice } from "../../parts/Choice";
import { usePreferences } from "../../app/preferences";
import type { StripMode } from "../../app/preferences";
import { adds, developSmall, frameOfStrip, SMALL, type Piece } from "./strip";
import { useDesk, SKY } from "../store";

const MODES: { value: StripMode; label: string }[] = [
  { value: "alone", label: "each alone" },
  { value: "sum", label: "as it is built" },
  { value: "without", label: "all but this" },
  { value: "adds", label: "what it adds, stops" },
];
const NAMES: Record<string, string> = { "@sky": "Sky", "@sun": "Sun" };

/** Small frames under the big one, one a source, in the order they were brought in. */
export function Strip({ constants, pieces }: { constants: Constants; pieces: Piece[] }) {
  const mode = usePreferences((p) => p.strip);
  const units = useDesk((d) => d.draft!.units);
  return (
    <div
      role="group"
      aria-label="Each light's part"
      className="flex shrink-0 items-end gap-2 overflow-x-auto border-y border-line px-2 py-1"
    >
      <div className="w-36 shrink-0">
        <Choice
          label="Each light's part"
          value={mode}
          options={MODES}
          onChange={(strip) => usePreferences.setState({ strip })}
        />
      </div>
      {pieces.map((piece, at) => (
        <Thumb
          key={piece.id}
          constants={constants}
          pieces={pieces}
          at={at}
          mode={mode}
          name={`${mode === "sum" && at > 0 ? "+ " : ""}${units.find((u) => u.id === piece.id)?.name ?? (SKY.includes(piece.id) ? NAMES[piece.id]! : piece.id)}`}
        />
      ))}
      {pieces.length === 0 && <p className="text-xs text-quiet">No light yet.</p>}
    </div>
  );
}

function Thumb({
  constants,
  pieces,
  at,
  mode,
  name,
}: {
  constants: Constants;
  pieces: Piece[];
  at: number;
  mode: StripMode;
  name: string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current!.getContext("2d")!;
    const image = context.createImageData(...SMALL),
      pixels = new Uint32Array(image.data.buffer);
    if (mode === "adds") {
      // From the dark of the house to its lamp colour: a full lamp is four stops and more.
      adds(pieces, at).forEach((part, p) => {
        pixels[p] =
          0xff000000 |
          (Math.round(24 + 52 * part) << 16) |
          (Math.round(19 + 157 * part) << 8) |
          Math.round(18 + 222 * part);
      });
    } else
      developSmall(
        frameOfStrip(pieces, at, mode),
        Uint8Array.from(constants.curve),
        constants.octaves,
        pixels,
      );
    context.putImageData(image, 0, 0);
  }, [constants, pieces, at, mode]);
  return (
    <figure className="w-24 shrink-0">
      <canvas
        ref={canvas}
        width={SMALL[0]}
        height={SMALL[1]}
        role="img"
        aria-label={`${name}, ${MODES.find((m) => m.value === mode)!.label}`}
        className="h-[54px] w-24 bg-black"
      />
      <figcaption className="truncate text-xs text-quiet">{name}</figcaption>
    </figure>
  );
}
