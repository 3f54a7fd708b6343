/** The light that is part of a lamp or a screen of the place, as it is brought in. */
import type { Document, Furniture, Head, Piece, Point, Unit } from "../../app/api";
import { act } from "../store";
import { placeOn } from "./riding";

type Lamp = NonNullable<Piece["lamp"]>;

/** Usual white of tubes and downlights [K]; typical. */
const HOUSE = 4000;

const round = (p: readonly number[]): Point => p.map((v) => Math.round(v * 1e3) / 1e3) as Point;

export const freshUnit = (draft: Document) => {
  const ids = new Set(draft.units.map((u) => u.id));
  let n = draft.units.length + 1;
  while (ids.has(`u${n}`)) n++;
  return `u${n}`;
};

/** The light of a lamp or a screen, as it is brought in: a practical at full. */
export function lightOf(draft: Document, item: Furniture, lamp: Lamp, head: Head): Unit {
  const position = placeOn(item, lamp.at),
    turn = (item.turn * Math.PI) / 180,
    [x, y, z] = lamp.aim;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const names = new Set(draft.units.map((u) => u.name));
  let name = `${item.name}, light`;
  for (let k = 2; names.has(name); k++) name = `${item.name}, light ${k}`;
  return {
    id: freshUnit(draft),
    name,
    role: "practical",
    head: head.key,
    position,
    aim: round([position[0] + c * x - s * y, position[1] + s * x + c * y, position[2] + z]),
    roll: 0,
    aims_at: "",
    on: true,
    dimmer: 1,
    // Lamps of the house are whiter than a bulb on a table.
    cct: lamp.switch ? Math.min(Math.max(HOUSE, head.cct[0]), head.cct[1]) : head.cct[0],
    green: 0,
    hue: 0,
    saturation: 0,
    attachments: [],
    leak: 0,
    held: "built-in",
    foot: null,
    bearer: "",
    switch: lamp.switch,
    piece: item.id,
    feed: "",
    run: null,
    charge: 1,
    ies: null,
    measured: null,
  };
}

/** Put the usual light into a lamp or a screen that has none. */
export function lightUp(item: Furniture, kind: Piece, heads: readonly Head[]) {
  const head = heads.find((h) => h.key === kind.lamp?.head);
  if (!kind.lamp || !head) return;
  const { lamp } = kind;
  act(
    (d) => ({ ...d, units: [...d.units, lightOf(d, item, lamp, head)] }),
    `${item.name}: ${head.name} in`,
  );
}
