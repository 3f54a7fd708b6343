import { useRef, useState } from "react";
import type { Document, Point } from "../../app/api";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { Slider } from "../../parts/Slider";
import { useLength } from "../../app/preferences";
import { act, move, readDesk, settle, useDesk, withCamera } from "../store";
import { goneRound, offTheNose, type Along } from "./around";

const ALONG: { value: Along; label: string }[] = [
  { value: "alone", label: "the camera alone" },
  { value: "key", label: "the key with it" },
  { value: "all", label: "all that lights" },
];

/** The camera round the subject, nearer and farther, and what stands behind the face. */
export function Around({ disabled }: { disabled: boolean }) {
  const look = useDesk((d) => d.look);
  const draft = useDesk((d) => d.draft!);
  const length = useLength();
  const [along, setAlong] = useState<Along>("alone");
  // The gesture turns what it began with: steps added up would drift.
  const start = useRef<Document | null>(null);
  if (!look) return null;
  const face = look.anchor as Point,
    [x, y, z] = draft.cameras[0]!.position as Point,
    away = Math.hypot(x - face[0], y - face[1], z - face[2]),
    angle = offTheNose(draft, face),
    { behind } = look;
  const key = look.readings.key ?? null;
  function turn(to: number) {
    const from = (start.current ??= readDesk().draft!);
    const by = Math.round(to) - offTheNose(from, face);
    move((d) => ({ ...d, ...part(goneRound(from, face, by, along, key)) }));
  }
  return (
    <div className="grid grid-cols-2 items-end gap-2 [&>*:first-child]:col-span-2">
      <Slider
        label="Off the nose"
        value={angle}
        min={-180}
        max={180}
        step={5}
        fine={1}
        disabled={disabled}
        text={
          Math.abs(angle) < 0.5
            ? "straight on"
            : `${Math.abs(angle).toFixed(0)}° to ${angle > 0 ? "own left" : "own right"}`
        }
        onChange={turn}
        onDone={() => {
          start.current = null;
          settle(along === "alone" ? "Camera round the subject" : `Camera round, ${nameOf(along)}`);
        }}
      />
      <Choice
        label="Goes round"
        value={along}
        options={ALONG}
        disabled={disabled}
        onChange={setAlong}
      />
      <NumberField
        label="To the face"
        unit={length.unit}
        digits={2}
        value={length.show(away)}
        step={0.1}
        min={0.3}
        max={100}
        disabled={disabled}
        onChange={(v) => {
          const part = length.take(v) / Math.max(away, 1e-6);
          act(
            withCamera(() => ({
              position: [
                +(face[0] + part * (x - face[0])).toFixed(3),
                +(face[1] + part * (y - face[1])).toFixed(3),
                z,
              ],
            })),
            "Camera nearer or farther",
          );
        }}
      />
      <p className="text-xs text-quiet" aria-label="Behind the face">
        {behind
          ? `Behind the face ${length.text(behind.distance)} to ${behind.name}; a point there is ${(100 * behind.blur).toFixed(1)} % of the frame wide.`
          : "Behind the face there is only sky."}
      </p>
    </div>
  );
}

const nameOf = (along: Along) => ALONG.find((a) => a.value === along)!.label;
/** What goes round with a camera. */
const part = ({ cameras, units, grip }: Document) => ({ cameras, units, grip });
