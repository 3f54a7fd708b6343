/** What goes together: furniture, its own lights and what stands on it; a stand and what is on it
 * by arms. */
import type { Document, Grip, Unit, Point } from "../../app/api";
import { footOf } from "../plan/stands";
import { minus, moved, plus, round, turned, type Stood } from "./rigid";
import { carryAlong } from "./stacking";

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

/**
 * Keep together what belongs together after a change: what stands on a piece goes with it; a unit
 * goes with the piece that it is part of and is struck with it; a unit that was moved takes its
 * piece along, unless that is locked.
 */
export function keepTogether(before: Document, after: Document): Document {
  return onStands(before, withPieces(before, carryAlong(before, after)));
}

/** A thing on another's stand by an arm, after a change of that: gone along, or let go. */
function borne<T extends Unit | Grip>(before: Document, after: Document, item: T, old?: T): T {
  if (item.held !== "arm") return item;
  const is = after.units.find((u) => u.id === item.bearer),
    was = before.units.find((u) => u.id === item.bearer),
    foot = is && footOf(is);
  // The stand was struck, or what it bore is hung now: what was on it stands by itself.
  if (!foot) return { ...item, held: "stand", bearer: "", foot: null };
  const from = was && footOf(was);
  if (!from || !old || old.bearer !== item.bearer || old.held !== "arm")
    return item.foot && item.foot.every((v, k) => v === foot[k]) ? item : { ...item, foot };
  const by: Point = [foot[0] - from[0], foot[1] - from[1], 0];
  if (by.every((v) => v === 0)) return item;
  // What the same change has moved by itself is where that says.
  if (old.position !== item.position) return { ...item, foot };
  return {
    ...item,
    foot,
    position: round(plus(item.position, by)),
    aim: round(plus(item.aim, by)),
  };
}

function onStands(before: Document, after: Document): Document {
  if (![...after.units, ...after.grip].some((item) => item.held === "arm")) return after;
  const units = after.units.map((u) =>
      borne(
        before,
        after,
        u,
        before.units.find((o) => o.id === u.id),
      ),
    ),
    grip = after.grip.map((g) =>
      borne(
        before,
        after,
        g,
        before.grip.find((o) => o.id === g.id),
      ),
    );
  const same = <T>(a: readonly T[], b: readonly T[]) => a.every((item, k) => item === b[k]);
  if (same(units, after.units) && same(grip, after.grip)) return after;
  return { ...after, units, grip };
}

function withPieces(before: Document, after: Document): Document {
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
