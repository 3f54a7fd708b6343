/** Stands that bear more than their own head. */
import type { Document, Grip, Unit } from "../../app/api";
import { footOf } from "../plan/stands";

/** Units on whose stands an arm of something may be, the nearest first. */
export function bearersOf(d: Document | null, item: Unit | Grip): Unit[] {
  const off = (u: Unit) => {
    const [x, y] = footOf(u)!;
    return Math.hypot(x - item.position[0], y - item.position[1]);
  };
  return (d?.units ?? [])
    .filter((u) => u.id !== item.id && !u.switch && !u.piece && footOf(u))
    .sort((one, other) => off(one) - off(other));
}

/** What changes of something that is put on a unit's stand. */
export const onArm = (unit: Unit) => ({
  held: "arm" as const,
  bearer: unit.id,
  foot: [...footOf(unit)!] as [number, number],
});
