import { expect, test } from "vitest";
import { inLength, numberOf } from "./units";

test.each([
  ["1,200", 1200],
  ["12,345.5", 12345.5],
  ["1 200", 1200],
  ["2,8", 2.8],
  ["0,125", 0.125],
  ["−1.5", -1.5],
  [".5", 0.5],
  ["5600", 5600],
])("“%s” is %d", (text, value) => expect(numberOf(text)).toBe(value));

test.each(["", "-", "1.2.3", "12 m", "1e9", "NaN", "0x10"])("“%s” is no number", (text) =>
  expect(numberOf(text)).toBeNull(),
);

test("feet chosen means feet in names and sentences too", () => {
  expect(inLength("300 W head, softbox 120 × 90 cm", "ft")).toBe(
    "300 W head, softbox 3.9 ft × 3 ft",
  );
  expect(inLength("Board is 0.4 m from the lamp; keep at least 0.5 m.", "ft")).toBe(
    "Board is 1.3 ft from the lamp; keep at least 1.6 ft.",
  );
  expect(inLength("10 cm of foam", "ft")).toBe("4 in of foam");
  expect(inLength("300 W, 35 mm, 5 min, 1.5 % a metre", "ft")).toBe(
    "300 W, 35 mm, 5 min, 1.5 % a metre",
  );
  expect(inLength("softbox 120 × 90 cm", "m")).toBe("softbox 120 × 90 cm");
});
