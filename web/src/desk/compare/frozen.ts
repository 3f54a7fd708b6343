/**
 * Frames put aside to compare with: picture and document, kept with the set-up. One that the server
 * has not got, a viewer's or one frozen while the line was down, is kept in this browser.
 */
import { create } from "zustand";
import { persist, createJSONStorage } from "zustand/middleware";
import { api, got, type Document, type Problem, type Schemas } from "../../app/api";
import { mayEdit, readDesk, setDesk, useDesk } from "../store";

export type Frozen = {
  /** A number is the server's; anything else is of this browser. */
  id: string;
  name: string;
  picture: string;
  document: Document;
  author?: string | null;
};

/** A full store drops nothing that is on screen: it only is not kept for the next visit. */
const storage = createJSONStorage<Kept>(() => ({
  getItem: (key) => localStorage.getItem(key),
  setItem: (key, value) => {
    try {
      localStorage.setItem(key, value);
    } catch {
      setDesk({ said: "This browser has no room for more frames: let some go." });
    }
  },
  removeItem: (key) => localStorage.removeItem(key),
}));

type Kept = { shots: Record<string, Frozen[]> };
type Shots = Kept & { freezing: boolean };
const ofServer = (shot: Frozen) => /^\d+$/.test(shot.id);
const own = ({ shots }: Kept): Kept => ({
  shots: Object.fromEntries(
    Object.entries(shots).map(([setup, list]) => [setup, list.filter((s) => !ofServer(s))]),
  ),
});

export const useFrozen = create<Shots>()(
  persist((): Shots => ({ shots: {}, freezing: false }), {
    name: "inkwell-frozen",
    storage,
    partialize: own,
  }),
);

const of = (setup: number) => useFrozen.getState().shots[setup] ?? [];
const keep = (setup: number, list: Frozen[]) =>
  useFrozen.setState(({ shots }) => ({ shots: { ...shots, [setup]: list } }));

let canvas: HTMLCanvasElement | null = null;
/** The frame's canvas, of which pictures are taken. */
export const showing = (next: HTMLCanvasElement | null) => {
  canvas = next;
};
export const pictureNow = () => canvas?.toDataURL("image/jpeg", 0.9) ?? "";

const answered = (frame: Schemas["FrozenOut"]): Frozen => ({
  id: String(frame.id),
  name: frame.name,
  picture: `/api/frozen/${frame.id}/picture.jpg`,
  document: frame.document,
  author: frame.author,
});

/** What is kept with a set-up, and what only this browser has. */
export async function loadFrozen(setup: number) {
  const path = { params: { path: { pk: setup } } };
  const frames = await got<Schemas["FrozenOut"][]>(api.GET("/api/setups/{pk}/frozen", path));
  keep(setup, [...frames.map(answered), ...of(setup).filter((s) => !ofServer(s))]);
}

/** A name that no other frame of the set-up has. */
function nameOf(list: readonly Frozen[]) {
  const clock = new Date().toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  let n = list.length + 1;
  while (list.some((s) => s.name.startsWith(`Frame ${n},`))) n++;
  return `Frame ${n}, ${clock}`;
}

/** Put the frame aside: at once in this browser, then with the set-up. */
export async function freeze(setup: number, document: Document) {
  const name = nameOf(of(setup)),
    shot: Frozen = { id: `here-${Date.now()}-${name}`, name, picture: pictureNow(), document };
  keep(setup, [...of(setup), shot]);
  if (!mayEdit(readDesk())) return;
  try {
    const made = await got<Schemas["FrozenOut"]>(
      api.POST("/api/setups/{pk}/frozen", {
        params: { path: { pk: setup } },
        body: { name, picture: shot.picture, document },
      }),
    );
    keep(
      setup,
      of(setup).map((s) => (s.id === shot.id ? answered(made) : s)),
    );
  } catch (error) {
    setDesk({ said: `${name} is kept in this browser only: ${(error as Problem).message}` });
  }
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
      requestAnimationFrame(() => requestAnimationFrame(() => void freeze(record.id, now)));
  });
}

/** Let a frame go, for good. */
export async function thaw(setup: number, id: string) {
  const shot = of(setup).find((s) => s.id === id);
  if (!shot) return;
  if (ofServer(shot))
    await got(api.DELETE("/api/frozen/{pk}", { params: { path: { pk: Number(id) } } }));
  keep(
    setup,
    of(setup).filter((s) => s.id !== id),
  );
}

/** Call a frame something else. */
export async function nameFrozen(setup: number, id: string, name: string) {
  const shot = of(setup).find((s) => s.id === id);
  if (!shot || !name.trim() || name.trim() === shot.name) return;
  const called = name.trim().slice(0, 80);
  if (ofServer(shot))
    await got(
      api.PUT("/api/frozen/{pk}", {
        params: { path: { pk: Number(id) } },
        body: { name: called },
      }),
    );
  keep(
    setup,
    of(setup).map((s) => (s.id === id ? { ...s, name: called } : s)),
  );
}
