/** A whole head in a still: laid over in two presses, carried, sized and turned as one. */
import HEADS from "./heads.json";
import type { Handle, Marks, Spot, Tool } from "./marks";

type Head = Marks["head"];
const KEYS = ["eye_left", "eye_right", "nose_tip", "chin", "crown"] as const;

const marked = (head: Head) => KEYS.filter((k) => head[k] != null);

/** The head's parts each put where `to` says, those that are marked. */
const each = (marks: Marks, to: (at: Spot) => Spot): Marks => ({
  ...marks,
  head: Object.fromEntries(
    KEYS.map((k) => [k, marks.head[k] == null ? null : to(marks.head[k])]),
  ) as Head,
});

/** Lays a head that looks into the lens between a crown and a chin; aspect is height over width. */
export function layHead(marks: Marks, crown: Spot, chin: Spot, aspect: number): Marks {
  // In parts of the width both ways: down the head, and to its right in the picture.
  const down = [chin[0] - crown[0], (chin[1] - crown[1]) * aspect],
    right = [down[1]!, -down[0]!];
  const at = ([x, y]: number[]): Spot => [
    crown[0] + x! * right[0]! + y! * down[0]!,
    crown[1] + (x! * right[1]! + y! * down[1]!) / aspect,
  ];
  const parts = HEADS[marks.figure.figure];
  const head = Object.fromEntries(Object.entries(parts).map(([k, p]) => [k, at(p)]));
  return { ...marks, head: { ...head, crown, chin } as Head };
}

export const layTool = (aspect: number): Tool => ({
  id: "head laid",
  name: "Outline",
  points: ["the top of the head, hair left out", "the lowest point of the chin"],
  put: (marks, [crown, chin]) => layHead(marks, crown!, chin!, aspect),
});

/** Whether all of a head is marked. */
export const whole = (marks: Marks) => marked(marks.head).length === KEYS.length;

/** Handles that carry a whole head, and size and turn it about its middle. */
export function headHandles(marks: Marks, aspect: number): Handle[] {
  if (!whole(marks)) return [];
  const { crown, chin } = marks.head as { crown: Spot; chin: Spot };
  const middle: Spot = [(crown[0] + chin[0]) / 2, (crown[1] + chin[1]) / 2];
  const half = [crown[0] - middle[0], (crown[1] - middle[1]) * aspect];
  // Square to the head, outside it.
  const out: Spot = [middle[0] - half[1]! * AWAY, middle[1] + (half[0]! * AWAY) / aspect];
  const from = [out[0] - middle[0], (out[1] - middle[1]) * aspect];
  const square = from[0]! ** 2 + from[1]! ** 2;
  return [
    {
      id: "head all",
      name: "Whole head",
      grip: true,
      at: middle,
      group: "head all",
      move: (m, to) => each(m, (at) => [at[0] + to[0] - middle[0], at[1] + to[1] - middle[1]]),
    },
    {
      id: "head size",
      name: "Size and turn of the head",
      grip: true,
      at: out,
      group: "head size",
      move: (m, to) => {
        const way = [to[0] - middle[0], (to[1] - middle[1]) * aspect];
        // What turns and sizes the one way into the other, as a complex number.
        const re = (way[0]! * from[0]! + way[1]! * from[1]!) / square,
          im = (way[1]! * from[0]! - way[0]! * from[1]!) / square;
        return each(m, (at) => {
          const x = at[0] - middle[0],
            y = (at[1] - middle[1]) * aspect;
          return [middle[0] + re * x - im * y, middle[1] + (im * x + re * y) / aspect];
        });
      },
    },
  ];
}

/** How far beside the head the handle lies that sizes it, in half its length. */
const AWAY = 1.1;
