import type { Document, Point } from "../../app/api";
import { floorAxes } from "./polar";

export type PlanScale = {
  /** Pixels a metre. */
  zoom: number;
  toScreen: (p: readonly number[]) => [number, number];
  /** Place on the floor of a place on the plan. */
  toFloor: (x: number, y: number) => [number, number];
};

/** How far out the plan must reach [m]: camera and units, and no farther than the room asks. */
export function planReach({ units, cameras }: Document, face: Point) {
  const far = [...units, cameras[0]!].map(({ position: [x, y] }) =>
    Math.hypot(x - face[0], y - face[1]),
  );
  return Math.max(2.3, ...far) * 1.13;
}

/** True scale, the face in the middle, the camera straight down. */
export function planScale(
  width: number,
  height: number,
  reach: number,
  face: Point,
  lens: Point,
): PlanScale {
  const { toward, right } = floorAxes(face, lens);
  const zoom = Math.min(width, height) / 2 / reach;
  const [cx, cy] = [width / 2, height / 2];
  return {
    zoom,
    toScreen: ([x = 0, y = 0]) => {
      const dx = x - face[0],
        dy = y - face[1];
      return [
        cx + (dx * right[0] + dy * right[1]) * zoom,
        cy + (dx * toward[0] + dy * toward[1]) * zoom,
      ];
    },
    toFloor: (sx, sy) => {
      const side = (sx - cx) / zoom,
        along = (sy - cy) / zoom;
      return [
        face[0] + side * right[0] + along * toward[0],
        face[1] + side * right[1] + along * toward[1],
      ];
    },
  };
}
