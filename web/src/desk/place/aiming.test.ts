import { expect, test } from "vitest";
import type { Document, Furniture, Grip, Point, Unit } from "../../app/api";
import { base } from "../frame/scene.fixture";
import { eyesOf, halfWay, keepAims, middleOf, thingsOf, wayTo } from "./aiming";

const key = base.units[0]!,
  person = base.figures[0]!,
  who = `person:${person.id}`;
const board: Grip = {
  id: "g1",
  name: "Board",
  kind: "board",
  material: "foam-white",
  position: [1, 1, 1],
  aim: [2, 2, 1],
  aims_at: "",
  throws: "",
  roll: 0,
  size: [1, 1],
  slat_pitch: 0.1,
  slat_angle: 30,
  held: "",
  foot: null,
  bearer: "",
};
const make = (unit: Partial<Unit>, grip: Partial<Grip> = {}): Document => ({
  ...base,
  units: [{ ...key, ...unit }],
  grip: [{ ...board, ...grip }],
});
const walked = (d: Document, by: [number, number]): Document => ({
  ...d,
  figures: d.figures.map((f, k) =>
    k ? f : { ...f, position: [f.position[0] + by[0], f.position[1] + by[1]] },
  ),
});
const far = (a: readonly number[], b: readonly number[]) => a.map((v, k) => v - b[k]!);

test("an aim that is kept goes with whom it is on, as far and no farther", () => {
  const d = make({ aims_at: who }),
    after = walked(d, [0.5, -0.25]),
    { aim } = keepAims(d, after).units[0]!;
  far(aim, key.aim).forEach((v, k) => expect(v).toBeCloseTo([0.5, -0.25, 0][k]!, 6));
  // One that is not kept stays where it was put.
  expect(keepAims(make({}), walked(make({}), [0.5, 0]))).toStrictEqual(walked(make({}), [0.5, 0]));
});

test("who sits down takes the aim down", () => {
  const d = make({ aims_at: who });
  const pose = person.pose === "seated" ? "standing" : "seated";
  const after = { ...d, figures: d.figures.map((f, k) => (k ? f : { ...f, pose }) as typeof f) };
  const by = middleOf(after, who)![2] - middleOf(d, who)![2];
  expect(Math.abs(by)).toBeGreaterThan(0.3);
  expect(keepAims(d, after).units[0]!.aim[2] - key.aim[2]).toBeCloseTo(by, 6);
});

test("what is carried keeps its aim, what is turned by hand lets it go", () => {
  const d = make({}, { aims_at: who });
  const carried = make({}, { aims_at: who, position: [1.5, 1, 1], aim: [2.5, 2, 1] });
  expect(keepAims(d, carried).grip[0]).toMatchObject({ aim: board.aim, aims_at: who });
  const turned = make({}, { aims_at: who, aim: [2, 1, 1] });
  expect(keepAims(d, turned).grip[0]).toMatchObject({ aim: [2, 1, 1], aims_at: "" });
});

test("a lamp follows the sheet it is on, and lets go when that is struck", () => {
  const d = make({ aims_at: "grip:g1", aim: board.position as Point });
  const lifted = { ...d, grip: [{ ...board, position: [1, 1, 1.7] as Point }] };
  expect(keepAims(d, lifted).units[0]!.aim).toEqual([1, 1, 1.7]);
  expect(keepAims(d, { ...d, grip: [] }).units[0]).toMatchObject({
    aims_at: "",
    aim: board.position,
  });
});

test("a camera stays, turns along or goes along", () => {
  const asked = (follow: Document["cameras"][number]["follow"]): Document => ({
    ...base,
    cameras: [{ ...base.cameras[0]!, follow }],
  });
  const [stays, turns, goes] = (["", "turning", "going"] as const).map((follow) => {
    const d = asked(follow);
    return keepAims(d, walked(d, [0.2, 0.1])).cameras[0]!;
  });
  const was = base.cameras[0]!;
  expect([stays!.position, stays!.aim]).toEqual([was.position, was.aim]);
  expect(turns!.position).toEqual(was.position);
  [...far(turns!.aim, was.aim), ...far(goes!.position, was.position)].forEach((v, k) =>
    expect(v).toBeCloseTo([0.2, 0.1, 0, 0.2, 0.1, 0][k]!, 6),
  );
  // A wall stops it: it turns after them instead.
  const d = asked("going"),
    out = keepAims(d, walked(d, [0, 99])).cameras[0]!;
  expect(out.position).toEqual(was.position);
  expect(out.aim).not.toEqual(was.aim);
});

test("everything but itself may be aimed at, and a piece by its middle", () => {
  const table: Furniture = {
    ...({} as Furniture),
    id: "t",
    name: "Table",
    position: [2, 2, 0],
    size: [1, 1, 0.8],
  };
  const d = { ...make({}), furniture: [table] };
  expect(middleOf(d, "furniture:t")).toEqual([2, 2, 0.4]);
  expect(middleOf(d, "grip:none")).toBeNull();
  const values = thingsOf(d, `unit:${key.id}`).map((one) => one.value);
  expect(values).toContain("grip:g1");
  expect(values).toContain("furniture:t");
  expect(values).not.toContain(`unit:${key.id}`);
});

test("a reflector kept on the sun follows it through the day, sets with it and rises again", () => {
  const at = (azimuth: number, elevation: number): Document => ({
    ...make({}, { throws: "@sun" }),
    sky: { ...base.sky, sun: { level: 80000, cct: 5200, on: true, azimuth, elevation } },
  });
  let d = at(90, 20);
  for (const [azimuth, elevation] of [
    [120, 35],
    [180, 50],
    [250, 12],
  ] as const) {
    const after = { ...d, sky: at(azimuth, elevation).sky };
    d = keepAims(d, after);
    const { position, aim } = d.grip[0]!,
      front = wayTo(position, aim);
    const [a, e] = [(azimuth * Math.PI) / 180, (elevation * Math.PI) / 180];
    const sun = [Math.sin(a) * Math.cos(e), Math.cos(a) * Math.cos(e), Math.sin(e)];
    // The sun's way turned about the front goes on to the face.
    const out = sun.map(
      (v, k) => 2 * front.reduce((sum, f, n) => sum + f * sun[n]!, 0) * front[k]! - v,
    );
    const toFace = wayTo(position, eyesOf(person));
    out.forEach((v, k) => expect(v).toBeCloseTo(toFace[k]!, 3));
  }
  const night = keepAims(d, { ...d, sky: { ...d.sky, sun: null } });
  expect(night.grip[0]).toMatchObject({ throws: "@sun", aim: d.grip[0]!.aim });
  const morning = keepAims(night, { ...night, sky: at(90, 20).sky });
  expect(morning.grip[0]!.aim).not.toEqual(d.grip[0]!.aim);
  // Turned by hand it is let go.
  const turned = { ...d, grip: d.grip.map((g) => ({ ...g, aim: [1, 3, 1] as Point })) };
  expect(keepAims(d, turned).grip[0]!.throws).toBe("");
});

test("a mirror kept between throws the lamp at the face, wherever lamp, face or mirror go", () => {
  const lamp = `unit:${key.id}`,
    d = make({}, { kind: "mirror", throws: lamp });
  const thrown = (set: Document) => {
    const g = set.grip[0]!,
      way = (q: readonly number[]) => {
        const v = far(q, g.position),
          n = Math.hypot(...v);
        return v.map((k) => k / n);
      };
    const normal = way(g.aim),
      to = way(set.units[0]!.position),
      dot = normal.reduce((s, v, k) => s + v * to[k]!, 0);
    way(eyesOf(set.figures[0]!)).forEach((v, k) =>
      expect(2 * dot * normal[k]! - to[k]!).toBeCloseTo(v, 3),
    );
    expect(g.throws).toBe(lamp);
  };
  const carried = { ...d, units: [{ ...d.units[0]!, position: [3, 1.5, 2.2] as Point }] };
  thrown(keepAims(d, carried));
  thrown(keepAims(d, walked(d, [0.4, 0.3])));
  const put = { ...d, grip: [{ ...d.grip[0]!, position: [1.4, 0.8, 1.3] as Point }] };
  thrown(keepAims(d, put));
});

test("a mirror turned by hand lets its lamp go, and so does one whose lamp is struck", () => {
  const d = make({}, { throws: `unit:${key.id}` });
  const turned = { ...d, grip: [{ ...d.grip[0]!, aim: [1, 3, 1] as Point }] };
  expect(keepAims(d, turned).grip[0]).toMatchObject({ throws: "", aim: [1, 3, 1] });
  expect(keepAims(d, { ...d, units: [] }).grip[0]!.throws).toBe("");
  // What has nothing to do with it leaves it alone.
  const named = { ...d, title: "Another" };
  expect(keepAims(d, named)).toBe(named);
});

test("a mirror in line between lamp and face has no front there, and stays as it was", () => {
  const d = make({}, { throws: `unit:${key.id}` }),
    lamp = d.units[0]!.position,
    eyes = eyesOf(d.figures[0]!);
  const middle = lamp.map((v, k) => (v + eyes[k]!) / 2) as Point;
  expect(halfWay(middle, lamp, eyes)).toBeNull();
  const put = { ...d, grip: [{ ...d.grip[0]!, position: middle, aim: [0, 0, 1] as Point }] };
  expect(keepAims(d, put).grip[0]).toMatchObject({ aim: [0, 0, 1], throws: `unit:${key.id}` });
});
