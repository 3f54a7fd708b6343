/** People brought in, carried over the plan, made the subject, sent away. */
import type { Document, Figure, Point } from "../../app/api";
import { frameOf } from "../units/gestures";
import { floorAxes } from "../plan/polar";
import { eyesOf } from "./aiming";
import { inRoom } from "./walls";
import { act, choosePerson, move, readDesk, setDesk, withFigure } from "../store";

/** How near a wall a person stands [m]; the server refuses less than 0.2. */
const ROOM = 0.3;
/** Where somebody new stands: before the subject, out of the lens's way [m]. */
const OFF: readonly [number, number][] = [
  [0.95, 0.75],
  [-0.95, 0.75],
  [1.2, -0.2],
  [-1.2, -0.2],
  [0, -1.2],
];
export const MOST = 8;

const round = (v: number) => Math.round(v * 1e3) / 1e3;
const inside = (x: number, y: number, room: Document["room"]) => inRoom(room, [x, y], ROOM);

/** The way a chest points that faces a place: 0 north, counter-clockwise [deg]. */
const facing = (from: readonly number[], to: readonly number[]) =>
  Math.round((Math.atan2(from[0]! - to[0]!, to[1]! - from[1]!) * 180) / Math.PI);

/** Bring somebody in beside the lens's way, face to face with the subject. */
export function bringPerson(figure: Figure["figure"]) {
  const { draft } = readDesk(),
    frame = frameOf();
  if (!draft || !frame || draft.figures.length >= MOST) return;
  const { toward, right } = floorAxes(frame.face, frame.lens),
    subject = draft.figures[0]!;
  const place = OFF.map(([across, along]) => [
    subject.position[0] + across * right[0] + along * toward[0],
    subject.position[1] + across * right[1] + along * toward[1],
  ]).find(
    ([x, y]) =>
      inside(x!, y!, draft.room) &&
      draft.figures.every((f) => Math.hypot(f.position[0] - x!, f.position[1] - y!) > 0.6),
  );
  if (!place)
    return setDesk({
      fault: { text: "There is no room beside the subject: clear some.", path: "" },
    });
  const ids = new Set(draft.figures.map((f) => f.id)),
    names = new Set(draft.figures.map((f) => f.name));
  let n = 2;
  while (ids.has(`p${n}`) || names.has(`Person ${n}`)) n++;
  const made: Figure = {
    id: `p${n}`,
    name: `Person ${n}`,
    figure,
    pose: subject.pose,
    position: place.map(round) as [number, number],
    facing: facing(place, subject.position),
    spectacles: false,
    head_turn: 0,
    head_tilt: 0,
    undertone: 0,
    cloth: "cotton",
    cut: "grown",
    beard: "none",
    hat: "none",
    eyeline: null,
  };
  act((d) => ({ ...d, figures: [...d.figures, made] }), `${made.name} in`);
  choosePerson(made.id);
}

export function carryPerson(id: string, to: readonly [number, number]) {
  const room = readDesk().draft?.room;
  if (!room || !inside(to[0], to[1], room)) return;
  move(withFigure(id, () => ({ position: [round(to[0]), round(to[1])] })));
}

export function turnToward(id: string, to: readonly number[], whom: string) {
  const person = readDesk().draft?.figures.find((f) => f.id === id);
  if (person)
    act(
      withFigure(id, (f) => ({ facing: facing(f.position, to) })),
      `${person.name} faces ${whom}`,
    );
}

export function sendAway(id: string) {
  const { draft } = readDesk(),
    person = draft?.figures.find((f) => f.id === id);
  if (!draft || !person || draft.figures.length < 2) return;
  act(
    (d) => ({
      ...d,
      figures: d.figures.filter((f) => f.id !== id),
      cameras: d.cameras.map((c) => (c.subject === id ? { ...c, subject: null } : c)),
    }),
    `${person.name} sent away`,
  );
  setDesk({ chosenFigure: null });
}

const first = <T extends { id: string }>(list: readonly T[], id: string | null | undefined) => {
  const chosen = list.find((item) => item.id === id);
  return chosen ? [chosen, ...list.filter((item) => item.id !== id)] : [...list];
};

/** Make the picture a person's: meter, ratio and order of work follow who is in it. */
export function makeSubject(id: string) {
  const person = readDesk().draft?.figures.find((f) => f.id === id);
  if (person)
    act(
      (d) => ({
        ...d,
        figures: first(d.figures, id),
        cameras: d.cameras.map((c, at) => (at === 0 ? { ...c, subject: id } : c)),
      }),
      `The picture is ${person.name}'s`,
    );
}

/** A set-up looked at through a camera: it comes first, and so does whose picture it is. */
export const through =
  (id: string) =>
  (draft: Document): Document => {
    const cameras = first(draft.cameras, id);
    return { ...draft, cameras, figures: first(draft.figures, cameras[0]?.subject) };
  };

/** A camera on somebody else, from over the subject's shoulder. */
export function addReverse(id: string) {
  const { draft } = readDesk(),
    other = draft?.figures.find((f) => f.id === id),
    subject = draft?.figures[0],
    now = draft?.cameras[0];
  if (!draft || !other || !subject || !now || other === subject) return;
  const eyes = eyesOf(other),
    dx = subject.position[0] - eyes[0],
    dy = subject.position[1] - eyes[1];
  const long = Math.hypot(dx, dy) || 1;
  // Beyond the subject and a shoulder's width aside; nearer where a wall is.
  let beyond = 0.9;
  const place = (): [number, number] => [
    subject.position[0] + (beyond * dx - 0.4 * dy) / long,
    subject.position[1] + (beyond * dy + 0.4 * dx) / long,
  ];
  while (!inside(...place(), draft.room) && beyond > -0.2) beyond -= 0.1;
  const ids = new Set(draft.cameras.map((c) => c.id));
  let n = 2;
  while (ids.has(`c${n}`)) n++;
  const [x, y] = place();
  const camera = {
    ...now,
    id: `c${n}`,
    name: `On ${other.name}`.slice(0, 80),
    position: [round(x), round(y), now.position[2]] as Point,
    aim: [eyes[0], eyes[1], eyes[2] - 0.1].map(round) as Point,
    subject: other.id,
  };
  act(
    (d) =>
      through(camera.id)({
        ...d,
        // The camera that is left keeps whose picture it was.
        cameras: [...d.cameras.map((c) => ({ ...c, subject: c.subject ?? subject.id })), camera],
      }),
    `${camera.name} added`,
  );
}
