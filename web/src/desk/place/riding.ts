/** A lamp and its bulb, a screen and its light: furniture and the units that are part of it. */
import type { Document, Furniture, Point, Unit } from "../../app/api";

type Stood = Pick<Furniture, "position" | "size" | "turn">;

const round = (p: readonly number[]): Point => p.map((v) => Math.round(v * 1e4) / 1e4) as Point;

/** A way, turned about the upright, counter-clockwise from above [deg]. */
function turned([x, y, z]: readonly number[], degrees: number): Point {
  const a = (degrees * Math.PI) / 180,
    [c, s] = [Math.cos(a), Math.sin(a)];
  return [c * x! - s * y!, s * x! + c * y!, z!];
}

const minus = (a: readonly number[], b: readonly number[]) => a.map((v, k) => v - b[k]!) as Point;
const plus = (a: readonly number[], b: readonly number[]) => a.map((v, k) => v + b[k]!) as Point;

/** A place of a piece, given in parts of its width, depth and height. */
export const placeOn = (piece: Stood, at: readonly number[]): Point =>
  round(
    plus(
      piece.position,
      turned(
        at.map((v, k) => v * piece.size[k]!),
        piece.turn,
      ),
    ),
  );

/** A unit's place and aim, gone along with its piece. */
function goneAlong(unit: Unit, was: Stood, is: Stood): Unit {
  const own = turned(minus(unit.position, was.position), -was.turn).map((v, k) => v / was.size[k]!),
    position = placeOn(is, own),
    aim = plus(position, turned(minus(unit.aim, unit.position), is.turn - was.turn));
  return { ...unit, position, aim: round(aim) };
}

const moved = (a: Stood, b: Stood) =>
  a.turn !== b.turn ||
  [0, 1, 2].some((k) => a.position[k] !== b.position[k] || a.size[k] !== b.size[k]);

/**
 * Keep together what belongs together after a change: a unit goes with the piece that it is part of
 * and is struck with it; a unit that was moved takes its piece along, unless that is locked.
 */
export function keepTogether(before: Document, after: Document): Document {
  if (before.furniture === after.furniture && before.units === after.units) return after;
  if (!before.units.some((u) => u.piece)) return after;
  const was = new Map(before.furniture.map((f) => [f.id, f])),
    had = new Map(before.units.map((u) => [u.id, u]));
  let furniture = after.furniture;
  for (const unit of after.units) {
    const old = had.get(unit.id),
      piece = furniture.find((f) => f.id === unit.piece),
      stood = piece && was.get(piece.id);
    if (!old || !piece || !stood || moved(stood, piece)) continue;
    const by = minus(unit.position, old.position);
    if (by.every((v) => v === 0) || piece.locked) continue;
    furniture = furniture.map((f) =>
      f === piece ? { ...f, position: round(plus(f.position, by)) } : f,
    );
  }
  const is = new Map(furniture.map((f) => [f.id, f]));
  const units = after.units.flatMap((unit) => {
    const old = had.get(unit.id),
      stood = was.get(unit.piece);
    if (!old || !stood) return [unit];
    const piece = is.get(unit.piece);
    if (!piece) return [];
    if (moved(stood, piece)) {
      const { position, aim } = goneAlong(old, stood, piece);
      return [{ ...unit, position, aim }];
    }
    // A locked piece does not let its lamp go.
    return [unit.position === old.position ? unit : { ...unit, position: old.position }];
  });
  return { ...after, furniture, units };
}
