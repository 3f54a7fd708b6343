import { clock, minuteOf } from "../app/clock";
import { describe, expect, it } from "vitest";
import { namesOf, spanned, spansOf } from "./day";

describe("hours as they are typed", () => {
  it.each([
    ["9", 540],
    ["09:40", 580],
    ["9.40", 580],
    ["0940", 580],
    ["24", null],
    ["9:75", null],
    ["noon", null],
    ["", null],
  ])("%s", (text, minute) => expect(minuteOf(text)).toBe(minute));

  it("reads spans and says them again", () => {
    expect(spansOf("8:30-9:40, 15–16")).toEqual([
      [510, 580],
      [900, 960],
    ]);
    expect(spansOf("")).toEqual([]);
    expect(spansOf("9-8")).toBeNull();
    expect(spansOf("8-9-10")).toBeNull();
    expect(spanned([[510, 580]])).toBe("08:30–09:40");
  });

  it("goes on past midnight", () => expect(clock(1500)).toBe("01:00"));

  it("takes a name once", () =>
    expect(namesOf("keeper, pilot,, keeper ")).toEqual(["keeper", "pilot"]));
});
