/** What stands on what: books, lamps and cloths go along with the table under them. */
import type { Document, Furniture, Point } from "../../app/api";
import { moved, plus, minus, round, turned } from "./rigid";

/** How near its top a thing must stand to be on a piece [m], and how high a piece must be to carry
 * what is on it: a rug is drawn from under a sofa. */
const TOUCH = 0.01,
  LOW = 0.05;

const topOf = (f: Furniture) => f.position[2] + f.size[2]!;

/** Whether a piece is under a place on the plan. */
export function isUnder(f: Furniture, [x, y]: readonly number[]) {
  const [across, along] = turned(minus([x!, y!, 0], [f.position[0], f.position[1], 0]), -f.turn);
  return Math.abs(across) <= f.size[0] / 2 && Math.abs(along) <= f.size[1]! / 2;
}

/** Height of what stands under a piece's middle: floor, or the top of the highest piece there. */
export function under(item: Furniture, others: readonly Furniture[]) {
  return others
    .filter((f) => f.id !== item.id)
    .filter((f) => isUnder(f, item.position))
    .reduce((top, f) => Math.max(top, topOf(f)), 0);
}

/** The pieces that a thing stands on. */
const supports = (item: Furniture, others: readonly Furniture[]) =>
  others.filter(
    (f) =>
      f.id !== item.id &&
      topOf(f) > LOW &&
      Math.abs(topOf(f) - item.position[2]) < TOUCH &&
      isUnder(f, item.position),
  );

/**
 * Let what stands on a piece go along when that is carried, turned or made higher, and come down
 * when it is struck. What is locked stays, and so does what stands on another piece as well that
 * did not move.
 */
export function carryAlong(before: Document, after: Document): Document {
  if (before.furniture === after.furniture) return after;
  const was = new Map(before.furniture.map((f) => [f.id, f])),
    given = new Map(after.furniture.map((f) => [f.id, f])),
    is = new Map<string, Furniture>();

  function now(item: Furniture): Furniture {
    const known = is.get(item.id);
    if (known) return known;
    // Whatever leads round in a ring stands where it was.
    is.set(item.id, item);
    const old = was.get(item.id);
    if (!old || item.locked || moved(old, item)) return item;
    const on = supports(old, before.furniture)
      .map((f) => [f, given.get(f.id)] as const)
      .map(([f, left]) => [f, left && now(left)] as const);
    if (on.length && on.every(([, left]) => !left)) {
      const [x, y, z] = item.position as Point,
        lower = after.furniture.filter((f) => topOf(f) < z + TOUCH);
      const dropped = { ...item, position: round([x, y, under(item, lower)]) };
      is.set(item.id, dropped);
      return dropped;
    }
    const gone = on.filter(([f, n]) => n && moved(f, n));
    if (!gone.length || gone.length < on.length) return item;
    const [from, to] = gone[0]! as [Furniture, Furniture],
      higher = topOf(to) - topOf(from),
      [x, y, z] = old.position as Point;
    let carried: Furniture = { ...item, position: round([x, y, z + higher]) };
    // A board that is drawn out under a thing does not take it along.
    if (from.size[0] === to.size[0] && from.size[1] === to.size[1]) {
      const by = to.turn - from.turn,
        place = plus(to.position, turned(minus(old.position, from.position), by));
      carried = {
        ...carried,
        position: round([place[0], place[1], z + higher]),
        turn: (Math.round((item.turn + by + 720) * 10) % 3600) / 10,
      };
    }
    is.set(item.id, carried);
    return carried;
  }

  const furniture = after.furniture.map(now);
  return furniture.every((f, k) => f === after.furniture[k]) ? after : { ...after, furniture };
}
