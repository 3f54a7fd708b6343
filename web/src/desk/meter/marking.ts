/** Putting marks: beside the face, where a hand points, in lines and grids. */
import { api, got, type Document, type Point, type Schemas } from "../../app/api";
import { report } from "../session/line";
import { floorAxes } from "../plan/polar";
import { frameOf } from "../units/gestures";
import { heldIn, inRoom } from "../place/walls";
import { act, readDesk } from "../store";

export type Mark = Document["marks"][number];
/** Ways a line of marks runs. */
export type Run = "across" | "lens" | "grid";
/** Marks that a set-up may have. */
export const MOST = 40;

const round = (p: readonly number[]) => p.map((v) => +v.toFixed(3)) as Point;

export function toward(from: Point, to: Point): Point {
  const d = to.map((v, k) => v - from[k]!);
  const length = Math.hypot(...d) || 1;
  return d.map((v) => +(v / length).toFixed(4)) as Point;
}

/** Marks with ids and, where they have none, names of their own. */
function numbered(draft: Document, marks: Omit<Mark, "id">[]): Mark[] {
  const taken = new Set(draft.marks.map((m) => m.id));
  let n = 1;
  return marks.map((mark) => {
    while (taken.has(`m${n}`)) n++;
    taken.add(`m${n}`);
    return { ...mark, id: `m${n}`, name: (mark.name || `Mark ${n}`).slice(0, 80) };
  });
}

function add(marks: Omit<Mark, "id">[], words: (made: Mark[]) => string) {
  const { draft } = readDesk();
  if (!draft) return;
  const made = numbered(draft, marks).slice(0, MOST - draft.marks.length);
  if (made.length) act((d) => ({ ...d, marks: [...d.marks, ...made] }), words(made).slice(0, 120));
}

export function holdBesideFace() {
  const frame = frameOf();
  if (!frame) return;
  const away = toward(frame.face, frame.lens);
  const position = round([
    frame.face[0] - away[1] * 0.5,
    frame.face[1] + away[0] * 0.5,
    frame.face[2],
  ]);
  const direction = toward(position, frame.lens);
  add([{ name: "", position, direction, receiver: "dome" }], ([m]) => `${m!.name} held`);
}

/** Hold the meter to what a place of the frame shows. */
export async function holdAtFrame(x: number, y: number) {
  const { record, draft, stored } = readDesk();
  if (!record || !draft) return;
  try {
    const found = await got<Schemas["Pointed"]>(
      api.POST("/api/setups/{pk}/point", {
        params: { path: { pk: record.id } },
        body: { document: draft === stored ? null : draft, x, y },
      }),
    );
    const { position, direction, receiver } = found;
    const name = `On ${found.name.replaceAll("'", "")}`;
    add([{ name, position: round(position), direction, receiver }], () => `${name}: mark held`);
  } catch (error) {
    report(error as never);
  }
}

/** Nearest to a wall that a meter is held over the floor [m]. */
const OFF_WALL = 0.1;

/**
 * Hold the meter over a place of the plan, as high as the eyes, toward the lens; a press past a
 * wall means the place before it.
 */
export function holdOverFloor([x, y]: [number, number]) {
  const frame = frameOf(),
    { room } = readDesk().draft!;
  if (!frame) return;
  const position = round([...heldIn(room, [x, y], OFF_WALL), frame.face[2]]);
  const direction = toward(position, frame.lens);
  add([{ name: "", position, direction, receiver: "dome" }], ([m]) => `${m!.name} held`);
}

/** Whether a place is in the room: what a line of marks would have behind a wall is left out. */
function inPlace(at: Point) {
  const { room } = readDesk().draft!;
  return at[2] > 0 && inRoom(room, at, 1e-6) && (room.outdoors || at[2] < room.height);
}

/**
 * Marks that carry one on: along the wall it is on (level, to the right as seen from before it),
 * toward the lens, or a grid on the wall to the right and up.
 */
export function lineOf(mark: Mark, run: Run, count: number, every: number) {
  return along(mark, run, count, every).filter((m) => inPlace(m.position as Point));
}

function along(mark: Mark, run: Run, count: number, every: number): Omit<Mark, "id">[] {
  const [dx, dy] = mark.direction as Point;
  const flat = Math.hypot(dx, dy);
  const frame = frameOf();
  const lens = frame ? floorAxes(mark.position as Point, frame.lens) : null;
  // A mark that looks straight up or down has no wall: right is then the camera's.
  const right: Point =
    flat > 0.05 ? [-dy / flat, dx / flat, 0] : lens ? [...lens.right, 0] : [1, 0, 0];
  const ahead: Point = lens ? [...lens.toward, 0] : [0, 1, 0];
  const up: Point = flat > 0.05 ? [0, 0, 1] : [-ahead[0], -ahead[1], 0];
  const at = (ways: [Point, number][]) =>
    round(mark.position.map((v, k) => v + ways.reduce((sum, [w, n]) => sum + w[k]! * n, 0)));
  const metres = (n: number) => `${+(n * every).toFixed(2)}`;
  const one = (name: string, position: Point) => ({
    ...mark,
    name: `${mark.name} ${name}`,
    position,
  });
  const steps = [...Array(count).keys()];
  if (run === "grid")
    return steps
      .flatMap((row) => steps.map((column) => [column, row] as const))
      .filter(([column, row]) => column || row)
      .map(([column, row]) =>
        one(
          `${String.fromCharCode(65 + column)}${row + 1}`,
          at([
            [right, column * every],
            [up, row * every],
          ]),
        ),
      );
  const way = run === "lens" ? ahead : right;
  return steps.slice(1).map((n) => one(`+${metres(n)} m`, at([[way, n * every]])));
}

export function repeat(mark: Mark, made: Omit<Mark, "id">[]) {
  add(made, () => `${made.length} marks from ${mark.name}`);
}
