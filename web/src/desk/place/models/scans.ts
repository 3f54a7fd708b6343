/** Scans and models of the production: asked of the server, brought into the set-up. */
import { useQuery } from "@tanstack/react-query";
import { api, got, type Furniture, type Point, type Schemas } from "../../../app/api";
import { act, choosePiece, readDesk, useDesk } from "../../store";
import { boundsOf } from "../walls";
import { standInView, unusedId, unusedName } from "../bringing";

export type Scan = Schemas["ScanOut"];

export const scansKey = (production: number) => ["scans", production] as const;

/** The models of the desk's production; asked only where somebody wants them. */
export function useScans(wanted = true) {
  const production = useDesk((d) => d.record?.production.id);
  return useQuery({
    queryKey: scansKey(production ?? 0),
    queryFn: () =>
      got<Scan[]>(
        api.GET("/api/productions/{pk}/scans", { params: { path: { pk: production! } } }),
      ),
    enabled: wanted && production !== undefined,
    staleTime: 60_000,
  });
}

/** What model files count in [m]. */
export const MEASURES = {
  metres: 1,
  centimetres: 0.01,
  millimetres: 0.001,
  inches: 0.0254,
  feet: 0.3048,
} as const;
export type Measure = keyof typeof MEASURES;

/** Largest and least side of what can be stood somewhere [m]. */
const LARGEST = 200,
  LEAST = 0.02;
/** Air between a model and the walls of a room that is made to hold it [m]. */
const AIR = 0.05;

/** The measure that makes a thing of a believable size: metres, or what comes nearest to 2 m. */
export function likelyMeasure(size: readonly number[]): Measure {
  const long = Math.max(...size);
  if (long >= 0.2 && long <= 40) return "metres";
  const off = (m: Measure) => Math.abs(Math.log((long * MEASURES[m]) / 2));
  return (Object.keys(MEASURES) as Measure[]).sort((a, b) => off(a) - off(b))[0]!;
}

export const scaled = (size: readonly number[], by: number): Point =>
  size.map((v) => Math.max(0.005, Math.round(v * by * 1e3) / 1e3)) as Point;

/** Why a model of a size cannot be stood anywhere, or empty. */
export function unfitSize(size: readonly number[]): string {
  const long = Math.max(...size);
  if (long > LARGEST) return `${long.toFixed(0)} m long: no more than ${LARGEST} m can stand here.`;
  if (long < LEAST) return `${(long * 1000).toFixed(1)} mm long: too small to be lit.`;
  return "";
}

/** Whether a room is too small for a model. */
export function exceeds(room: { outdoors: boolean; height: number }, size: Point): boolean {
  if (room.outdoors) return false;
  const { low, high } = boundsOf(room as Parameters<typeof boundsOf>[0]);
  return size[0] > high[0] - low[0] || size[1] > high[1] - low[1] || size[2] > room.height;
}

/**
 * Stand a model in the set-up: a piece where the lens sees it, or, where it is larger than a plain
 * room, as the place: the room grows to hold it.
 */
export function bringScan(scan: Scan, size: Point) {
  const { draft } = readDesk();
  if (!draft) return;
  const name = unusedName(draft, scan.name);
  const made: Furniture = {
    id: unusedId(draft),
    name,
    kind: "scan",
    scan: scan.digest,
    position: [0, 0, 0],
    size,
    turn: 0,
    surface: { reflectance: 0.5, colour: [1, 1, 1] },
    second: null,
    gloss: 0,
    open: 0,
    through: 0,
    locked: false,
  };
  if (exceeds(draft.room, size) && !draft.room.outline) {
    const room = {
      ...draft.room,
      width: Math.max(draft.room.width, size[0] + 2 * AIR),
      depth: Math.max(draft.room.depth, size[1] + 2 * AIR),
      height: Math.max(draft.room.height, size[2] + AIR),
    };
    const placed = { ...made, position: [room.width / 2, room.depth / 2, 0] as Point };
    act(
      (d) => ({ ...d, room, furniture: [...d.furniture, placed] }),
      `${name} in, the room about it`,
    );
  } else {
    const stood = { ...made, ...standInView(draft, size) };
    act((d) => ({ ...d, furniture: [...d.furniture, stood] }), `${name} in`);
  }
  choosePiece(made.id);
}

/** How far two places of a picture are apart, in the measure of the model's file. */
export function apart(
  view: { wide: number; high: number },
  one: readonly number[],
  other: readonly number[],
) {
  return Math.hypot((one[0]! - other[0]!) * view.wide, (one[1]! - other[1]!) * view.high);
}
