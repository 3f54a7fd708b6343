import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { api, got, type Camera, type CameraFacts, type Constants } from "../app/api";
import { drawTrace, paintBands, palette, undone, waveform, type Linear } from "../parts/signal";

/** Pictures are measured so wide [px]: as fine as a trace can show. */
const WIDTH = 512;
const COLUMNS = 256,
  ROWS = 128;

/** Both pictures are codes of the monitor's curve here, whatever camera or file they came from. */
const MONITOR = {
  id: "m",
  name: "Monitor",
  position: [0, 0, 0],
  aim: [0, 1, 0],
} as unknown as Camera;

export function useMonitor() {
  return useQuery({
    queryKey: ["monitor"],
    staleTime: Infinity,
    queryFn: () =>
      got<CameraFacts>(api.POST("/api/camera/facts", { body: { camera: MONITOR, distance: 2 } })),
  }).data;
}

type Measured = { rgba: Uint8ClampedArray; size: [number, number]; frame: Linear };

/** A picture's codes and its signal, once it has come. */
function useMeasured(src: string, constants: Constants): Measured | null {
  const [found, setFound] = useState<Measured | null>(null);
  useEffect(() => {
    const image = new Image();
    let gone = false;
    image.onload = () => {
      if (gone) return;
      const size: [number, number] = [
        WIDTH,
        Math.max(1, Math.round((WIDTH * image.naturalHeight) / image.naturalWidth)),
      ];
      const canvas = document.createElement("canvas");
      [canvas.width, canvas.height] = size;
      const context = canvas.getContext("2d", { willReadFrequently: true })!;
      context.drawImage(image, 0, 0, ...size);
      const { data } = context.getImageData(0, 0, ...size);
      setFound({
        rgba: data,
        size,
        frame: undone(data, size, constants.curve, constants.octaves),
      });
    };
    image.src = src;
    return () => {
      gone = true;
      setFound(null);
    };
  }, [src, constants]);
  return found;
}

type Props = { src: string; name: string; constants: Constants; facts: CameraFacts };

/** The waveform of a picture as the monitor shows it. */
export function Scope({ src, name, constants, facts, mode }: Props & { mode: "luma" | "rgb" }) {
  const measured = useMeasured(src, constants),
    canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context || !measured) return;
    const table = Uint16Array.from(facts.table);
    drawTrace(context, waveform(measured.frame, table, constants.octaves, mode, COLUMNS, ROWS));
  }, [measured, constants, facts, mode]);
  return (
    <div className="relative">
      <canvas
        ref={canvas}
        width={COLUMNS}
        height={ROWS}
        role="img"
        aria-label={`Waveform of ${name}`}
        aria-busy={!measured}
        className="h-[128px] w-full bg-black"
      />
      <span
        aria-hidden
        className="pointer-events-none absolute inset-x-0 border-t border-lamp/60 text-right text-xs text-lamp"
        style={{ top: `${(1 - facts.grey) * 100}%` }}
      >
        grey {(100 * facts.grey).toFixed(0)} %
      </span>
    </div>
  );
}

/** A picture painted by its bands of stops about middle grey, over itself. */
export function Banded({ src, name, constants, facts }: Props) {
  const measured = useMeasured(src, constants),
    canvas = useRef<HTMLCanvasElement>(null);
  const colours = useMemo(
    () => palette(facts.bands, constants.octaves, constants.curve, constants.grey),
    [facts, constants],
  );
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context || !measured) return;
    const painted = new Uint8ClampedArray(measured.rgba);
    paintBands(painted, measured.frame, colours, constants.octaves);
    context.putImageData(new ImageData(painted, ...measured.size), 0, 0);
  }, [measured, constants, colours]);
  const [width, height] = measured?.size ?? [16, 9];
  return (
    <canvas
      ref={canvas}
      width={width}
      height={height}
      role="img"
      aria-label={`Bands of stops of ${name}`}
      aria-busy={!measured}
      className="absolute inset-0 size-full object-contain"
    />
  );
}
