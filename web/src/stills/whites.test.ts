import { expect, test } from "vitest";
import { coloursOf } from "./WhiteOn";

const read = (absolute: boolean, shift: number) =>
  ({
    white: { kelvin: 4000, green: 0.2, absolute },
    sides: { shift },
    backdrop: null,
  }) as never;

test("a known camera's whites are kelvin; the shade side's is so many mired off", () => {
  const [key, shade] = coloursOf(read(true, 50), 3200);
  expect(1e6 / key!.mired).toBeCloseTo(4000, 6);
  expect(key!.green).toBe(0.2);
  expect(shade!.mired).toBeCloseTo(1e6 / 4000 + 50, 6);
});

test("an unknown camera's are kept as far off the set-up's own white", () => {
  const [key] = coloursOf(read(false, 0), 3200);
  expect(key!.mired - 1e6 / 3200).toBeCloseTo(1e6 / 4000 - 1e6 / 5600, 6);
});

test("without something neutral there is none", () => {
  expect(coloursOf({ white: null } as never, 5600)).toEqual([]);
  expect(coloursOf(null, 5600)).toEqual([]);
});
