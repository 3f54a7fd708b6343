/** Bring a unit in, take it out. */
import type { Document, Head, Point, Unit } from "../../app/api";
import { frameOf } from "./gestures";
import { fromPolar } from "../plan/polar";
import { act, choose, readDesk } from "../store";

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
  return (
    p[0] > MARGIN &&
    p[0] < room.width - MARGIN &&
    p[1] > MARGIN &&
    p[1] < room.depth - MARGIN &&
    p[2] > 0.2 &&
    p[2] < room.height - 0.1
  );
}

/** Bring a head in at its usual place, pulled toward the face until it is inside the room. */
export function bring(head: Head) {
  const { draft, look } = readDesk();
  const frame = frameOf();
  if (!draft || !frame) return;
  const start = STARTS.find((s) => !draft.units.some((u) => u.role === s.role)) ?? STARTS[3]!;
  const names = new Set(draft.units.map((u) => u.name));
  let name = start.name;
  for (let n = 2; names.has(name); n++) name = `${start.name} ${n}`;
  let { distance } = start;
  let position = fromPolar({ ...start, distance }, frame.face, frame.lens);
  while (!inside(position, draft) && distance > 0.6)
    position = fromPolar({ ...start, distance: (distance -= 0.05) }, frame.face, frame.lens);
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
    position: position.map((v) => Math.round(v * 1e3) / 1e3) as Point,
    aim: aim.map((v) => Math.round(v * 1e3) / 1e3) as Point,
    ies: null,
    hue: 0,
    saturation: 0,
    attachments: [],
    measured: null,
  };
  act((d) => ({ ...d, units: [...d.units, unit] }), `${name} in: ${head.name}`);
  choose(unit.id);
}

/** Take a unit off the set. */
export function strike(id: string) {
  const unit = readDesk().draft?.units.find((u) => u.id === id);
  if (unit)
    act((d) => ({ ...d, units: d.units.filter((u) => u.id !== id) }), `${unit.name} struck`);
  const first = readDesk().draft?.units[0];
  if (first) choose(first.id);
}
