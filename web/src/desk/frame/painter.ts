/** Paints the frame from its layers, as camera, lens and preferences make it. */
import {
  api,
  fetchLens,
  type CameraFacts,
  type Constants,
  type Document,
  type Problem,
} from "../../app/api";
import { showing } from "../compare/frozen";
import { client } from "../looking";
import { usePreferences } from "../../app/preferences";
import { report } from "../session/line";
import { readDesk, setDesk, SKY, useDesk, WORK, type Desk } from "../store";
import { Defocus } from "./defocus";
import { LayerShelf } from "./layers";
import { Mixer, type Part } from "./mixer";
import { palette, type Palette } from "../../parts/signal";
import { announce } from "./taps";
import { small, type Piece } from "./strip";

type Named = Part & { id: string };

/** Tables of the camera's facts, and what they were made from. */
type Tables = {
  from: CameraFacts;
  edges: unknown;
  recorded: Uint8Array;
  deviation: Float32Array;
  paint: Palette;
};

type Watcher = {
  /** How many layers are waited for, of how many. */
  waiting: (left: number, of: number) => void;
  /** What the strip of each light's part shows. */
  pieces: (pieces: Piece[]) => void;
};

const same = (a: unknown[], b: unknown[]) => a.length === b.length && a.every((v, k) => v === b[k]);

export const edged = (bands: CameraFacts["bands"], edges: Record<string, number>) =>
  bands.map((b) => ({ ...b, low: edges[b.key] ?? b.low })).sort((a, b) => a.low - b.low);

type Seen = Pick<Desk, "draft" | "mix" | "mixedSky" | "solo" | "preview">;
type Sky = Document["sky"];

/**
 * By how much sky or sun is brighter in the hand than when the mix was asked for: so a dragged hour
 * is seen at once. Where the sun stands, and its white, come with the answer.
 */
function dimmed(id: string, now: Sky, then: Sky | null) {
  if (!then || now === then) return 1;
  if (SKY.includes(id) && !now.on) return 0;
  if (id === SKY[0]) return then.level > 0 ? now.level / then.level : 1;
  if (id === SKY[1] && then.sun && then.sun.level > 0)
    return (now.sun?.level ?? 0) / then.sun.level;
  return 1;
}

/**
 * What each layer adds to the frame. A soloed unit shows its light even when it is off in the mix,
 * as its reading does. Its dimmer is the hand's own, not the last answer's.
 */
export function partsOf(
  { draft, mix, mixedSky, solo, preview }: Seen,
  layerOf: (id: string) => Part["layer"] | undefined,
): Named[] {
  if (!draft || !mix) return [];
  const exposure = preview?.exposure ?? mix.exposure;
  return Object.keys(mix.layers).flatMap((id) => {
    const layer = layerOf(id),
      colour = mix.colours[id],
      unit = draft.units.find((u) => u.id === id);
    if (!layer || !colour || (!unit && id !== WORK && !SKY.includes(id))) return [];
    const shown = solo ? id === solo : unit ? unit.on : true;
    const own = unit ? unit.dimmer : (mix.levels[id] ?? 0) * dimmed(id, draft.sky, mixedSky);
    const level = shown ? own * exposure : 0;
    return [{ id, layer, gain: [colour[0] * level, colour[1] * level, colour[2] * level] }];
  });
}

export class Painter {
  private context: CanvasRenderingContext2D;
  private image: ImageData;
  private pixels: Uint32Array<ArrayBuffer>;
  private lens: Defocus;
  private lensFor: unknown[] = [];
  private stopLens = new AbortController();
  private mixer: Mixer;
  private monitor: Uint8Array;
  private made: Tables | null = null;
  private shelf: LayerShelf;
  private asked = 0;
  private focusing = false;
  private painted: unknown[] = [];
  private stripFor: unknown[] = [];
  private stops: (() => void)[];
  private size: [number, number];

  constructor(
    private canvas: HTMLCanvasElement,
    private setup: number,
    private constants: Pick<Constants, "full" | "curve" | "octaves" | "grey">,
    private watcher: Watcher,
  ) {
    const [width, height] = constants.full;
    this.canvas.ariaBusy = "true";
    this.size = [width, height];
    this.context = canvas.getContext("2d")!;
    this.image = this.context.createImageData(width, height);
    this.pixels = new Uint32Array(this.image.data.buffer);
    this.lens = new Defocus(width, height);
    this.mixer = new Mixer(width, height, constants.octaves);
    this.monitor = Uint8Array.from(constants.curve);
    showing(canvas);
    this.shelf = new LayerShelf(setup, this.size, this.paintSoon, (left, of) => {
      watcher.waiting(left, of);
      setDesk({ rendering: left > 0 });
    });
    addEventListener("pagehide", this.leave);
    this.stops = [
      useDesk.subscribe(this.followDesk),
      usePreferences.subscribe(() => {
        this.focus();
        this.paintSoon();
      }),
    ];
    this.focus();
    const { mix } = readDesk();
    if (mix) this.shelf.follow(mix.layers);
  }

  /** Stop waiting for layers: here, and at the server. */
  giveUp() {
    this.shelf.giveUp();
    void this.stopRendering();
  }

  close() {
    removeEventListener("pagehide", this.leave);
    this.leave();
    this.stops.forEach((stop) => stop());
    this.shelf.close();
    this.stopLens.abort();
    cancelAnimationFrame(this.asked);
    showing(null);
  }

  private followDesk = (desk: Desk, before: Desk) => {
    if (desk.mix && desk.mix !== before.mix) this.shelf.follow(desk.mix.layers);
    if (
      desk.draft !== before.draft ||
      desk.mix !== before.mix ||
      desk.solo !== before.solo ||
      desk.cameraFacts !== before.cameraFacts ||
      desk.preview !== before.preview
    )
      this.paintSoon();
    if (desk.draft !== before.draft || desk.rendering !== before.rendering) this.focus();
    this.tellBusy();
  };

  /** Say whether the picture is still going to be another than the one that shows. */
  private tellBusy() {
    const { mix, looking, rendering, figuring } = readDesk();
    const busy = !mix || looking || rendering || figuring || this.focusing || this.asked !== 0;
    if (this.canvas.ariaBusy !== `${busy}`) this.canvas.ariaBusy = `${busy}`;
  }

  /** Ask for the lens's widths again when what they follow from is another. */
  private focus() {
    const { record, draft, stored, rendering } = readDesk(),
      on = usePreferences.getState().depth;
    if (!record || !draft) return;
    const lensFor = on
      ? [draft.cameras[0], draft.figures, draft.furniture, draft.grip, draft.room, draft.openings]
      : [];
    if ((on && rendering) || same(lensFor, this.lensFor)) return;
    this.lensFor = lensFor;
    this.stopLens.abort();
    this.stopLens = new AbortController();
    const { signal } = this.stopLens;
    if (!on) return this.takeWidths(null);
    this.focusing = true;
    this.tellBusy();
    fetchLens(record.id, draft === stored ? null : draft, signal).then(
      (widths) => {
        if (!signal.aborted) this.takeWidths(widths);
      },
      (error: Problem) => {
        if (signal.aborted) return;
        // What is wrong with the draft itself the look has said already.
        report(error);
        this.focusing = false;
        this.tellBusy();
      },
    );
  }

  private takeWidths(widths: Parameters<Defocus["take"]>[0]) {
    this.lens.take(widths);
    this.focusing = false;
    this.painted = [];
    this.paintSoon();
  }

  /** Made again when the camera's facts or the hand-moved edges change. */
  private tables() {
    const { cameraFacts: facts } = readDesk(),
      { edges } = usePreferences.getState();
    if (facts && (this.made?.from !== facts || this.made.edges !== edges)) {
      const { octaves, grey } = this.constants;
      this.made = {
        from: facts,
        edges,
        recorded: Uint8Array.from(facts.table, (v) => Math.round(v / 257)),
        deviation: Float32Array.from(facts.noise),
        paint: palette(edged(facts.bands, edges), octaves, this.monitor, grey),
      };
    }
    return this.made;
  }

  /** Hand the strip its layers and gains, when any is another. */
  private feedStrip(parts: Named[]) {
    const stripFor = parts.flatMap((p) => [p.layer, ...p.gain]);
    if (!usePreferences.getState().parts || same(stripFor, this.stripFor)) return;
    this.stripFor = stripFor;
    this.watcher.pieces(
      parts.map((p) => ({ id: p.id, small: small(p.layer, ...this.size), gain: p.gain })),
    );
  }

  private paintSoon = () => {
    this.asked ||= requestAnimationFrame(this.paintNow);
    this.tellBusy();
  };

  private paintNow = () => {
    this.asked = 0;
    this.paint();
    this.tellBusy();
  };

  private paint() {
    const desk = readDesk();
    if (!desk.draft || !desk.mix) return;
    const parts = partsOf(desk, (id) => this.shelf.of(id));
    // A night's sky and what is off add nothing: they are no steps of it.
    this.feedStrip(
      parts.filter(({ id, gain }) => id !== WORK && (!SKY.includes(id) || gain.some((g) => g > 0))),
    );
    const { grain, picture, instruments } = usePreferences.getState(),
      ready = this.tables(),
      { mixer, lens, pixels, monitor } = this;
    // A unit on its way changes nothing until its layer comes: the processor is left to the light.
    const now = [ready, grain, picture, instruments];
    if (!mixer.mix(parts) && same(now, this.painted)) return;
    this.painted = now;
    mixer.view = lens.idle ? mixer.sum : lens.apply(mixer.sum);
    if (grain && ready) mixer.addNoise(ready.deviation);
    if (ready && picture === "bands") mixer.band(pixels, ready.paint);
    else mixer.develop(pixels, ready && picture === "recorded" ? ready.recorded : monitor);
    const [width, height] = this.size;
    announce({ linear: mixer.view, width, height });
    this.context.putImageData(this.image, 0, 0);
    performance.mark("frame-painted");
  }

  /** Tell the server that nobody waits here any more. */
  private stopRendering = () =>
    api
      .POST("/api/setups/{pk}/stop", {
        params: { path: { pk: this.setup } },
        body: { client },
        keepalive: true,
      })
      .catch((error: Problem) => report(error));

  private leave = () => {
    if (readDesk().rendering) void this.stopRendering();
  };
}
