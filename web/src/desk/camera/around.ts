/** The camera carried round the subject: alone, with the key, or with all that lights. */
import type { Document, Point } from "../../app/api";

export type Along = "alone" | "key" | "all";

const round = (v: number) => Math.round(v * 1e4) / 1e4;

/** A place turned about the upright through another, counter-clockwise from above [deg]. */
export function turned<P extends readonly number[]>(place: P, about: Point, degrees: number): P {
  const a = (degrees * Math.PI) / 180,
    [c, s] = [Math.cos(a), Math.sin(a)],
    [dx, dy] = [place[0]! - about[0], place[1]! - about[1]];
  return [
    round(about[0] + c * dx - s * dy),
    round(about[1] + s * dx + c * dy),
    ...place.slice(2),
  ] as unknown as P;
}

/** A set-up with its first camera so much farther round, and what goes with it. */
export function goneRound(
  d: Document,
  face: Point,
  degrees: number,
  along: Along,
  key: string | null,
): Document {
  const turn = <P extends readonly number[]>(place: P) => turned(place, face, degrees);
  const both = <T extends { position: Point; aim: Point }>(thing: T): T => ({
    ...thing,
    position: turn(thing.position),
    aim: turn(thing.aim),
  });
  const goes = (id: string) => along === "all" || (along === "key" && id === key);
  return {
    ...d,
    cameras: d.cameras.map((camera, at) => (at ? camera : both(camera))),
    units: d.units.map((unit) =>
      goes(unit.id) && !unit.switch
        ? { ...both(unit), foot: unit.foot ? turn(unit.foot) : unit.foot }
        : unit,
    ),
    grip:
      along === "all"
        ? d.grip.map((g) => ({ ...both(g), foot: g.foot ? turn(g.foot) : g.foot }))
        : d.grip,
  };
}

/** How far off the way a head looks the lens is: to its own left above zero [deg]. */
export function offTheNose(d: Document, face: Point): number {
  const { facing, head_turn: turn } = d.figures[0]!,
    [x, y] = d.cameras[0]!.position;
  const way = (Math.atan2(-(x - face[0]), y - face[1]) * 180) / Math.PI;
  return ((((way - facing - turn + 180) % 360) + 360) % 360) - 180;
}
