/** Aims that are kept on a thing or a person, and a camera that follows whose picture it is. */
import type { Camera, Document, Figure, Grip, Point, Unit } from "../../app/api";
import EYES from "./eyes.json";
import { inRoom } from "./walls";

type Aimed = Pick<Unit | Grip, "id" | "position" | "aim" | "aims_at">;

/** Where a camera that goes along comes no nearer to a wall [m]; the server refuses outside. */
const ROOM = 0.05;
/** How near an aim is to a thing that it counts as aimed there [m]. */
const NEAR = 0.03;
/** What differs by less is one place [m]. */
const SAME = 1e-6;

const LISTS = {
  furniture: "furniture",
  unit: "units",
  grip: "grip",
  mark: "marks",
  camera: "cameras",
} as const;

const round = (p: readonly number[]): Point => p.map((v) => Math.round(v * 1e4) / 1e4) as Point;
const plus = (a: readonly number[], b: readonly number[]) => round(a.map((v, k) => v + b[k]!));
const minus = (a: readonly number[], b: readonly number[]) => a.map((v, k) => v - b[k]!) as Point;
const same = (a: readonly number[], b: readonly number[]) =>
  a.every((v, k) => Math.abs(v - b[k]!) < SAME);

/** Whether an aim is at a place. */
export const isAt = (aim: readonly number[], place: readonly number[]) =>
  Math.hypot(...aim.map((v, k) => v - place[k]!)) < NEAR;

/** Where a person's eyes are, but for how the head is turned. */
export function eyesOf(f: Figure): Point {
  const { before, high } = EYES[f.figure][f.pose];
  const turn = (f.facing * Math.PI) / 180;
  return [f.position[0] - before * Math.sin(turn), f.position[1] + before * Math.cos(turn), high];
}

/** What a sheet that throws the sun says instead of a unit. */
export const SUN = "@sun";
/** So far off the sun stands in one direction for all of a place [m]. */
const AFAR = 1e6;

/** A place toward the sun; null while there is none. */
function placeOfSun({ sky: { sun } }: Document): Point | null {
  if (!sun) return null;
  const [a, e] = [(sun.azimuth * Math.PI) / 180, (sun.elevation * Math.PI) / 180];
  const way = [Math.sin(a) * Math.cos(e), Math.cos(a) * Math.cos(e), Math.sin(e)];
  return way.map((v) => AFAR * v) as Point;
}

/** The middle of a thing, or a person's eyes; null where there is no such thing. */
export function middleOf(d: Document, thing: string): Point | null {
  if (thing === SUN) return placeOfSun(d);
  const [kind, id] = thing.split(":");
  if (kind === "person") {
    const person = d.figures.find((f) => f.id === id);
    return person ? eyesOf(person) : null;
  }
  const list = LISTS[kind as keyof typeof LISTS];
  if (!list) return null;
  const item = (d[list] as { id: string; position: Point }[]).find((one) => one.id === id);
  if (!item) return null;
  const [x, y, z] = item.position;
  return kind === "furniture"
    ? [x, y, z + (item as never as { size: Point }).size[2] / 2]
    : [x, y, z];
}

/** All that something may be aimed at, people first. */
export function thingsOf(d: Document, own: string): { value: string; label: string }[] {
  const named = (kind: string, items: readonly { id: string; name: string }[]) =>
    items.map((item) => ({ value: `${kind}:${item.id}`, label: item.name }));
  return [
    ...d.figures.map((f, at) => ({
      value: `person:${f.id}`,
      label: at ? `${f.name}'s face` : "the face",
    })),
    ...named("grip", d.grip),
    ...named("unit", d.units),
    ...named("furniture", d.furniture),
    ...named("mark", d.marks),
    ...named("camera", d.cameras),
  ].filter((one) => one.value !== own);
}

/** Shorter sums of two ways than this are none: what stands in line has no front between. */
const IN_LINE = 0.02;

/** The way from one place to another, of length one. */
export function wayTo(from: readonly number[], to: readonly number[]) {
  const d = minus(to, from),
    n = Math.hypot(...d) || 1;
  return d.map((v) => v / n);
}

/**
 * Where a front looks that throws one place's light at another: half way between both ways; null
 * for what stands in line between them.
 */
export function halfWay(from: readonly number[], one: readonly number[], other: readonly number[]) {
  const [a, b] = [wayTo(from, one), wayTo(from, other)],
    sum = a.map((v, k) => v + b[k]!);
  return Math.hypot(...sum) < IN_LINE ? null : plus(from, sum);
}

/**
 * A sheet that throws a unit's light, or the sun's, at the subject, after a change: kept between
 * the two, or let go by a turn of the hand.
 */
function thrown(before: Document, after: Document, old: Grip | undefined, now: Grip): Grip {
  if (!now.throws) return now;
  const lamp = middleOf(after, now.throws),
    face = eyesOf(after.figures[0]!);
  // A sun that has set comes up again; a unit that was struck does not.
  if (!lamp) return now.throws === SUN ? now : { ...now, throws: "" };
  const kept = old?.throws === now.throws,
    was = kept && middleOf(before, now.throws);
  const stays =
    was &&
    same(was, lamp) &&
    same(eyesOf(before.figures[0]!), face) &&
    same(old!.position, now.position);
  if (stays) return same(old!.aim, now.aim) ? now : { ...now, throws: "" };
  const aim = halfWay(now.position, lamp, face);
  return !aim || same(aim, now.aim) ? now : { ...now, aim };
}

/** An aim after a change: gone along, held while what is aimed was carried, or let go by a turn. */
function kept<T extends Aimed>(before: Document, after: Document, old: T | undefined, now: T): T {
  if (!now.aims_at) return now;
  const is = middleOf(after, now.aims_at);
  if (!is) return { ...now, aims_at: "" };
  const was = middleOf(before, now.aims_at);
  if (!was || !old || old.aims_at !== now.aims_at) return now;
  const turned = !same(old.aim, now.aim);
  if (!same(was, is)) return turned ? now : { ...now, aim: plus(now.aim, minus(is, was)) };
  if (!turned) return now;
  return same(old.position, now.position) ? { ...now, aims_at: "" } : { ...now, aim: old.aim };
}

/** A camera gone after whose picture it is: turned, or moved as far. */
function followed(before: Document, after: Document, old: Camera | undefined, now: Camera): Camera {
  if (!now.follow || old?.follow !== now.follow) return now;
  if (!same(old.position, now.position) || !same(old.aim, now.aim)) return now;
  const whose = `person:${now.subject ?? before.figures[0]!.id}`,
    was = middleOf(before, whose),
    is = middleOf(after, whose);
  if (!was || !is || same(was, is)) return now;
  const by = minus(is, was),
    position = plus(now.position, by),
    goes = now.follow === "going" && inRoom(after.room, position, ROOM);
  return { ...now, aim: plus(now.aim, by), position: goes ? position : now.position };
}

/** A list with some of its items changed; the list itself where none is. */
function mapped<T>(list: readonly T[], change: (item: T) => T): T[] {
  const made = list.map(change);
  return made.some((item, k) => item !== list[k]) ? made : (list as T[]);
}

/** A set-up after a change, with what follows from aims that are kept and cameras that follow. */
export function keepAims(before: Document, after: Document): Document {
  const of = <T extends { id: string }>(items: readonly T[], id: string) =>
    items.find((item) => item.id === id);
  const units = mapped(after.units, (u) => kept(before, after, of(before.units, u.id), u)),
    grip = mapped(after.grip, (g) => {
      const old = of(before.grip, g.id);
      return thrown(before, after, old, kept(before, after, old, g));
    }),
    cameras = mapped(after.cameras, (c) => followed(before, after, of(before.cameras, c.id), c));
  if (units === after.units && grip === after.grip && cameras === after.cameras) return after;
  return { ...after, units, grip, cameras };
}
