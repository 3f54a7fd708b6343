/** What is tried down the rows and across the columns, before it is sent. */
import type { Constants, Schemas } from "../app/api";

export type Choice = Schemas["Choice"];
export type NumberKind = "distance" | "angle" | "height" | "white";
export type Of = "none" | "heads" | "hung" | "moves" | NumberKind;

/** One axis as it is being put together. */
export type Making = {
  of: Of;
  /** Keys of heads, attachments or moves and cloths that are ticked. */
  picked: string[];
  from: number;
  to: number;
  count: number;
};
export const NOTHING: Making = { of: "none", picked: [], from: 1, to: 3, count: 5 };

export const NUMBERS: Record<NumberKind, { name: string; from: number; to: number; unit: string }> =
  {
    distance: { name: "distance to the face", from: 1, to: 3, unit: "m" },
    angle: { name: "angle off the lens", from: -75, to: 0, unit: "°" },
    height: { name: "angle above the eyes", from: 0, to: 60, unit: "°" },
    white: { name: "white", from: 3200, to: 5600, unit: "K" },
  };
export const isNumber = (of: Of): of is NumberKind => of in NUMBERS;

/** Rigs as things: the menu of the desk names them as commands. */
const RIGS: Record<string, string> = {
  book: "book light",
  "book-stand": "book light on one stand",
  "bounce-board": "off a board",
  "bounce-wall": "off the nearest wall",
  "bounce-ceiling": "off the ceiling",
  mirror: "by a mirror",
  boom: "on a boom",
};

/** Things that can be ticked: by key, as they are called, what they change. */
export function offered(of: Of, constants: Constants): Record<string, Choice> {
  const made = (key: string, name: string, steps: Choice["steps"]) => [key, { name, steps }];
  if (of === "heads")
    return Object.fromEntries(
      constants.heads
        .filter((h) => !h.of_place)
        .map((h) => made(h.key, h.name, [step({ kind: "head", key: h.key })])),
    ) as Record<string, Choice>;
  if (of === "hung")
    return Object.fromEntries([
      made("", "nothing hung on", [step({ kind: "bare" })]),
      ...constants.attachments.map((a) =>
        made(a.key, a.name, [step({ kind: "bare" }), step({ kind: "attachment", key: a.key })]),
      ),
    ]) as Record<string, Choice>;
  if (of === "moves") {
    const cloths = constants.materials.filter((m) => m.group === "cloth"),
      moves = constants.moves.filter((m) => !["cloth", "negative", "outside"].includes(m.key));
    return Object.fromEntries([
      made("", "as it stands", []),
      ...moves.map((m) => made(m.key, RIGS[m.key] ?? m.name, [step({ kind: "move", key: m.key })])),
      ...cloths.flatMap((m) => {
        const cloth = step({ kind: "move", key: "cloth", material: m.key });
        return [
          made(`cloth ${m.key}`, `${m.name} between`, [cloth]),
          made(`two ${m.key}`, `two of ${m.name} between`, [cloth, cloth]),
        ];
      }),
    ]) as Record<string, Choice>;
  }
  return {};
}

const STACK = "stack ";

/** What a stack of cloths is ticked by: their keys, the one next to the lamp first. */
export const stackKey = (cloths: readonly string[]) => STACK + cloths.join("+");

/** A stack of cloths by what it is ticked by; nothing for other keys. */
export function stackOf(key: string, { materials }: Pick<Constants, "materials">) {
  if (!key.startsWith(STACK)) return undefined;
  const cloths = key
    .slice(STACK.length)
    .split("+")
    .map((k) => materials.find((m) => m.key === k && m.group === "cloth"));
  if (cloths.length < 2 || !cloths.every((m) => m !== undefined)) return undefined;
  return {
    name: cloths.map((m) => m.name).join(", then "),
    // Each cloth is put before what hangs already: the last one, next to the face, comes first.
    steps: cloths.map((m) => step({ kind: "move", key: "cloth", material: m.key })).reverse(),
  };
}

const step = (given: Partial<Choice["steps"][0]> & { kind: Choice["steps"][0]["kind"] }) => ({
  key: "",
  settings: {},
  ...given,
});

/** From–to in equal parts; rings of light fall by ratios, so distances go by ratios too. */
export function spread({ of, from, to, count }: Making): number[] {
  if (count < 2) return [from];
  return [...Array(count).keys()].map((k) => {
    const part = k / (count - 1);
    return of === "distance" && from > 0 && to > 0
      ? +(from * (to / from) ** part).toFixed(3)
      : +(from + part * (to - from)).toFixed(1);
  });
}

/** The choices of an axis; null where nothing is tried along it. */
export function choicesOf(
  making: Making,
  constants: Constants,
  length: (metres: number) => string,
): Choice[] | null {
  const { of } = making;
  if (of === "none") return null;
  if (isNumber(of))
    return spread(making).map((value) => ({
      name: of === "distance" ? length(value) : `${value} ${NUMBERS[of].unit}`.replace(" °", "°"),
      steps: [step({ kind: of, value })],
    }));
  const known = offered(of, constants);
  return making.picked.flatMap((key) => known[key] ?? stackOf(key, constants) ?? []);
}
