/**
 * The words a hand places by, and metres: the twin of moth.document.polar, held to it by polar-
 * cases.json.
 */
import type { Point } from "../../app/api";

export type Polar = { angle: number; height: number; distance: number };

const RAD = Math.PI / 180;

/** Unit vectors on the floor: toward the lens, and camera right. */
export function floorAxes(face: Point, lens: Point) {
  const dx = lens[0] - face[0],
    dy = lens[1] - face[1];
  const length = Math.hypot(dx, dy);
  const toward: [number, number] = length > 1e-9 ? [dx / length, dy / length] : [0, -1];
  return { toward, right: [-toward[1], toward[0]] as [number, number] };
}

export function toPolar(position: Point, face: Point, lens: Point): Polar {
  const { toward, right } = floorAxes(face, lens);
  const [x, y, z] = [position[0] - face[0], position[1] - face[1], position[2] - face[2]];
  const along = x * toward[0] + y * toward[1],
    side = x * right[0] + y * right[1];
  return {
    angle: Math.atan2(side, along) / RAD,
    height: Math.atan2(z, Math.hypot(along, side)) / RAD,
    distance: Math.hypot(x, y, z),
  };
}

export function fromPolar({ angle, height, distance }: Polar, face: Point, lens: Point): Point {
  const { toward, right } = floorAxes(face, lens);
  const flat = distance * Math.cos(height * RAD);
  const along = flat * Math.cos(angle * RAD),
    side = flat * Math.sin(angle * RAD);
  return [
    face[0] + along * toward[0] + side * right[0],
    face[1] + along * toward[1] + side * right[1],
    face[2] + distance * Math.sin(height * RAD),
  ];
}

/** Turn an angle back into -180..180. */
export const wrap = (angle: number) => ((((angle + 180) % 360) + 360) % 360) - 180;

/** A height angle [deg] as it is said: nothing stands "-10° above". */
export function heightWords(height: number) {
  const whole = Math.round(height);
  if (whole === 0) return "level with the eyes";
  return `${Math.abs(whole)}° ${whole > 0 ? "above" : "below"} the eyes`;
}
