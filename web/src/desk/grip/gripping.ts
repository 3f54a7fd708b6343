/** Grip brought in, moved, turned and struck; and the rigs that are made in one move. */
import { api, got, type Document, type Grip, type Point, type Schemas } from "../../app/api";
import { frameOf, nudge, RING_THIRD } from "../units/gestures";
import { fromPolar, toPolar, wrap, type Polar } from "../plan/polar";
import { eyesOf, halfWay, middleOf, SUN, wayTo } from "../place/aiming";
import { inRoom } from "../place/walls";
import { act, chooseGrip, move, readDesk, setDesk, settle, withGrip } from "../store";

const FOOT = 0.3048;

/** Usual sizes, in feet as they are called. */
export const SIZES = [
  [2, 3],
  [4, 4],
  [4, 8],
  [6, 6],
  [8, 8],
  [12, 12],
] as const;

export const KINDS: {
  value: Grip["kind"];
  label: string;
  material: string;
  size: readonly [number, number];
  groups: string[];
}[] = [
  {
    value: "frame",
    label: "Frame with cloth",
    material: "grid-half",
    size: [4, 4],
    groups: ["cloth", "net"],
  },
  { value: "board", label: "Board", material: "foam-white", size: [4, 4], groups: ["board"] },
  {
    value: "v-flat",
    label: "V-flat",
    material: "board-matte",
    size: [8, 7],
    groups: ["board", "dark"],
  },
  {
    value: "reflector",
    label: "Hard reflector",
    material: "reflector-20",
    size: [2, 2],
    groups: ["reflector"],
  },
  { value: "mirror", label: "Mirror", material: "mirror", size: [2, 2], groups: ["reflector"] },
  { value: "flag", label: "Flag", material: "duvetyne", size: [2, 3], groups: ["dark"] },
  { value: "blinds", label: "Blinds", material: "board-matte", size: [4, 4], groups: ["board"] },
  { value: "branches", label: "Branches", material: "duvetyne", size: [3, 3], groups: ["dark"] },
];

const round = (p: readonly number[]): Point => p.map((v) => Math.round(v * 1e3) / 1e3) as Point;

/** Places that a piece is brought in at, in the order they are tried: angles off the lens, on its
 * side and then the other; distances to the face. */
const TURNS = [70, 95, 45, 120, 145, -70, -95, -45, -120, -145];
const DISTANCES = [1.4, 1.3, 1.2, 1.1, 1.0, 0.9, 0.8, 0.7, 0.6];
const HEAD = 0.25;

/** The first of some places that is in the room and clear of other grip and of heads, or the
 * clearest. */
function freePlace(setup: Document, width: number, places: Point[]): Point {
  const others = [
    ...setup.grip.map((g) => ({ at: g.position, reach: g.size[0] / 2 })),
    ...setup.units.map((u) => ({ at: u.position, reach: HEAD })),
  ];
  const clear = ([x, y]: Point) =>
    Math.min(
      ...others.map(({ at, reach }) => Math.hypot(x - at[0]!, y - at[1]!) - reach - width / 2),
    );
  const inside = places.filter((p) => inRoom(setup.room, p, 0.2));
  const best = (some: Point[]) => some.reduce((a, b) => (clear(b) > clear(a) ? b : a));
  return inside.find((p) => clear(p) > 0) ?? best(inside.length ? inside : places);
}

/** Bring a piece in beside the face, on the side the chosen unit is not. */
export function bringGrip(kind: Grip["kind"]) {
  const { draft } = readDesk();
  const frame = frameOf(),
    usual = KINDS.find((k) => k.value === kind)!;
  if (!draft || !frame) return;
  const ids = new Set([...draft.grip.map((g) => g.id), ...draft.units.map((u) => u.id)]);
  let n = 1;
  while (ids.has(`g${n}`)) n++;
  const names = new Set(draft.grip.map((g) => g.name));
  let name = usual.label;
  for (let k = 2; names.has(name); k++) name = `${usual.label} ${k}`;
  const key = draft.units.find((u) => u.id === readDesk().chosen);
  const side = key && toPolar(key.position as Point, frame.face, frame.lens).angle < 0 ? 1 : -1;
  const size: [number, number] = [
    usual.size[0] * FOOT,
    Math.min(usual.size[1] * FOOT, draft.room.height - 0.3),
  ];
  const high = Math.min(
    Math.max(frame.face[2], size[1] / 2 + 0.05),
    draft.room.height - size[1] / 2 - 0.05,
  );
  const place = freePlace(
    draft,
    size[0],
    TURNS.flatMap((turn) =>
      DISTANCES.map((distance) =>
        fromPolar({ angle: side * turn, height: 0, distance }, frame.face, frame.lens),
      ),
    ),
  );
  const piece: Grip = {
    id: `g${n}`,
    name,
    kind,
    material: usual.material,
    position: round([place[0], place[1], high]),
    aim: round([frame.face[0], frame.face[1], high]),
    roll: 0,
    aims_at: "",
    throws: "",
    size: size.map((s) => Math.round(s * 1e3) / 1e3) as [number, number],
    // Two boards at an angle stand by themselves.
    held: kind === "v-flat" ? "built-in" : "stand",
    foot: null,
    bearer: "",
    slat_pitch: 0.1,
    slat_angle: 30,
  };
  act((d) => ({ ...d, grip: [...d.grip, piece] }), `${name} in`);
  chooseGrip(piece.id);
}

export function strikeGrip(id: string) {
  const piece = readDesk().draft?.grip.find((g) => g.id === id);
  if (piece)
    act((d) => ({ ...d, grip: d.grip.filter((g) => g.id !== id) }), `${piece.name} struck`);
  setDesk({ chosenGrip: readDesk().draft?.grip[0]?.id ?? null });
}

/** A stand's foot, gone along. */
const gone = (foot: Grip["foot"], by: readonly number[]): Grip["foot"] =>
  foot && (foot.map((v, k) => Math.round((v + by[k]!) * 1e3) / 1e3) as [number, number]);

/** A piece moved keeps the way it faces. */
export function carry(id: string, to: Point) {
  move(
    withGrip(id, (g) => ({
      position: round(to),
      aim: round(g.aim.map((v, k) => v + to[k]! - g.position[k]!)),
      // An arm's stand stays where it is.
      foot:
        g.held === "arm" ? g.foot : gone(g.foot, [to[0] - g.position[0], to[1] - g.position[1]]),
    })),
  );
}

export function placeGrip(id: string, change: (now: Polar) => Partial<Polar>) {
  const frame = frameOf(),
    piece = readDesk().draft?.grip.find((g) => g.id === id);
  if (!frame || !piece) return;
  const now = toPolar(piece.position as Point, frame.face, frame.lens),
    next = { ...now, ...change(now) };
  carry(
    id,
    fromPolar(
      { ...next, angle: wrap(next.angle), distance: Math.max(0.2, next.distance) },
      frame.face,
      frame.lens,
    ),
  );
}

/** Turn about the upright [deg], counter-clockwise from above. */
export function turnGrip(id: string, by: number) {
  const [c, s] = [Math.cos((by * Math.PI) / 180), Math.sin((by * Math.PI) / 180)];
  move(
    withGrip(id, ({ position: p, aim: a, foot, held }) => {
      const turn = (q: readonly number[]) => [
        p[0]! + c * (q[0]! - p[0]!) - s * (q[1]! - p[1]!),
        p[1]! + s * (q[0]! - p[0]!) + c * (q[1]! - p[1]!),
      ];
      return {
        aim: round([...turn(a), a[2]!]),
        foot:
          held === "arm"
            ? foot
            : foot && (turn(foot).map((v) => Math.round(v * 1e3) / 1e3) as [number, number]),
      };
    }),
  );
}

/** Face the subject, the lamp, or half way between: where a mirror throws the one to the other. */
export function face(id: string, to: "face" | "unit" | "between") {
  const frame = frameOf(),
    { draft, chosen } = readDesk();
  const piece = draft?.grip.find((g) => g.id === id),
    unit = draft?.units.find((u) => u.id === chosen);
  if (!frame || !piece || (to !== "face" && !unit)) return;
  const p = piece.position,
    straight = wayTo(p, to === "face" ? frame.face : unit!.position);
  const aim =
    to === "between"
      ? halfWay(p, unit!.position, frame.face)
      : round(p.map((v, k) => v + straight[k]!));
  if (!aim) return inLine(piece.name);
  act(
    withGrip(id, () => ({ aim })),
    `${piece.name} turned`,
  );
}

const inLine = (name: string) =>
  setDesk({
    fault: {
      text: `${name} stands in line between the lamp and the face: set it to the side.`,
      path: "",
    },
  });

/**
 * Keep a piece between the unit in hand, or the sun, and the face: whichever is carried, and as the
 * sun goes round; or let it go.
 */
export function keepBetween(id: string, sun = false) {
  const { draft, chosen } = readDesk();
  const piece = draft?.grip.find((g) => g.id === id),
    unit = draft?.units.find((u) => u.id === chosen) ?? draft?.units.find((u) => u.on);
  if (!draft || !piece) return;
  const throws = sun ? SUN : unit && `unit:${unit.id}`;
  if (throws && piece.throws !== throws) {
    const from = middleOf(draft, throws),
      aim = from && halfWay(piece.position, from, eyesOf(draft.figures[0]!));
    if (!aim) return inLine(piece.name);
    const words = `${piece.name} kept between ${sun ? "the sun" : unit!.name} and the face`;
    act(
      withGrip(id, () => ({ throws, aims_at: "", aim })),
      words,
    );
  } else if (piece.throws)
    act(
      withGrip(id, () => ({ throws: "" })),
      `${piece.name} let go`,
    );
}

/** Keys on the chosen piece; true when the key was taken. */
export function gripKey(piece: Grip, event: { key: string; shiftKey: boolean }): boolean {
  const fine = event.shiftKey,
    ring = fine ? RING_THIRD ** 0.25 : RING_THIRD;
  const lift = (by: number) =>
    carry(piece.id, [piece.position[0]!, piece.position[1]!, piece.position[2]! + by]);
  const actions: Record<string, [() => void, string]> = {
    ArrowLeft: [
      () => placeGrip(piece.id, (p) => ({ angle: p.angle - (fine ? 1 : 5) })),
      "round the face",
    ],
    ArrowRight: [
      () => placeGrip(piece.id, (p) => ({ angle: p.angle + (fine ? 1 : 5) })),
      "round the face",
    ],
    ArrowUp: [() => placeGrip(piece.id, (p) => ({ distance: p.distance * ring })), "out"],
    ArrowDown: [() => placeGrip(piece.id, (p) => ({ distance: p.distance / ring })), "in"],
    PageUp: [() => lift(fine ? 0.01 : 0.1), "up"],
    PageDown: [() => lift(fine ? -0.01 : -0.1), "down"],
    "[": [() => turnGrip(piece.id, fine ? 1 : 5), "turned"],
    "]": [() => turnGrip(piece.id, fine ? -1 : -5), "turned"],
  };
  const action = actions[event.key];
  if (!action) return false;
  nudge(action[0], `${piece.name} ${action[1]}`);
  return true;
}

/** A rig in one move: the server places lamp, cloth and board sensibly; one revision, one undo. */
export async function rigMove(unit: string, key: string) {
  const { record, draft } = readDesk();
  if (!record || !draft) return;
  const before = new Set(draft.grip.map((g) => g.id));
  try {
    const made = await got<Schemas["RigOut"]>(
      api.POST("/api/setups/{pk}/rig", {
        params: { path: { pk: record.id } },
        body: { document: draft, unit, move: key, material: null, size: null },
      }),
    );
    // What the hand did meanwhile counts more than a rig made from what was before.
    if (readDesk().draft !== draft) return;
    move(() => made.document);
    settle(made.gesture);
    const fresh = made.document.grip.find((g) => !before.has(g.id));
    setDesk({ fault: null, ...(fresh ? { chosenGrip: fresh.id } : {}) });
  } catch (error) {
    setDesk({ fault: { text: (error as Error).message, path: "" } });
  }
}
