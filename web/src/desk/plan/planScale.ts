import type { Document, Point } from "../../app/api";
import { boundsOf } from "../place/walls";
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

/** Turn on the screen of what faces a way on the floor: 0 north, counter-clockwise [deg]. */
export function turnOn(scale: PlanScale, facing: number) {
  const [x, y] = scale.toScreen([0, 0]),
    a = (facing * Math.PI) / 180,
    [nx, ny] = scale.toScreen([-Math.sin(a), Math.cos(a)]);
  return (Math.atan2(ny - y, nx - x) * 180) / Math.PI - 90;
}

/** What is left free about the place on its plan [px]. */
const RIM = 34;

/**
 * True scale, north up, the whole room in it and the units before its windows; a house outside when
 * it is in hand.
 */
export function placeScale(
  width: number,
  height: number,
  document: Document,
  inHand: string | null = null,
): PlanScale {
  const { low, high } = boundsOf(document.room);
  const piece = document.furniture.find((f) => f.id === inHand);
  const out = [...document.units, ...document.cameras, ...(piece ? [piece] : [])].map(
    (thing) => thing.position,
  );
  const each = [0, 1].map((k) => {
    const all = [low[k]!, high[k]!, ...out.map((p) => p[k]!)];
    return [Math.min(...all), Math.max(...all)] as const;
  });
  const [[west, east], [south, north]] = each as [
    readonly [number, number],
    readonly [number, number],
  ];
  const zoom = Math.min((width - 2 * RIM) / (east - west), (height - 2 * RIM) / (north - south));
  const [mx, my] = [(west + east) / 2, (south + north) / 2];
  return {
    zoom,
    toScreen: ([x = 0, y = 0]) => [width / 2 + (x - mx) * zoom, height / 2 - (y - my) * zoom],
    toFloor: (sx, sy) => [mx + (sx - width / 2) / zoom, my - (sy - height / 2) / zoom],
  };
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
