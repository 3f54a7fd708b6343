import { useEffect, useRef, useState } from "react";
import { api, fetchLens, type Constants, type Figures, type Problem } from "../../app/api";
import { Button } from "../../parts/Button";
import { Compare } from "../compare/Compare";
import { Defocus } from "./defocus";
import { showing } from "../compare/frozen";
import { FrameBar } from "./FrameBar";
import { LayerShelf } from "./layers";
import { client } from "../looking";
import { Guides } from "./Guides";
import { InstrumentRow, Instruments } from "./Instruments";
import { Mixer, type Part } from "./mixer";
import { usePreferences } from "../preferences";
import { announce, palette, type Palette } from "./signal";
import { Spots } from "./Spots";
import { Strip } from "./Strip";
import { small, type Piece } from "./strip";
import { report } from "../session/line";
import { readDesk, setDesk, SKY, useDesk } from "../store";

/** The camera's frame: mixed here from the layers, with the meter's marks over it. */
export function Frame({ constants }: { constants: Constants }) {
  const [width, height] = constants.full;
  const instruments = usePreferences((p) => p.instruments);
  const canvas = useRef<HTMLCanvasElement>(null);
  const setup = useDesk((d) => d.record!.id);
  const dark = useDesk(
    (d) => d.draft!.units.length + d.draft!.openings.length === 0 && !d.draft!.room.outdoors,
  );
  const [waiting, setWaiting] = useState<[number, number]>([0, 0]);
  const [pieces, setPieces] = useState<Piece[]>([]);
  const [comparing, setComparing] = useState(false);
  const strip = usePreferences((p) => p.parts);
  const preview = useDesk((d) => d.preview?.title);
  const giveUp = useRef(() => {});

  useEffect(() => {
    const context = canvas.current!.getContext("2d")!;
    const image = context.createImageData(width, height);
    const pixels = new Uint32Array(image.data.buffer);
    const lens = new Defocus(width, height);
    let lensFor: unknown[] = [],
      stopLens = new AbortController();
    /** Ask for the lens's widths again when what they follow from is another. */
    function focus() {
      const { record, draft, stored, rendering } = readDesk(),
        on = usePreferences.getState().depth;
      if (!record || !draft) return;
      const key = on
        ? [draft.cameras[0], draft.figures, draft.furniture, draft.grip, draft.room, draft.openings]
        : [];
      if (
        (on && rendering) ||
        (key.length === lensFor.length && key.every((v, k) => v === lensFor[k]))
      )
        return;
      lensFor = key;
      stopLens.abort();
      stopLens = new AbortController();
      const { signal } = stopLens;
      if (!on) {
        lens.take(null);
        painted = [];
        return paintSoon();
      }
      fetchLens(record.id, draft === stored ? null : draft, signal).then(
        (widths) => {
          lens.take(widths);
          painted = [];
          paintSoon();
        },
        (error: Problem) => {
          // What is wrong with the draft itself the look has said already.
          if (!signal.aborted) report(error);
        },
      );
    }
    const mixer = new Mixer(width, height, constants.octaves),
      monitor = Uint8Array.from(constants.curve);
    let made: {
      from: unknown;
      edges: unknown;
      recorded: Uint8Array;
      deviation: Float32Array;
      paint: Palette;
    } | null = null;
    /** Tables of the camera's figures, made when those or the hand-moved edges change. */
    function tables() {
      const { figures } = readDesk(),
        { edges } = usePreferences.getState();
      if (figures && (made?.from !== figures || made.edges !== edges)) {
        made = {
          from: figures,
          edges,
          recorded: Uint8Array.from(figures.table, (v) => Math.round(v / 257)),
          deviation: Float32Array.from(figures.noise),
          paint: palette(edged(figures.bands, edges), constants.octaves, monitor, constants.grey),
        };
      }
      return made;
    }
    showing(canvas.current);
    let asked = 0,
      painted: unknown[] = [],
      stripKey: unknown[] = [];
    /** Hand the strip its layers and gains, when any is another. */
    function feedStrip(parts: (Part & { id: string })[]) {
      const key = parts.flatMap((p) => [p.layer, ...p.gain]);
      if (
        !usePreferences.getState().parts ||
        (key.length === stripKey.length && key.every((v, k) => v === stripKey[k]))
      )
        return;
      stripKey = key;
      setPieces(
        parts.map((p) => ({ id: p.id, small: small(p.layer, width, height), gain: p.gain })),
      );
    }
    const shelf = new LayerShelf(setup, [width, height], paintSoon, (left, of) => {
      setWaiting([left, of]);
      setDesk({ rendering: left > 0 });
    });
    function paint() {
      asked = 0;
      const { draft, mix, solo, preview } = readDesk();
      if (!draft || !mix) return;
      const exposure = preview?.exposure ?? mix.exposure;
      const parts: (Part & { id: string })[] = Object.keys(mix.layers).flatMap((id) => {
        const layer = shelf.of(id),
          colour = mix.colours[id],
          unit = draft.units.find((u) => u.id === id);
        if (!layer || !colour || (!unit && !SKY.includes(id))) return [];
        // A soloed unit shows its light even when it is off in the mix, as its reading does. Its
        // dimmer is the hand's own, not the last answer's.
        const shown = solo ? id === solo : unit ? unit.on : true;
        const level = shown ? (unit ? unit.dimmer : (mix.levels[id] ?? 0)) * exposure : 0;
        return [{ id, layer, gain: [colour[0] * level, colour[1] * level, colour[2] * level] }];
      });
      // A night's sky and what is off add nothing: they are no steps of it.
      feedStrip(parts.filter(({ id, gain }) => !SKY.includes(id) || gain.some((g) => g > 0)));
      const { grain, picture } = usePreferences.getState(),
        ready = tables();
      // A unit on its way changes nothing until its layer comes: the processor is left to the
      // light.
      const now = [ready, grain, picture, usePreferences.getState().instruments];
      if (!mixer.mix(parts) && now.every((v, k) => v === painted[k])) return;
      painted = now;
      mixer.view = lens.idle ? mixer.sum : lens.apply(mixer.sum);
      if (grain && ready) mixer.addNoise(ready.deviation);
      if (ready && picture === "bands") mixer.band(pixels, ready.paint);
      else mixer.develop(pixels, ready && picture === "recorded" ? ready.recorded : monitor);
      announce({ linear: mixer.view, width, height });
      context.putImageData(image, 0, 0);
      performance.mark("frame-painted");
    }
    function paintSoon() {
      asked ||= requestAnimationFrame(paint);
    }
    /** Tell the server that nobody waits here any more. */
    const stopRendering = () =>
      api
        .POST("/api/setups/{pk}/stop", {
          params: { path: { pk: setup } },
          body: { client },
          keepalive: true,
        })
        .catch((error: Problem) => report(error));
    giveUp.current = () => {
      shelf.giveUp();
      void stopRendering();
    };
    const leave = () => {
      if (readDesk().rendering) void stopRendering();
    };
    addEventListener("pagehide", leave);
    const stop = useDesk.subscribe((desk, before) => {
      if (desk.mix && desk.mix !== before.mix) shelf.follow(desk.mix.layers);
      if (
        desk.draft !== before.draft ||
        desk.mix !== before.mix ||
        desk.solo !== before.solo ||
        desk.figures !== before.figures ||
        desk.preview !== before.preview
      )
        paintSoon();
      if (desk.draft !== before.draft || desk.rendering !== before.rendering) focus();
    });
    const stopViews = usePreferences.subscribe(() => {
      focus();
      paintSoon();
    });
    focus();
    const { mix } = readDesk();
    if (mix) shelf.follow(mix.layers);
    return () => {
      removeEventListener("pagehide", leave);
      leave();
      stop();
      stopViews();
      shelf.close();
      stopLens.abort();
      cancelAnimationFrame(asked);
      showing(null);
    };
  }, [setup, width, height, constants.curve, constants.octaves, constants.grey]);

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
          <Pins />
          {instruments && <Spots />}
          {dark && (
            <p className="absolute inset-0 grid place-items-center text-quiet">
              No light yet: bring in a unit.
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
              <Button className="bg-ink/80 text-xs" onClick={() => giveUp.current()}>
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
      <FrameBar setup={setup} compare={() => setComparing(true)} />
      {instruments && <InstrumentRow />}
      {strip && <Strip constants={constants} pieces={pieces} />}
      <Compare open={comparing} close={() => setComparing(false)} />
    </>
  );
}

const edged = (bands: Figures["bands"], edges: Record<string, number>) =>
  bands.map((b) => ({ ...b, low: edges[b.key] ?? b.low })).sort((a, b) => a.low - b.low);

const PINNED: Record<string, string> = {
  "key-side": "key side",
  "fill-shaded": "fill side",
  backdrop: "backdrop",
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
        className="pointer-events-none absolute text-xs text-paper [text-shadow:0_1px_3px_#000,0_0_2px_#000]"
        style={{ left: `${x * 100}%`, top: `${y * 100}%` }}
      >
        {mark.id !== "backdrop" && (
          <span className="absolute -top-1 -left-1 size-2 rounded-full border border-paper/90" />
        )}
        <span
          className={`absolute -top-2 whitespace-nowrap ${mark.id === "backdrop" ? "right-0" : left ? "left-16" : "right-16"}`}
        >
          {name} <b>{mark.against_words}</b>
        </span>
      </div>
    );
  });
}
