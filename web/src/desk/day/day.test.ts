import { clock, minuteOf } from "../../app/clock";
import { describe, expect, it } from "vitest";
import type { Document } from "../../app/api";
import { atMinute, curveOf, stop, type Day } from "./day";

const sky = (level: number, sun: object | null) =>
  ({ kind: "clear", level, cct: 9000, on: true, sun }) as unknown as Document["sky"];
const SUN = { azimuth: 180, elevation: 40, level: 80000, cct: 5200, on: true };
const day = {
  instants: [
    { minute: 0, elevation: -40, azimuth: 0, sky: sky(0, null) },
    { minute: 720, elevation: 40, azimuth: 180, sky: sky(12000, SUN) },
  ],
} as unknown as Day;
const document = {
  site: { minute: 0, name: "Saltmarsh" },
  sky: { ...sky(5, null), on: false },
} as unknown as Document;

describe("the hour of the day", () => {
  it("is read as it is typed and shown as a clock", () => {
    expect(["7:05", "0705", "7", "23:59", "7.30"].map(minuteOf)).toEqual([
      425, 425, 420, 1439, 450,
    ]);
    expect(["24:00", "7:61", "noon", ""].map(minuteOf)).toEqual([null, null, null, null]);
    expect([0, 425, 1439].map(clock)).toEqual(["00:00", "07:05", "23:59"]);
    expect([-3, 722, 1439].map(stop)).toEqual([0, 720, 1435]);
  });

  it("brings sun and sky, and leaves off what is off", () => {
    const noon = atMinute(day, 719)(document);
    expect(noon.site!.minute).toBe(720);
    expect(noon.sky).toMatchObject({ level: 12000, on: false, sun: { elevation: 40 } });
    expect(atMinute(day, 0)(noon).sky.sun).toBeNull();
    const hidden = { ...noon, sky: { ...noon.sky, sun: { ...SUN, on: false } } } as Document;
    expect(atMinute(day, 720)(hidden).sky.sun!.on).toBe(false);
    expect(atMinute(day, 300)(document)).toBe(document);
  });

  it("is drawn higher the higher the sun stands", () => {
    const [low, high] = curveOf(
      { ...day, instants: [day.instants[0]!, 0, 0, day.instants[1]!] } as never,
      100,
      40,
    )
      .split(" ")
      .map((p) => Number(p.split(",")[1]));
    expect(high).toBeLessThan(low!);
  });
});
