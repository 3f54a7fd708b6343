/** Places of things that are carried and turned as one. */
import type { Furniture, Point } from "../../app/api";

export type Stood = Pick<Furniture, "position" | "size" | "turn">;

export const round = (p: readonly number[]): Point =>
  p.map((v) => Math.round(v * 1e4) / 1e4) as Point;

/** A way, turned about the upright, counter-clockwise from above [deg]. */
export function turned([x, y, z]: readonly number[], degrees: number): Point {
  const a = (degrees * Math.PI) / 180,
    [c, s] = [Math.cos(a), Math.sin(a)];
  return [c * x! - s * y!, s * x! + c * y!, z!];
}

export const minus = (a: readonly number[], b: readonly number[]) =>
  a.map((v, k) => v - b[k]!) as Point;
export const plus = (a: readonly number[], b: readonly number[]) =>
  a.map((v, k) => v + b[k]!) as Point;

/** Whether a piece stands otherwise, or is of another size. */
export const moved = (a: Stood, b: Stood) =>
  a.turn !== b.turn ||
  [0, 1, 2].some((k) => a.position[k] !== b.position[k] || a.size[k] !== b.size[k]);
