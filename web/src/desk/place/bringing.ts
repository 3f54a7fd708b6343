/** Furniture brought in and copied: what comes to stand where, and the light that comes with it. */
import type { Document, Furniture, Head, Piece, Point } from "../../app/api";
import { act, choosePiece, readDesk } from "../store";
import { floorAxes } from "../plan/polar";
import { frameOf } from "../units/gestures";
import { freshUnit, lightOf } from "./itsLight";
import { placeOn } from "./riding";
import { boundsOf, onWall, turnFrom, wallBehind, wallsOf, type Spot } from "./walls";
import { halfReach, overlap, standing } from "./standing";

const round = (p: readonly number[]): Point => p.map((v) => Math.round(v * 1e3) / 1e3) as Point;

export const unusedId = (draft: Document) => {
  const ids = new Set(draft.furniture.map((f) => f.id));
  let n = 1;
  while (ids.has(`f${n}`)) n++;
  return `f${n}`;
};
export const unusedName = (draft: Document, stem: string) => {
  const names = new Set(draft.furniture.map((f) => f.name));
  let name = stem;
  for (let k = 2; names.has(name); k++) name = `${stem} ${k}`;
  return name;
};

/** The first place from `at`, to one side and the other by turns, where nothing stands yet. */
function clearPlace(
  item: Pick<Furniture, "size" | "turn" | "position">,
  at: readonly [number, number],
  along: readonly [number, number],
  draft: Document,
): [number, number] {
  const step = 0.2;
  for (let k = 0; k < 80; k++) {
    const off = (k % 2 ? 1 : -1) * Math.ceil(k / 2) * step;
    const place = standing([at[0] + off * along[0], at[1] + off * along[1]], item, draft.room);
    const there = { ...item, position: [place[0], place[1], item.position[2]] as Point };
    if (!draft.furniture.some((f) => overlap(there, f))) return place;
  }
  return standing(at, item, draft.room);
}

type Stood = Pick<Furniture, "name" | "kind" | "position" | "size" | "turn">;

/** A strip of light under the wall cupboard that is nearest and has none, its front edge. */
function underCupboard(strip: Stood, draft: Document): Stood {
  const far = (f: Furniture) =>
    Math.hypot(f.position[0] - strip.position[0], f.position[1] - strip.position[1]);
  const places = draft.furniture
    .filter((f) => f.kind === "wall-cupboard")
    .sort((a, b) => far(a) - far(b))
    .map((f) => {
      const size: Point = [Math.min(strip.size[0], f.size[0]), strip.size[1], strip.size[2]];
      const position = placeOn(f, [0, 0.3, -strip.size[2] / f.size[2]]);
      return { ...strip, size, position, turn: f.turn };
    });
  const strips = draft.furniture.filter((f) => f.kind === strip.kind);
  return places.find((p) => !strips.some((f) => overlap(p, f))) ?? strip;
}

/** Tops that small things are stood on [m]. */
const [LOW_TOP, HIGH_TOP] = [0.3, 1.2];

const TOPS: Furniture["kind"][] = [
  ...(["table", "round-table", "low-table", "desk"] as const),
  ...(["sideboard", "drawers", "chest", "crate", "box"] as const),
];

/** Pieces that a small thing can stand on within two metres of a place, the nearest first. */
function tablesNear(draft: Document, size: Point, at: readonly [number, number]) {
  const far = (f: Furniture) => Math.hypot(f.position[0] - at[0], f.position[1] - at[1]);
  return draft.furniture
    .filter((f) => {
      const top = f.position[2] + f.size[2];
      return (
        TOPS.includes(f.kind) &&
        top >= LOW_TOP &&
        top <= HIGH_TOP &&
        size[0] <= f.size[0] &&
        size[1] <= f.size[1] &&
        far(f) < 2
      );
    })
    .sort((a, b) => far(a) - far(b));
}

/** The place on a top that is nearest to `at` and not taken; none where all are. */
function onTop(
  table: Furniture,
  item: Pick<Furniture, "size" | "turn" | "position">,
  at: readonly [number, number],
  draft: Document,
): [number, number] | undefined {
  const a = (table.turn * Math.PI) / 180,
    [c, s] = [Math.cos(a), Math.sin(a)];
  const reach = Math.hypot(item.size[0], item.size[1]) / 2;
  const room = [0, 1].map((k) => Math.max(0, table.size[k]! / 2 - reach)) as [number, number];
  const places: [number, number][] = [];
  for (let i = -4; i <= 4; i++)
    for (let j = -2; j <= 2; j++) {
      const [u, v] = [(i / 4) * room[0], (j / 2) * room[1]];
      places.push([table.position[0] + c * u - s * v, table.position[1] + s * u + c * v]);
    }
  const taken = ([x, y]: [number, number]) =>
    draft.furniture.some(
      (f) => f.id !== table.id && overlap({ ...item, position: [x, y, item.position[2]] }, f),
    );
  const away = ([x, y]: [number, number]) => Math.hypot(x - at[0], y - at[1]);
  return places.sort((p, q) => away(p) - away(q)).find((p) => !taken(p));
}

/** Where a thing comes to stand that the lens shall see: behind the face, its front to the lens. */
export function standInView(draft: Document, size: Point): Pick<Furniture, "position" | "turn"> {
  const { face, lens } = frameOf()!,
    { toward } = floorAxes(face, lens);
  const turn =
    (Math.round((Math.atan2(-toward[0], toward[1]) * 180) / Math.PI / 90) * 90 + 360) % 360;
  const back = Math.max(1, halfReach({ size, turn })[1] + 0.45);
  const at: Spot = [face[0] - back * toward[0], face[1] - back * toward[1]];
  const [x, y] = clearPlace(
    { size, turn, position: [0, 0, 0] },
    at,
    [-toward[1], toward[0]],
    draft,
  );
  return { position: round([x, y, 0]), turn };
}

/** How far off a solid outside comes to stand from the wall, or from the face [m]. */
const ACROSS_THE_YARD = 8;

/** Where a solid outside is looked at from, and the way from it to there. */
function lookedAtFrom(draft: Document, face: Point, toward: Spot) {
  const { room } = draft;
  if (room.outdoors) {
    const quarter = Math.round((Math.atan2(-toward[0], toward[1]) * 180) / Math.PI / 90);
    return { from: [face[0], face[1]] as Spot, inward: toward, turn: 90 * quarter, ground: 0 };
  }
  // Before the first window, its front to that; else to the south.
  const walls = wallsOf(room);
  const opening = draft.openings.find((o) => o.wall !== "ceiling");
  const wall =
    walls.find((w) => w.key === opening?.wall) ?? walls.find((w) => w.inward[1] > 0.9) ?? walls[0]!;
  const from = opening ? onWall(room, wall.key, [opening.along])[0]! : wall.from;
  return { from, inward: wall.inward, turn: turnFrom(wall), ground: -room.storey };
}

/** A solid outside: on the land before a window, or outdoors behind the face. */
function bringOutside(kind: Piece, draft: Document, face: Point, toward: Spot) {
  const { from, inward, turn, ground } = lookedAtFrom(draft, face, toward);
  const away = ACROSS_THE_YARD + kind.size[1] / 2;
  const named = unusedName(draft, kind.name);
  let at: Spot = [from[0] - away * inward[0], from[1] - away * inward[1]];
  const there = (p: Spot) => ({
    size: kind.size,
    turn,
    position: [p[0], p[1], ground] as Point,
  });
  // Beside what stands there already.
  for (let k = 1; k < 20 && draft.furniture.some((f) => overlap(there(at), f)); k++) {
    const off = (k % 2 ? 1 : -1) * Math.ceil(k / 2) * (kind.size[0] + 0.5);
    at = [
      from[0] - away * inward[0] + off * inward[1],
      from[1] - away * inward[1] - off * inward[0],
    ];
  }
  const made = madeOf(kind, draft, { name: named, ...there(at), size: [...kind.size] });
  act((d) => ({ ...d, furniture: [...d.furniture, made] }), `${named} outside`);
  choosePiece(made.id);
}

/** A new piece of a kind as it stands. */
function madeOf(
  kind: Piece,
  draft: Document,
  stood: Pick<Furniture, "name" | "position" | "size" | "turn">,
): Furniture {
  return {
    ...stood,
    id: unusedId(draft),
    kind: kind.key as Furniture["kind"],
    position: round(stood.position),
    turn: (stood.turn + 360) % 360,
    surface: kind.surface,
    second: kind.second,
    gloss: kind.gloss ? 1 : 0,
    open: kind.opens ? 90 : 0,
    through: kind.through,
    locked: false,
  };
}

/**
 * Bring a piece in where the lens sees it: what belongs to a wall to the one behind the face, a rug
 * under the person, all else between the two, its front to the lens. It takes no other's place.
 */
export function bringPiece(kind: Piece, heads: readonly Head[]) {
  const { draft } = readDesk(),
    frame = frameOf();
  if (!draft || !frame) return;
  const { face, lens } = frame,
    { toward } = floorAxes(face, lens);
  if (kind.outside) return bringOutside(kind, draft, face, toward);
  const wall = wallBehind(draft.room, face, lens),
    hung = kind.wall && !draft.room.outdoors ? wall : null;
  const turn = hung
    ? turnFrom(hung.wall)
    : Math.round((Math.atan2(-toward[0], toward[1]) * 180) / Math.PI / 90) * 90;
  const [w, d, h] = kind.size,
    { low, high: far } = boundsOf(draft.room),
    top = draft.room.height - kind.base;
  const high = draft.room.outdoors ? h : kind.high ? top : Math.min(h, top);
  const within = (wide: number, k: 0 | 1) =>
    draft.room.outdoors ? wide : Math.min(wide, far[k] - low[k]);
  const size: Point = round([within(w, 0), within(d, 1), Math.max(high, 0.05 * h)]);
  const back = Math.max(1, halfReach({ size, turn })[1] + 0.45);
  const at: readonly [number, number] = hung
    ? hung.at
    : kind.group === "floor"
      ? [face[0], face[1]]
      : [face[0] - back * toward[0], face[1] - back * toward[1]];
  const name = unusedName(draft, kind.name.replace(/,.*/, ""));
  const along: readonly [number, number] = hung
    ? [hung.wall.inward[1], -hung.wall.inward[0]]
    : [-toward[1], toward[0]];
  // A small thing on the nearest top that has room for it; where none has, on the floor.
  const small = kind.base > 0 && !kind.wall && !kind.high;
  const on = (small ? tablesNear(draft, size, at) : []).flatMap((table) => {
    const z = table.position[2] + table.size[2];
    const spot = onTop(table, { size, turn, position: [0, 0, z] }, at, draft);
    return spot ? [{ z, spot }] : [];
  })[0];
  const ceiling = kind.ceiling && !draft.room.outdoors ? draft.room.height - size[2] : null;
  const z = on?.z ?? ceiling ?? kind.base;
  const [x, y] = on?.spot ?? clearPlace({ size, turn, position: [0, 0, z] }, at, along, draft);
  const key = kind.key as Furniture["kind"];
  const stood = { name, kind: key, position: round([x, y, z]), size, turn };
  const made = madeOf(
    kind,
    draft,
    kind.key === "strip-light" ? underCupboard(stood, draft) : stood,
  );
  const { lamp } = kind,
    head = heads.find((h) => h.key === lamp?.head);
  act(
    (d) => ({
      ...d,
      furniture: [...d.furniture, made],
      units: lamp && head ? [...d.units, lightOf(d, made, lamp, head)] : d.units,
    }),
    `${name} in`,
  );
  choosePiece(made.id);
}

/** Cloth that is laid flat on a top, and how much it reflects. */
export const CLOTHS = { black: 0.03, white: 0.8 } as const;
/** How thick it is told [m]. */
const CLOTH = 0.004;

export const hasTop = (item: Furniture) => TOPS.includes(item.kind) && !item.scan;

/** Lay a black or white cloth over the whole of a top, or inside a round one. */
export function layCloth(id: string, tone: keyof typeof CLOTHS) {
  const { draft } = readDesk(),
    top = draft?.furniture.find((f) => f.id === id);
  if (!draft || !top) return;
  const part = top.kind === "round-table" ? Math.SQRT1_2 : 1,
    [x, y] = top.position as Point,
    over = top.position[2] + top.size[2]!;
  // On what was laid there before.
  const laid = draft.furniture.filter(
    (f) =>
      f.kind === "rug" &&
      Math.abs(f.position[2] - over) < 0.1 &&
      Math.hypot(f.position[0] - x, f.position[1] - y) < Math.min(...top.size) / 2,
  );
  const z = Math.max(over, ...laid.map((f) => f.position[2] + f.size[2]!));
  const made: Furniture = {
    id: unusedId(draft),
    name: unusedName(draft, `${tone === "black" ? "Black" : "White"} cloth`),
    kind: "rug",
    position: round([x, y, z]),
    size: round([part * top.size[0]!, part * top.size[1]!, CLOTH]),
    turn: top.turn,
    surface: { reflectance: CLOTHS[tone], colour: [1, 1, 1] },
    second: null,
    gloss: 0,
    open: 0,
    through: 0,
    locked: false,
  };
  act((d) => ({ ...d, furniture: [...d.furniture, made] }), `${made.name} laid on ${top.name}`);
  choosePiece(made.id);
}

export function copyPiece(id: string) {
  const { draft } = readDesk(),
    item = draft?.furniture.find((f) => f.id === id);
  if (!draft || !item) return;
  const [c, s] = [Math.cos((item.turn * Math.PI) / 180), Math.sin((item.turn * Math.PI) / 180)];
  const by = item.size[0] + 0.05;
  // To its left hand, or the other one where there is a wall.
  const places = [1, -1].map((side) =>
    standing(
      [item.position[0] + side * by * c, item.position[1] + side * by * s],
      item,
      draft.room,
      true,
    ),
  );
  const clear = places.find(
    ([x, y]) => Math.hypot(x - item.position[0], y - item.position[1]) > by - 0.02,
  );
  const [x, y] = clear ?? places[0]!;
  const made = {
    ...item,
    id: unusedId(draft),
    name: unusedName(draft, item.name.replace(/ \d+$/, "")),
    position: round([x, y, item.position[2]]),
    locked: false,
  };
  const by3 = made.position.map((v, k) => v - item.position[k]!);
  const light = draft.units.find((u) => u.piece === item.id);
  const copied = light && {
    ...light,
    id: freshUnit(draft),
    name: `${made.name}, light`,
    piece: made.id,
    position: round(light.position.map((v, k) => v + by3[k]!)),
    aim: round(light.aim.map((v, k) => v + by3[k]!)),
  };
  act(
    (d) => ({
      ...d,
      furniture: [...d.furniture, made],
      units: copied ? [...d.units, copied] : d.units,
    }),
    `${item.name} copied`,
  );
  choosePiece(made.id);
}
