import { useEffect, useRef, useState } from "react";
import type { Constants, CameraFacts } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { usePreferences } from "../../app/preferences";
import {
  drawTrace,
  histogram,
  indexOf,
  lost,
  spot,
  waveform,
  type Linear,
} from "../../parts/signal";
import { tap } from "./taps";
import { AddLine, WaveLines } from "./WaveLines";
import { placeSpot } from "./Spots";
import { readDesk, useDesk } from "../store";

const PICTURES = [
  { value: "monitor", label: "on the monitor" },
  { value: "recorded", label: "as recorded" },
  { value: "bands", label: "bands of stops" },
] as const;
const TRACES = [
  { value: "luma", label: "Luma" },
  { value: "rgb", label: "Three channels" },
] as const;
const COLUMNS = 256,
  ROWS = 128;
const signed = (stops: number) => `${stops < 0 ? "−" : "+"}${Math.abs(stops).toFixed(1)}`;

type Measured = {
  high: number;
  low: number;
  sums: Uint32Array;
  spots: Record<"A" | "B", { code: number; stops: number; nits: number; luminance: number } | null>;
};

/** Beside the frame: waveform, histogram, what is lost, spots; drawn anew with every frame. */
export function Instruments({ constants }: { constants: Constants }) {
  const facts = useDesk((d) => d.cameraFacts);
  const trace = usePreferences((p) => p.trace);
  return (
    <section
      aria-label="Instruments"
      className="grid w-[236px] shrink-0 content-start gap-1.5 overflow-y-auto border-l border-line p-2 min-[1200px]:w-[264px]"
    >
      {facts ? (
        <Traces constants={constants} facts={facts} mode={trace} />
      ) : (
        <p className="text-xs text-quiet">Working out the camera's curve…</p>
      )}
    </section>
  );
}

/** Under the frame: what it shows, and the bands' legend. */
export function InstrumentRow() {
  const facts = useDesk((d) => d.cameraFacts);
  const spots = useDesk((d) => d.spots);
  const { picture, grain, trace } = usePreferences();
  return (
    <div
      role="group"
      aria-label="Picture and spots"
      className="grid gap-1.5 border-y border-line px-2 py-1"
    >
      <div className="grid grid-cols-[1fr_1fr_auto_auto_auto] items-end gap-1.5">
        <Choice
          label="Picture"
          value={picture}
          options={[...PICTURES]}
          onChange={(v) => usePreferences.setState({ picture: v })}
        />
        <Choice
          label="Trace"
          value={trace}
          options={[...TRACES]}
          onChange={(v) => usePreferences.setState({ trace: v })}
        />
        <Button
          look="bare"
          aria-pressed={grain}
          className={grain ? "text-lamp" : ""}
          onClick={() => usePreferences.setState({ grain: !grain })}
        >
          {grain ? "Noise drawn" : "Draw noise"}
        </Button>
        {(["A", "B"] as const).map((key) => (
          <Button
            key={key}
            look="bare"
            onClick={() => placeSpot(key, spots[key] ? null : [key === "A" ? 0.48 : 0.8, 0.4])}
          >
            {spots[key] ? `Spot ${key} away` : `Set spot ${key}`}
          </Button>
        ))}
      </div>
      {facts && picture === "bands" && <Legend facts={facts} />}
    </div>
  );
}

function Traces({
  constants,
  facts,
  mode,
}: {
  constants: Constants;
  facts: CameraFacts;
  mode: "luma" | "rgb";
}) {
  const wave = useRef<HTMLCanvasElement>(null),
    bars = useRef<HTMLCanvasElement>(null);
  const [measured, setMeasured] = useState<Measured | null>(null);
  const spots = useDesk((d) => d.spots);
  useEffect(() => {
    const table = Uint16Array.from(facts.table),
      { octaves, grey } = constants;
    const clip = grey * 2 ** facts.over,
      floor = grey * 2 ** -facts.under;
    const context = wave.current!.getContext("2d")!,
      plot = bars.current!.getContext("2d")!;
    function read(frame: Linear, key: "A" | "B") {
      const at = readDesk().spots[key],
        exposure = readDesk().mix?.exposure;
      if (!at || !exposure) return null;
      const { luminance } = spot(frame, at);
      return {
        code: table[indexOf(luminance, octaves)]! / 65535,
        stops: Math.log2(Math.max(luminance, 1e-9) / grey),
        nits: luminance / exposure,
        luminance,
      };
    }
    return tap((frame) => {
      const made = waveform(frame, table, octaves, mode, COLUMNS, ROWS);
      drawTrace(context, made);
      const sums = histogram(made),
        most = Math.sqrt(Math.max(...sums, 1));
      plot.clearRect(0, 0, COLUMNS, 40);
      plot.fillStyle = "#a9aab1";
      sums.forEach((n, k) => {
        const tall = 40 * (Math.sqrt(n) / most);
        plot.fillRect((k * COLUMNS) / ROWS, 40 - tall, COLUMNS / ROWS, tall);
      });
      setMeasured({
        ...lost(frame, clip, floor),
        sums,
        spots: { A: read(frame, "A"), B: read(frame, "B") },
      });
      performance.mark("instruments-drawn");
    });
  }, [constants, facts, mode, spots]);
  const lines: [number, string][] = [
    [facts.grey, "grey"],
    [1, "clip"],
  ];
  const part = (v: number) =>
    v < 0.0005 ? "0" : v < 0.01 ? (v * 100).toFixed(1) : (v * 100).toFixed(0);
  const both =
    measured?.spots.A && measured.spots.B
      ? measured.spots.A.luminance / measured.spots.B.luminance
      : null;
  return (
    <>
      <div className="relative">
        <canvas
          ref={wave}
          width={COLUMNS}
          height={ROWS}
          role="img"
          aria-label={`Waveform, ${facts.curve}`}
          className="h-[128px] w-full bg-black"
        />
        {lines.map(([at, name]) => (
          <div
            key={name}
            aria-hidden
            className="pointer-events-none absolute inset-x-0 border-t border-lamp/60"
            style={{ top: `${(1 - at) * 100}%` }}
          >
            <span
              className={`absolute right-0 bg-ink/80 px-1 text-xs text-lamp ${name === "clip" ? "top-0" : "-top-4"}`}
            >
              {name} {(at * 100).toFixed(0)} %
            </span>
          </div>
        ))}
        <WaveLines sums={measured?.sums ?? null} />
      </div>
      <AddLine />
      <canvas
        ref={bars}
        width={COLUMNS}
        height={40}
        role="img"
        aria-label="Histogram"
        className="h-8 w-full bg-black"
      />
      <p className="text-xs text-quiet">
        {facts.curve}: {facts.over.toFixed(1)} stops over grey, {facts.under.toFixed(1)} under to
        the noise.
      </p>
      {measured && (
        <p role="status" aria-label="Lost" className="text-xs">
          <span className={measured.high > 0.001 ? "text-fault" : "text-quiet"}>
            clipped {part(measured.high)} %
          </span>
          <span className="text-quiet"> · </span>
          <span className={measured.low > 0.05 ? "text-fault" : "text-quiet"}>
            in the noise {part(measured.low)} %
          </span>
        </p>
      )}
      <div role="group" aria-label="Spots" className="grid gap-0.5 text-xs">
        {(["A", "B"] as const).map((key) => {
          const seen = measured?.spots[key];
          return (
            seen && (
              <p key={key}>
                {key} <b className="text-sm">{(seen.code * 100).toFixed(0)} %</b>{" "}
                {signed(seen.stops)} st ·{" "}
                {seen.nits < 10 ? seen.nits.toFixed(2) : seen.nits.toFixed(0)} cd/m²
              </p>
            )
          );
        })}
        {both !== null && <Against a={measured!.spots.A!} b={measured!.spots.B!} />}
      </div>
    </>
  );
}

/**
 * Two spots against each other: as light, and as people divide percentages; with the reason they
 * differ.
 */
function Against({
  a,
  b,
}: {
  a: { code: number; luminance: number };
  b: { code: number; luminance: number };
}) {
  const ratio = (v: number) => (v >= 1 ? `${v.toFixed(1)}:1` : `1:${(1 / v).toFixed(1)}`);
  return (
    <p className="text-quiet">
      A to B: <b className="text-paper">{ratio(a.luminance / Math.max(b.luminance, 1e-9))}</b> of
      light, {signed(Math.log2(a.luminance / Math.max(b.luminance, 1e-9)))} stops. Percent over
      percent says {ratio(a.code / Math.max(b.code, 1e-6))}: the curve bends it.
    </p>
  );
}

function Legend({ facts }: { facts: CameraFacts }) {
  const edges = usePreferences((p) => p.edges);
  const [open, setOpen] = useState(false);
  const moved = Object.keys(edges).length > 0;
  const bands = facts.bands.filter((b) => b.colour);
  return (
    <div className="grid gap-1" role="group" aria-label="Bands">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-0.5 text-xs">
        {bands.map((band) => (
          <span key={band.key} className="flex items-center gap-1 whitespace-nowrap">
            <span
              aria-hidden
              className="size-3.5 rounded-sm border border-line"
              style={{ background: swatch(band) }}
            />
            {band.name}
            {band.low > -90 && (
              <span className="text-quiet">{signed(edges[band.key] ?? band.low)}</span>
            )}
          </span>
        ))}
        <Button look="bare" className="text-xs" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Done" : "Move the edges…"}
        </Button>
        {moved && (
          <Button
            look="bare"
            className="text-xs"
            onClick={() => usePreferences.setState({ edges: {} })}
          >
            Put them back
          </Button>
        )}
      </div>
      {open && (
        <div className="grid grid-cols-4 gap-1.5">
          {bands
            .filter((b) => b.low > -90)
            .map((band) => (
              <NumberField
                key={band.key}
                label={`${band.name} from`}
                unit="stops"
                digits={2}
                value={edges[band.key] ?? band.low}
                step={0.25}
                min={-16}
                max={12}
                onChange={(v) => usePreferences.setState({ edges: { ...edges, [band.key]: v } })}
              />
            ))}
        </div>
      )}
    </div>
  );
}

/** A band's colour, with the pattern that lies over it in the picture. */
function swatch({ colour, ink, pattern }: CameraFacts["bands"][number]) {
  const plain = `rgb(${colour!.join()})`,
    over = `rgb(${(ink ?? colour)!.join()})`;
  if (pattern === "dots")
    return `radial-gradient(${over} 35%, transparent 36%) 0 0/4px 4px, ${plain}`;
  if (pattern === "hatch")
    return `repeating-linear-gradient(135deg, ${over} 0 2px, ${plain} 2px 5px)`;
  return plain;
}
