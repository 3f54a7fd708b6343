/** Frames put aside to compare with: the picture and the whole document, kept in this browser. */
import { create } from "zustand";
import { persist, createJSONStorage } from "zustand/middleware";
import type { Document } from "../../app/api";
import { readDesk, useDesk } from "../store";

export type Frozen = { id: string; name: string; picture: string; document: Document };
const MOST = 8;

/** A full store drops nothing that is on screen: it only is not kept for the next visit. */
const storage = createJSONStorage<Shots>(() => ({
  getItem: (key) => localStorage.getItem(key),
  setItem: (key, value) => {
    try {
      localStorage.setItem(key, value);
    } catch {
      /* kept in memory only */
    }
  },
  removeItem: (key) => localStorage.removeItem(key),
}));

type Shots = { shots: Record<string, Frozen[]>; freezing: boolean };
export const useFrozen = create<Shots>()(
  persist(() => ({ shots: {}, freezing: false }) as Shots, {
    name: "inkwell-frozen",
    storage,
    partialize: ({ shots }) => ({ shots }) as Shots,
  }),
);

let canvas: HTMLCanvasElement | null = null;
/** The frame's canvas, of which pictures are taken. */
export const showing = (next: HTMLCanvasElement | null) => {
  canvas = next;
};
export const pictureNow = () => canvas?.toDataURL("image/jpeg", 0.9) ?? "";

export function freeze(setup: number, document: Document) {
  const { shots } = useFrozen.getState();
  const own = shots[setup] ?? [];
  const clock = new Date().toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  let n = own.length + 1;
  while (own.some((s) => s.name.startsWith(`Frame ${n},`))) n++;
  const shot = {
    id: `${Date.now()}-${n}`,
    name: `Frame ${n}, ${clock}`,
    picture: pictureNow(),
    document,
  };
  useFrozen.setState({ shots: { ...shots, [setup]: [...own, shot].slice(-MOST) } });
  return shot;
}

/** Freeze the frame once it is whole: a coarse one would be compared as if it were the light. */
export function freezeWhenWhole() {
  const { record, draft, rendering, looking } = readDesk();
  if (!record || !draft || useFrozen.getState().freezing) return;
  if (!rendering && !looking) return void freeze(record.id, draft);
  useFrozen.setState({ freezing: true });
  const stop = useDesk.subscribe((desk) => {
    if (desk.record?.id === record.id && (desk.rendering || desk.looking)) return;
    stop();
    useFrozen.setState({ freezing: false });
    const { draft: now } = readDesk();
    // The last layer is painted in the frame after it came.
    if (desk.record?.id === record.id && now)
      requestAnimationFrame(() => requestAnimationFrame(() => freeze(record.id, now)));
  });
}

export function thaw(setup: number, id: string) {
  const { shots } = useFrozen.getState();
  useFrozen.setState({
    shots: { ...shots, [setup]: (shots[setup] ?? []).filter((s) => s.id !== id) },
  });
}
