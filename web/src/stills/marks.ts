/** What a hand marks in a still, as points that can be put, carried and taken away. */
import type { Schemas } from "../app/api";
import HEADS from "./heads.json";

export type Marks = Schemas["Marks"];
export type Light = Schemas["MarkedLight"];
export type Spot = [number, number];

/** One point on the picture: where it is, what it is called, and the marks with it elsewhere. */
export type Handle = {
  id: string;
  name: string;
  at: Spot;
  /** Handles of one group are joined by a line. */
  group: string;
  /** Whether it carries or sizes other points, and is no mark itself. */
  grip?: boolean;
  /** Radius of an area, as a part of the width. */
  radius?: number;
  move: (marks: Marks, to: Spot) => Marks;
};

export const PARTS: { key: keyof Schemas["MarkedHead"]; name: string; say: string }[] = [
  { key: "eye_left", name: "Left eye", say: "the middle of the iris of the person's own left eye" },
  {
    key: "eye_right",
    name: "Right eye",
    say: "the middle of the iris of the person's own right eye",
  },
  { key: "nose_tip", name: "Tip of the nose", say: "the tip of the nose" },
  { key: "chin", name: "Chin", say: "the lowest point of the chin" },
  { key: "crown", name: "Crown", say: "the top of the head, hair left out" },
];
export const EDGES: { kind: Schemas["MarkedEdge"]["kind"]; name: string }[] = [
  { kind: "upright", name: "Upright" },
  { kind: "along", name: "Along a wall" },
  { kind: "across", name: "Along the other wall" },
  { kind: "horizon", name: "Horizon" },
];
export const FIGURES = Object.keys(HEADS) as Marks["figure"]["figure"][];
export const ROLES: Light["role"][] = ["key", "fill", "edge", "background", "eye light", "other"];

/** What the hand is about to mark: so many points, each with a word of what it is. */
export type Tool = {
  id: string;
  name: string;
  points: string[];
  put: (marks: Marks, at: Spot[]) => Marks;
};

const AREA = 0.008;
const area = (at: Spot, radius = AREA) => ({ at, radius });

const withLight = (marks: Marks, id: string, change: (light: Light) => Partial<Light>): Marks => ({
  ...marks,
  sources: marks.sources.map((s) => (s.id === id ? { ...s, ...change(s) } : s)),
});

export const lightOf = (id: string, name: string, role: Light["role"]): Light => ({
  id,
  name,
  role,
  glints: [],
  shadows: [],
  uprights: [],
  border: null,
  lit: null,
  angle: null,
  height: null,
  softness: null,
});

/** Tools that mark the head, in the order in which they are used. */
export const headTools: Tool[] = PARTS.map(({ key, name, say }) => ({
  id: `head ${key}`,
  name,
  points: [say],
  put: (marks, [at]) => ({ ...marks, head: { ...marks.head, [key]: at! } }),
}));

export const edgeTools: Tool[] = EDGES.map(({ kind, name }) => ({
  id: `edge ${kind}`,
  name,
  points: ["where an edge begins", "where it ends"],
  put: (marks, [a, b]) => ({ ...marks, edges: [...marks.edges, { kind, a: a!, b: b! }] }),
}));

export const areaTools: Tool[] = [
  {
    id: "shade",
    name: "Shade side",
    points: ["skin on the shade side"],
    put: (marks, [at]) => ({ ...marks, shade: area(at!) }),
  },
  {
    id: "backdrop",
    name: "Backdrop",
    points: ["what is behind the person"],
    put: (marks, [at]) => ({ ...marks, backdrop: area(at!) }),
  },
  {
    id: "neutral",
    name: "Neutral",
    points: ["something without colour of its own, in the key's light"],
    put: (marks, [at]) => ({ ...marks, neutral: area(at!) }),
  },
  {
    id: "spot",
    name: "Spot",
    points: ["any place to be read; the first is what the others are read against"],
    put: (marks, [at]) => ({ ...marks, spots: [...marks.spots, area(at!)] }),
  },
];

/** Tools that mark one light. */
export function lightTools(id: string): Tool[] {
  const glint = (eye: "left" | "right"): Tool => ({
    id: `${id} glint ${eye}`,
    name: `Glint, ${eye} eye`,
    points: [
      `the middle of the iris of the person's own ${eye} eye`,
      "a place on its rim, level with the middle",
      "the glint in it",
    ],
    put: (marks, [iris, rim, at]) =>
      withLight(marks, id, (s) => ({
        glints: [
          ...s.glints.filter((g) => g.eye !== eye),
          { eye, iris: iris!, rim: rim!, at: at! },
        ],
      })),
  });
  return [
    glint("left"),
    glint("right"),
    {
      id: `${id} nose`,
      name: "Nose's shadow",
      points: ["the tip of the shadow that the nose throws on the face"],
      put: (marks, [tip]) =>
        withLight(marks, id, (s) => ({
          shadows: [
            ...s.shadows.filter((x) => x.of !== "nose_tip"),
            { of: "nose_tip" as const, tip: tip! },
          ],
        })),
    },
    {
      id: `${id} crown`,
      name: "Head's shadow",
      points: ["the top of the head's shadow on what is behind"],
      put: (marks, [tip]) =>
        withLight(marks, id, (s) => ({
          shadows: [
            { of: "crown" as const, tip: tip! },
            ...s.shadows.filter((x) => x.of === "nose_tip"),
          ],
        })),
    },
    {
      id: `${id} border`,
      name: "Shadow's edge",
      points: ["the lit side of the edge of that shadow", "its dark side"],
      put: (marks, [a, b]) => withLight(marks, id, () => ({ border: { a: a!, b: b! } })),
    },
    {
      id: `${id} upright`,
      name: "A thing's shadow",
      points: ["the foot of a thing on the floor", "its top", "the end of its shadow on the floor"],
      put: (marks, [foot, top, tip]) =>
        withLight(marks, id, () => ({ uprights: [{ foot: foot!, top: top!, tip: tip! }] })),
    },
    {
      id: `${id} lit`,
      name: "Where it falls",
      points: ["skin that it lights"],
      put: (marks, [at]) => withLight(marks, id, () => ({ lit: area(at!) })),
    },
  ];
}

/** All points of a still's marks. */
export function handlesOf(marks: Marks): Handle[] {
  const found: Handle[] = [];
  for (const { key, name } of PARTS) {
    const at = marks.head[key];
    if (at)
      found.push({
        id: `head ${key}`,
        name,
        at,
        group: `head ${key}`,
        move: (m, to) => ({ ...m, head: { ...m.head, [key]: to } }),
      });
  }
  marks.edges.forEach((edge, k) => {
    for (const end of ["a", "b"] as const)
      found.push({
        id: `edge ${k} ${end}`,
        name: `${EDGES.find((e) => e.kind === edge.kind)!.name}, edge ${k + 1}, ${end === "a" ? "begin" : "end"}`,
        at: edge[end],
        group: `edge ${k}`,
        move: (m, to) => ({
          ...m,
          edges: m.edges.map((e, i) => (i === k ? { ...e, [end]: to } : e)),
        }),
      });
  });
  for (const name of ["shade", "backdrop", "neutral"] as const) {
    const here = marks[name];
    if (here)
      found.push({
        id: name,
        name: areaTools.find((t) => t.id === name)!.name,
        at: here.at,
        radius: here.radius,
        group: name,
        move: (m, to) => ({ ...m, [name]: { ...here, at: to } }),
      });
  }
  marks.spots.forEach((spot, k) =>
    found.push({
      id: `spot ${k}`,
      name: `Spot ${k + 1}`,
      at: spot.at,
      radius: spot.radius,
      group: `spot ${k}`,
      move: (m, to) => ({
        ...m,
        spots: m.spots.map((s, i) => (i === k ? { ...s, at: to } : s)),
      }),
    }),
  );
  for (const light of marks.sources) found.push(...ofLight(light));
  return found;
}

function ofLight(light: Light): Handle[] {
  const found: Handle[] = [];
  const { id, name } = light;
  light.glints.forEach((glint, k) => {
    for (const part of ["iris", "rim", "at"] as const)
      found.push({
        id: `${id} glint ${k} ${part}`,
        name: `${name}, glint in the ${glint.eye} eye${part === "at" ? "" : `, ${part}`}`,
        at: glint[part],
        group: `${id} glint ${k}`,
        move: (m, to) =>
          withLight(m, id, (s) => ({
            glints: s.glints.map((g, i) => (i === k ? { ...g, [part]: to } : g)),
          })),
      });
  });
  light.shadows.forEach((shadow, k) =>
    found.push({
      id: `${id} shadow ${k}`,
      name: `${name}, shadow of the ${shadow.of === "nose_tip" ? "nose" : "head"}`,
      at: shadow.tip,
      group: `${id} shadow ${k}`,
      move: (m, to) =>
        withLight(m, id, (s) => ({
          shadows: s.shadows.map((x, i) => (i === k ? { ...x, tip: to } : x)),
        })),
    }),
  );
  light.uprights.forEach((thing, k) => {
    for (const part of ["foot", "top", "tip"] as const)
      found.push({
        id: `${id} upright ${k} ${part}`,
        name: `${name}, a thing's ${part === "tip" ? "shadow" : part}`,
        at: thing[part],
        group: `${id} upright ${k}`,
        move: (m, to) =>
          withLight(m, id, (s) => ({
            uprights: s.uprights.map((x, i) => (i === k ? { ...x, [part]: to } : x)),
          })),
      });
  });
  if (light.border)
    for (const end of ["a", "b"] as const)
      found.push({
        id: `${id} border ${end}`,
        name: `${name}, edge of its shadow, ${end === "a" ? "lit" : "dark"} side`,
        at: light.border[end],
        group: `${id} border`,
        move: (m, to) => withLight(m, id, (s) => ({ border: { ...s.border!, [end]: to } })),
      });
  if (light.lit)
    found.push({
      id: `${id} lit`,
      name: `${name}, where it falls`,
      at: light.lit.at,
      radius: light.lit.radius,
      group: `${id} lit`,
      move: (m, to) => withLight(m, id, (s) => ({ lit: { ...s.lit!, at: to } })),
    });
  return found;
}

/** The marks without a group of points. */
export function without(marks: Marks, group: string): Marks {
  const [first, second, third] = group.split(" ");
  if (group === "head all" || group === "head size")
    return {
      ...marks,
      head: { eye_left: null, eye_right: null, nose_tip: null, chin: null, crown: null },
    };
  if (first === "head") return { ...marks, head: { ...marks.head, [second!]: null } };
  if (first === "edge")
    return { ...marks, edges: marks.edges.filter((_, k) => k !== Number(second)) };
  if (first === "spot")
    return { ...marks, spots: marks.spots.filter((_, k) => k !== Number(second)) };
  if (first === "shade" || first === "backdrop" || first === "neutral")
    return { ...marks, [first]: null };
  const at = Number(third);
  return withLight(marks, first!, (s) => {
    if (second === "glint") return { glints: s.glints.filter((_, k) => k !== at) };
    if (second === "shadow") return { shadows: s.shadows.filter((_, k) => k !== at) };
    if (second === "upright") return { uprights: s.uprights.filter((_, k) => k !== at) };
    return second === "border" ? { border: null } : { lit: null };
  });
}

/** The tool that comes after one of the head's, where its part is not marked yet. */
export function next(marks: Marks, tool: Tool): Tool | null {
  const at = headTools.findIndex((t) => t.id === tool.id);
  if (at < 0) return null;
  return headTools.slice(at + 1).find((t) => !marks.head[PARTS[headTools.indexOf(t)]!.key]) ?? null;
}
