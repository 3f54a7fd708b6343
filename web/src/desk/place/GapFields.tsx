import type { Document } from "../../app/api";
import { useLength } from "../../app/preferences";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { boundsOf } from "./walls";

type Room = Document["room"];
type Gap = Room["gaps"][number];

/** Parts of the plan from its south-west corner to its north-east one, 0..1 each way. */
const PARTS = {
  "all of it": [0, 0, 1, 1],
  "the north half": [0, 0.5, 1, 1],
  "the south half": [0, 0, 1, 0.5],
  "the east half": [0.5, 0, 1, 1],
  "the west half": [0, 0, 0.5, 1],
  "the middle": [0.25, 0.25, 0.75, 0.75],
} as const;
const SIDES = [
  ["West edge", "low", 0],
  ["South edge", "low", 1],
  ["East edge", "high", 0],
  ["North edge", "high", 1],
] as const;
const LEAST = 0.1;

/** Where the ceiling is missing, so that lamps may hang over the set. */
export function GapFields({
  room,
  set,
  disabled,
}: {
  room: Room;
  set: (change: Partial<Room>, words: string) => void;
  disabled: boolean;
}) {
  const length = useLength();
  const { low, high } = boundsOf(room),
    gap = room.gaps[0];
  const at = (part: readonly number[]): Gap => {
    const place = (k: number): [number, number] =>
      [0, 1].map((axis) => {
        const v = low[axis]! + part[k + axis]! * (high[axis]! - low[axis]!);
        return Math.round(v * 1e3) / 1e3;
      }) as [number, number];
    return { low: place(0), high: place(2) };
  };
  const same = (a: Gap, b: Gap) =>
    [...a.low, ...a.high].every((v, k) => Math.abs(v - [...b.low, ...b.high][k]!) < 0.01);
  const named = gap && Object.entries(PARTS).find(([, part]) => same(at(part), gap))?.[0];
  return (
    <div className="grid grid-cols-4 items-end gap-2 [&>*:first-child]:col-span-4">
      <Choice
        label="Ceiling is missing"
        value={gap ? (named ?? "own") : "nowhere"}
        disabled={disabled}
        options={[
          { value: "nowhere", label: "nowhere" },
          ...Object.keys(PARTS).map((value) => ({ value, label: value })),
          ...(gap && !named ? [{ value: "own", label: "as typed" }] : []),
        ]}
        onChange={(name) =>
          name in PARTS
            ? set({ gaps: [at(PARTS[name as keyof typeof PARTS])] }, `ceiling missing, ${name}`)
            : name === "nowhere" && set({ gaps: [] }, "a whole ceiling")
        }
      />
      {gap &&
        SIDES.map(([label, end, axis]) => (
          <NumberField
            key={label}
            label={label}
            unit={length.unit}
            digits={2}
            value={length.show(gap[end][axis])}
            step={0.1}
            min={end === "low" ? -200 : length.show(gap.low[axis] + LEAST)}
            max={end === "low" ? length.show(gap.high[axis] - LEAST) : 200}
            disabled={disabled}
            onChange={(v) => {
              const place = [...gap[end]] as [number, number];
              place[axis] = Math.round(length.take(v) * 1e3) / 1e3;
              const changed = { ...gap, [end]: place };
              set({ gaps: [changed, ...room.gaps.slice(1)] }, `gap in the ceiling, ${label}`);
            }}
          />
        ))}
      {gap && (
        <p className="col-span-4 text-xs text-quiet">
          Over it is a dark loft: lamps may hang there, up to 6 m over the ceiling.{" "}
          <b className="text-fault">Mind:</b> what hangs over people is tied twice, and what bears
          it is asked of who built it. Local codes and licensed people decide.
        </p>
      )}
    </div>
  );
}
