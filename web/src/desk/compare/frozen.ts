/** Frames put aside to compare with: the picture and the whole document, kept in this browser. */
import { create } from "zustand";
import { persist, createJSONStorage } from "zustand/middleware";
import type { Document } from "../../app/api";

export type Frozen = { id: string; name: string; picture: string; document: Document };
const MOST = 8;

/** A full store drops nothing that is on screen: it only is not kept for the next visit. */
const storage = createJSONStorage<{ shots: Record<string, Frozen[]> }>(() => ({
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

export const useFrozen = create<{ shots: Record<string, Frozen[]> }>()(
  persist(() => ({ shots: {} as Record<string, Frozen[]> }), { name: "inkwell-frozen", storage }),
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

export function thaw(setup: number, id: string) {
  const { shots } = useFrozen.getState();
  useFrozen.setState({
    shots: { ...shots, [setup]: (shots[setup] ?? []).filter((s) => s.id !== id) },
  });
}
