import type { Camera } from "../../app/api";

/** Shutter as it is set: a time as 1/n, an angle in degrees. */
export function shutterWords({ shutter }: Pick<Camera, "shutter">) {
  if (shutter.angle != null) return `${+shutter.angle.toFixed(1)}°`;
  return shutter.time! < 0.5 ? `1/${+(1 / shutter.time!).toFixed(1)}` : `${shutter.time} s`;
}
