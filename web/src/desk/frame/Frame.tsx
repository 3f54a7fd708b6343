import { useEffect, useRef, useState, type ReactNode } from "react";
import type { Constants } from "../../app/api";
import { Button } from "../../parts/Button";
import { Compare } from "../compare/Compare";
import { usePreferences } from "../../app/preferences";
import { useDesk, WORK } from "../store";
import { FrameBar } from "./FrameBar";
import { Guides } from "./Guides";
import { InstrumentRow, Instruments } from "./Instruments";
import { Painter } from "./painter";
import { Spots } from "./Spots";
import { Strip } from "./Strip";
import type { Piece } from "./strip";
import { useSweep } from "../sweep/sweep";
import { SweepRow } from "../sweep/SweepRow";
import { DayLine } from "../day/DayLine";

/**
 * The camera's frame: mixed here from the layers, with the meter's marks and `over` above it, and
 * `offers` in the bar below.
 */
export function Frame({
  constants,
  over,
  offers,
}: {
  constants: Constants;
  over?: ReactNode;
  offers?: ReactNode;
}) {
  const [width, height] = constants.full;
  const instruments = usePreferences((p) => p.instruments);
  const canvas = useRef<HTMLCanvasElement>(null);
  const setup = useDesk((d) => d.record!.id);
  const dark = useDesk((d) => !!d.mix && WORK in d.mix.levels);
  const [waiting, setWaiting] = useState<[number, number]>([0, 0]);
  const [pieces, setPieces] = useState<Piece[]>([]);
  const [comparing, setComparing] = useState(false);
  const strip = usePreferences((p) => p.parts);
  const sweeping = useSweep((s) => s.shown);
  const day = usePreferences((p) => p.day);
  const preview = useDesk((d) => d.preview?.title);
  const painter = useRef<Painter>(null);

  const { curve, octaves, grey } = constants;
  useEffect(() => {
    const painting = new Painter(
      canvas.current!,
      setup,
      { full: [width, height], curve, octaves, grey },
      { waiting: (left, of) => setWaiting([left, of]), pieces: setPieces },
    );
    painter.current = painting;
    return () => painting.close();
  }, [setup, width, height, curve, octaves, grey]);

  return (
    <>
      <div className="flex max-h-[56%] min-h-0 items-stretch">
        <div
          className="relative mx-auto aspect-video max-h-full min-h-0 min-w-0 self-start bg-black"
          style={{ width: "min(100%, calc((100vh - 48px) * 0.52 * 16 / 9))" }}
        >
          <canvas
            ref={canvas}
            width={width}
            height={height}
            role="img"
            aria-label="The camera's frame, lit"
            className="h-full w-full"
          />
          <Guides />
          <div className="pointer-events-none absolute inset-0 overflow-hidden">
            <Pins />
          </div>
          {instruments && <Spots />}
          {over}
          {dark && (
            <p
              role="status"
              className="absolute bottom-2 left-2 rounded bg-ink/80 px-2 py-1 text-xs text-paper"
            >
              By a work light, to frame by. No light is set yet: bring in a unit.
            </p>
          )}
          {preview && (
            <p
              role="status"
              className="absolute bottom-2 left-2 rounded bg-ink/80 px-2 py-1 text-xs text-lamp"
            >
              As if set for: {preview}
            </p>
          )}
          {waiting[0] > 0 && (
            <div className="late absolute right-1 bottom-2">
              <Button className="bg-ink/80 text-xs" onClick={() => painter.current?.giveUp()}>
                Stop rendering
              </Button>
            </div>
          )}
          {waiting[0] > 0 && (
            <div
              role="progressbar"
              aria-label="Rendering the frame"
              aria-valuemin={0}
              aria-valuemax={waiting[1]}
              aria-valuenow={waiting[1] - waiting[0]}
              className="absolute inset-x-0 bottom-0 h-1 bg-black/40"
            >
              <div
                className="h-full bg-lamp transition-[width]"
                style={{ width: `${(100 * (waiting[1] - waiting[0] + 0.15)) / waiting[1]}%` }}
              />
            </div>
          )}
        </div>
        {instruments && <Instruments constants={constants} />}
      </div>
      <FrameBar setup={setup} compare={() => setComparing(true)}>
        {offers}
      </FrameBar>
      {instruments && <InstrumentRow />}
      {strip && <Strip constants={constants} pieces={pieces} />}
      {sweeping && <SweepRow />}
      {day && <DayLine constants={constants} />}
      <Compare open={comparing} close={() => setComparing(false)} />
    </>
  );
}

const PINNED: Record<string, string> = {
  "key-side": "key side",
  "fill-shaded": "fill side, key shaded",
  backdrop: "light on the backdrop",
};

/** Where the meter reads, and how far from the camera's stop. */
function Pins() {
  const look = useDesk((d) => d.look);
  if (!look) return null;
  return look.readings.marks.map((mark) => {
    const at = look.pins[mark.id],
      name = PINNED[mark.id];
    if (
      !at ||
      !name ||
      mark.against_camera === null ||
      (mark.id === "key-side" && !look.readings.key)
    )
      return null;
    const other = look.pins[mark.id === "key-side" ? "fill-shaded" : "key-side"];
    const left = other ? at[0] > other[0] : at[0] > 0.5;
    // The backdrop's pin would sit behind the head: show it beside.
    const x = mark.id === "backdrop" ? 0.93 : at[0],
      y = mark.id === "backdrop" ? 0.08 : at[1];
    return (
      <div
        key={mark.id}
        aria-hidden
        className="pointer-events-none absolute text-xs text-paper"
        style={{ left: `${x * 100}%`, top: `${y * 100}%` }}
      >
        {mark.id !== "backdrop" && (
          <span className="absolute -top-1 -left-1 size-2 rounded-full border border-paper/90 outline outline-ink/60" />
        )}
        <span
          className={`absolute -top-2 rounded bg-ink/65 px-1 whitespace-nowrap ${mark.id === "backdrop" ? "right-0" : left ? "left-16" : "right-16"}`}
        >
          {name} <b>{mark.against_words}</b>
        </span>
      </div>
    );
  });
}
