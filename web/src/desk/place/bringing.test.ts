import { beforeEach, expect, test } from "vitest";
import type { Furniture } from "../../app/api";
import { away, openSmall } from "../frame/scene.fixture";
import { move, readDesk } from "../store";
import { bringPiece, hasTop, layCloth } from "./bringing";

type Piece = Parameters<typeof bringPiece>[0];
const house = {
  key: "house",
  name: "House",
  group: "outside",
  size: [8, 7, 6.5],
  base: 0,
  outside: true,
  wall: false,
  surface: { reflectance: 0.3, colour: [1, 1, 1] },
  second: { reflectance: 0.3, colour: [1, 1, 1] },
} as unknown as Piece;
const standing = () => readDesk().draft!.furniture.filter((f) => f.kind === "house");

beforeEach(() => openSmall());

test("outdoors a house comes whole, across the yard behind the face, the next beside it", () => {
  move((d) => ({ ...d, room: { ...d.room, outdoors: true } }));
  bringPiece(house, []);
  bringPiece(house, []);
  const [one, other] = standing(),
    // The lens looks along -y: behind the face is where y is less.
    face = readDesk().look!.anchor;
  expect(one!.size).toEqual([8, 7, 6.5]);
  expect(face[1] - (one!.position[1] + 3.5)).toBeCloseTo(8, 2);
  expect(one!.position[0]).toBeCloseTo(face[0], 2);
  expect(one!.position[2]).toBe(0);
  expect(away(one!.position, other!.position)).toBeGreaterThan(8);
});

test("indoors it stands outside, on the land", () => {
  move((d) => ({ ...d, room: { ...d.room, storey: 3 } }));
  bringPiece(house, []);
  const [one] = standing();
  expect(one!.position[2]).toBe(-3);
  expect(one!.position[1] + 3.5).toBeCloseTo(-8, 2);
});

const top = (kind: Furniture["kind"]): Furniture => ({
  ...standing()[0]!,
  id: "t",
  name: "Table",
  kind,
  position: [2, 1, 0],
  size: [1.4, 0.8, 0.75],
  turn: 30,
});

test("a cloth is laid over the whole of a top, turned as that is, and over the one before", () => {
  bringPiece(house, []);
  expect(hasTop(top("chair"))).toBe(false);
  expect(hasTop(top("table"))).toBe(true);
  move((d) => ({ ...d, furniture: [...d.furniture, top("table")] }));
  layCloth("t", "black");
  layCloth("t", "white");
  const [black, white] = readDesk().draft!.furniture.slice(-2);
  expect(black).toMatchObject({ name: "Black cloth", position: [2, 1, 0.75], turn: 30 });
  expect(black!.size.slice(0, 2)).toEqual([1.4, 0.8]);
  expect(black!.surface.reflectance).toBeLessThan(0.05);
  expect(white!.surface.reflectance).toBeGreaterThan(0.7);
  expect(white!.position[2]).toBeCloseTo(black!.position[2]! + black!.size[2]!, 6);
});
