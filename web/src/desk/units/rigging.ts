/** Bring a unit in, take it out. */
import {
  api,
  got,
  type Document,
  type Head,
  type Point,
  type Schemas,
  type Unit,
} from "../../app/api";
import { finishNudge, frameOf, nudge, polarOf } from "./gestures";
import { fromPolar } from "../plan/polar";
import { usePreferences } from "../../app/preferences";
import { inRoom } from "../place/walls";
import { act, choose, move, readDesk, setDesk, settle, withUnit } from "../store";

type Start = {
  role: Unit["role"];
  name: string;
  angle: number;
  height: number;
  distance: number;
  dimmer: number;
};

/** Where the next unit usually goes: key, then fill, then edge, then background. */
const STARTS: Start[] = [
  { role: "key", name: "Key", angle: -45, height: 35, distance: 2, dimmer: 0.5 },
  { role: "fill", name: "Fill", angle: 40, height: 5, distance: 2.4, dimmer: 0.5 },
  { role: "edge", name: "Edge", angle: 140, height: 35, distance: 2, dimmer: 0.06 },
  { role: "background", name: "Background", angle: 115, height: 25, distance: 1.8, dimmer: 0.2 },
];

const MARGIN = 0.25;

function inside(p: Point, { room }: Document): boolean {
  return inRoom(room, p, MARGIN) && p[2] > 0.2 && p[2] < room.height - 0.1;
}

/** Nearer than this [m] for want of room, a key goes over to the other side, if that has more. */
const CRAMPED = 1.2;

/**
 * Where a unit comes in: at its usual place about the key's side, pulled toward the face until it
 * is inside the room.
 */
function startingPlace(start: Start, draft: Document, face: Point, lens: Point): Point {
  const key = draft.units.find((u) => u.role === "key" && start.role !== "key");
  // What is usual is told of a key at the camera's left.
  const usual = key && polarOf(key)!.angle > 0 ? -start.angle : start.angle;
  function pulledIn(angle: number) {
    let distance = start.distance;
    let at = fromPolar({ ...start, angle, distance }, face, lens);
    while (!inside(at, draft) && distance > 0.6)
      at = fromPolar({ ...start, angle, distance: (distance -= 0.05) }, face, lens);
    return { at, distance };
  }
  const here = pulledIn(usual);
  if (start.role !== "key" || here.distance >= CRAMPED) return here.at;
  const over = pulledIn(-usual);
  return over.distance > here.distance ? over.at : here.at;
}

/** Where a unit's dimmer must stand for a level at the face; none for what the camera asks for. */
async function levelOf(document: Document, unit: string, lux: number | null) {
  const { record } = readDesk();
  try {
    const body = { document, unit, lux, step: usePreferences.getState().step };
    return await got<Schemas["LevelledOut"]>(
      api.POST("/api/setups/{pk}/level", { params: { path: { pk: record!.id } }, body }),
    );
  } catch {
    // It comes in as it is usually set; what is wrong with the draft the look says.
    return null;
  }
}

const within = (cct: number, head: Head) => Math.min(head.cct[1], Math.max(head.cct[0], cct));

/** Put another head in a unit's place: its level at the face stays, where the new one can. */
export async function changeHead(unit: Unit, head: Head) {
  const { draft, look } = readDesk();
  if (!draft) return;
  const change = { head: head.key, ies: null, measured: null, cct: within(unit.cct, head) };
  const lux = look?.readings.units.find((r) => r.id === unit.id)?.face_lux ?? 0;
  const found =
    lux > 0 ? await levelOf(withUnit(unit.id, () => change)(draft), unit.id, lux) : null;
  const kept = found ? (Math.abs(found.off) < 0.05 ? ", its level kept" : `, ${found.words}`) : "";
  act(
    withUnit(unit.id, () => ({ ...change, ...(found ? { dimmer: found.dimmer } : {}) })),
    `${unit.name}: ${head.name}${kept}`,
  );
  if (found)
    setDesk({
      said:
        Math.abs(found.off) < 0.05
          ? `${unit.name} gives the face what it gave before: dimmer at ${(100 * found.dimmer).toFixed(0)} %.`
          : `${found.words}.`,
    });
}

/** Bring a head in at its usual place, dimmed to what the camera asks for. */
export async function bring(head: Head) {
  const { draft, look, record } = readDesk();
  const frame = frameOf();
  if (!draft || !frame) return;
  const start = STARTS.find((s) => !draft.units.some((u) => u.role === s.role)) ?? STARTS[3]!;
  const names = new Set(draft.units.map((u) => u.name));
  let name = start.name;
  for (let n = 2; names.has(name); n++) name = `${start.name} ${n}`;
  const position = startingPlace(start, draft, frame.face, frame.lens);
  const ids = new Set(draft.units.map((u) => u.id));
  let number = draft.units.length + 1;
  while (ids.has(`u${number}`)) number++;
  const backdrop = look?.readings.marks.find((m) => m.id === "backdrop")?.position as
    Point | undefined;
  const aim = start.role === "background" && backdrop ? backdrop : frame.face;
  const cct = Math.min(Math.max(draft.cameras[0]!.white_balance, head.cct[0]), head.cct[1]);
  const unit: Unit = {
    id: `u${number}`,
    name,
    role: start.role,
    head: head.key,
    on: true,
    dimmer: start.dimmer,
    cct,
    green: 0,
    roll: 0,
    aims_at: "",
    position: position.map((v) => Math.round(v * 1e3) / 1e3) as Point,
    aim: aim.map((v) => Math.round(v * 1e3) / 1e3) as Point,
    ies: null,
    hue: 0,
    saturation: 0,
    attachments: [],
    leak: 0,
    // A bulb hangs or stands in something that is there.
    held: head.group === "bulb" ? "built-in" : "stand",
    foot: null,
    bearer: "",
    switch: "",
    piece: "",
    feed: "",
    charge: 1,
    measured: null,
  };
  const words = `${name} in: ${head.name}`;
  // It stands there at once; its level follows within the same gesture, or as one of its own.
  nudge(() => move((d) => ({ ...d, units: [...d.units, unit] })), words);
  choose(unit.id);
  const found = await levelOf(readDesk().draft!, unit.id, null);
  if (readDesk().record?.id !== record?.id) return;
  if (found) move(withUnit(unit.id, () => ({ dimmer: found.dimmer })));
  finishNudge();
  settle(`${name} at the camera's stop`);
  if (found && Math.abs(found.off) >= 0.05) setDesk({ said: `${found.words}.` });
}

/** Take a unit off the set. */
export function strike(id: string) {
  const unit = readDesk().draft?.units.find((u) => u.id === id);
  if (unit)
    act((d) => ({ ...d, units: d.units.filter((u) => u.id !== id) }), `${unit.name} struck`);
  const first = readDesk().draft?.units[0];
  if (first) choose(first.id);
}
