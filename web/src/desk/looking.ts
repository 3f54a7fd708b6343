/** Asks the server what the draft looks like: one question in flight, the newest draft next. */
import { useEffect } from "react";
import {
  api,
  fetchLook,
  got,
  type CameraFacts,
  type Document,
  type Inspection,
  type Judged,
  type LevelMap,
  type Problem,
} from "../app/api";
import { useShallow } from "zustand/react/shallow";
import { readDesk, setDesk, useDesk } from "./store";
import { usePreferences } from "../app/preferences";
import { lineIs, report, useLine } from "./session/line";

export const client = crypto.randomUUID?.() ?? String(Math.random());
let flying = false;
let again = false;

/** A draft as looked at while a hand moves: with lamps in each other's light, one changes all. */
const inHand = (draft: Document): Document =>
  draft.bodies_shade ? { ...draft, bodies_shade: false } : draft;

async function ask() {
  const { record, draft, solo, stored, settled } = readDesk();
  if (!record || !draft) return;
  if (flying) {
    again = true;
    return;
  }
  flying = true;
  setDesk({ looking: true });
  // A viewer looks at what is stored; only an editor may send a draft.
  const document = draft === stored ? null : draft === settled ? draft : inHand(draft);
  try {
    const here = () => readDesk().record?.id === record.id;
    const question = {
      document,
      only: solo,
      step: usePreferences.getState().step,
      client,
      picture: true,
    };
    const look = await fetchLook(record.id, question, (mix) => {
      if (here()) setDesk({ mix, mixedSky: draft.sky });
    });
    performance.mark("look-read");
    if (here()) {
      setDesk({
        look,
        ...(readDesk().draft === draft
          ? { fault: draft === stored ? readDesk().fault : null }
          : {}),
      });
    }
  } catch (error) {
    const { status, message, path } = error as Problem;
    if (!report(error as Problem) && status !== 410) setDesk({ fault: { text: message, path } });
  } finally {
    flying = false;
    if (again) {
      again = false;
      void ask();
    } else setDesk({ looking: false });
  }
}

let inspectAgain: ReturnType<typeof setTimeout> | undefined;
let stopAsking = new AbortController();

/** Give up the question for an older draft: its answer would pass for a new one. */
function dropMore() {
  clearTimeout(inspectAgain);
  stopAsking.abort();
}

/** Look into the chosen unit, judge the picture and map the levels. */
async function more() {
  const { record, draft, stored, chosen, solo, plane } = readDesk();
  if (!record || !draft) return;
  stopAsking = new AbortController();
  const { signal } = stopAsking;
  const document = draft === stored ? null : draft,
    path = { pk: record.id };
  try {
    if (chosen && draft.units.some((u) => u.id === chosen)) {
      const inspection = await got<Inspection>(
        api.POST("/api/setups/{pk}/inspect", {
          params: { path },
          body: { document, unit: chosen, step: usePreferences.getState().step },
          signal,
        }),
      );
      if (!signal.aborted) setDesk({ inspection });
    } else setDesk({ inspection: null });
    if (readDesk().column !== "units" || readDesk().panel === "meter") {
      const judged = await got<Judged>(
        api.POST("/api/setups/{pk}/judge", {
          params: { path },
          body: { document, step: usePreferences.getState().step },
          signal,
        }),
      );
      if (!signal.aborted) setDesk({ judged });
    }
    // A wall may have gone with the outline that it was of.
    const walls = draft.room.outline?.length ?? 0,
      gone =
        typeof plane === "number"
          ? plane >= walls
          : walls > 0 && !["none", "floor", "face"].includes(plane);
    if (gone) setDesk({ plane: "none" });
    if (plane === "none" || gone) setDesk({ map: null });
    else {
      const map = await got<LevelMap>(
        api.POST("/api/setups/{pk}/map", {
          params: { path },
          body: { document, plane, only: solo },
          signal,
        }),
      );
      if (!signal.aborted) setDesk({ map });
    }
  } catch (error) {
    // What is wrong with the draft itself the look has said already; what was said of the unit was
    // said of an older draft.
    if (!signal.aborted) {
      report(error as Problem);
      setDesk({ inspection: null });
    }
  } finally {
    if (!signal.aborted) setDesk({ inspecting: false });
  }
}

let figured = "";

/** Ask what the camera's settings come to, when they are others than last time. */
async function figure() {
  const { draft, look } = readDesk();
  const camera = draft?.cameras[0];
  if (!camera || !look) return;
  const distance = Math.max(0.1, Math.hypot(...camera.position.map((v, k) => v - look.anchor[k]!)));
  const body = { camera, distance: +distance.toFixed(3) },
    key = JSON.stringify(body);
  if (key === figured) return;
  figured = key;
  setDesk({ figuring: true });
  try {
    const cameraFacts = await got<CameraFacts>(api.POST("/api/camera/facts", { body }));
    if (figured === key) setDesk({ cameraFacts });
  } catch (error) {
    const { status, message, path } = error as Problem;
    if (figured === key) figured = "";
    if (!report(error as Problem) && status !== 410) setDesk({ fault: { text: message, path } });
  } finally {
    if (figured === key || figured === "") setDesk({ figuring: false });
  }
}

/** Keep `look` in the store up to date with the draft, the solo and the preferences. */
export function useLooking() {
  const { draft, solo, id } = useDesk(
    useShallow((d) => ({ draft: d.draft, solo: d.solo, id: d.record?.id })),
  );
  const step = usePreferences((p) => p.step);
  const down = useLine(({ line }) => line.state !== "up");
  const { chosen, plane, rendering, judge } = useDesk(
    useShallow((d) => ({
      chosen: d.chosen,
      plane: d.plane,
      rendering: d.rendering,
      judge: d.column !== "units" || d.panel === "meter",
    })),
  );
  useEffect(() => {
    if (!down) void ask();
  }, [step, id, down]);
  // Straight from the hand: the server is at work while the screen is still being drawn.
  useEffect(
    () =>
      useDesk.subscribe((desk, before) => {
        if (
          lineIs("up") &&
          desk.draft &&
          (desk.draft !== before.draft ||
            desk.solo !== before.solo ||
            (desk.draft.bodies_shade && desk.settled !== before.settled))
        )
          void ask();
      }),
    [],
  );
  // The picture first: figures and maps are asked for when the frame is whole.
  useEffect(() => {
    dropMore();
    if (down || !id) return;
    // From here on what stands there is of an older draft, and says so.
    setDesk({ inspecting: true });
    // Once the hand has rested a moment.
    if (!rendering) inspectAgain = setTimeout(() => void more(), 450);
  }, [draft, solo, step, id, down, chosen, plane, rendering, judge]);
  const { camera, anchor, cameraFacts } = useDesk(
    useShallow((d) => ({
      camera: d.draft?.cameras[0],
      anchor: d.look?.anchor,
      cameraFacts: d.cameraFacts,
    })),
  );
  useEffect(() => {
    if (!cameraFacts) figured = "";
    if (!down && anchor) void figure();
  }, [camera, anchor, cameraFacts, down]);
  useEffect(() => dropMore, []);
}
