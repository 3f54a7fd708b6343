import { SUN } from "../place/aiming";
import { PolarFields } from "../plan/PolarFields";
import type { Constants, Grip, Point } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { Slider } from "../../parts/Slider";
import { frameOf, nudge } from "../units/gestures";
import {
  bringGrip,
  carry,
  face,
  keepBetween,
  KINDS,
  placeGrip,
  SIZES,
  strikeGrip,
  turnGrip,
} from "./gripping";
import { makeOwn, OwnMaterial } from "./OwnMaterial";
import { Calibrate } from "./Calibrate";
import { GripHeld } from "./GripHeld";
import { KeepOff } from "./KeepOff";
import { SunAims } from "./SunAims";
import { AimedAt } from "../place/AimedAt";
import { toPolar } from "../plan/polar";
import { useLength } from "../../app/preferences";
import { act, chooseGrip, mayEdit, move, settle, useDesk, withGrip } from "../store";
import { throwsBeams } from "../units/landing";
import { LandingFields } from "../units/LandingMarks";

const NONE = "-";
const FOOT = 0.3048;
const SAIL =
  "A frame or board is a sail: widest leg under the load, bags, none of it in wind, nothing over people untied. Cloth keeps its distance from hot heads. Local codes and licensed people decide.";
const GLASS =
  "Mirrors and hard reflectors keep a beam together: nobody's eyes in its path, covered in the sun, tied off. Local codes and licensed people decide.";

/** Frames, boards, mirrors, flags: brought in, placed in polar words, turned, struck. */
export function GripPanel({ constants }: { constants: Constants }) {
  const grip = useDesk((d) => d.draft!.grip);
  const chosen = useDesk((d) => d.chosenGrip);
  const editable = useDesk(mayEdit);
  const piece = grip.find((g) => g.id === chosen);
  return (
    <div className="grid gap-2">
      <div className="grid grid-cols-2 gap-1.5">
        <Choice
          label="Piece"
          value={piece?.id ?? NONE}
          options={
            grip.length
              ? grip.map((g) => ({ value: g.id, label: g.name }))
              : [{ value: NONE, label: "none yet" }]
          }
          onChange={(id) => id !== NONE && chooseGrip(id)}
        />
        <Choice
          label="Bring in"
          value={NONE}
          disabled={!editable}
          options={[
            { value: NONE, label: "grip…" },
            ...KINDS.map((k) => ({ value: k.value as string, label: k.label })),
          ]}
          onChange={(k) => k !== NONE && bringGrip(k as Grip["kind"])}
        />
      </div>
      {piece ? (
        <Piece key={piece.id} piece={piece} constants={constants} disabled={!editable} />
      ) : (
        <p className="py-2 text-quiet">
          No cloth, board or flag on the set. Bring one in, or rig one in one move from the unit.
        </p>
      )}
      <KeepOff disabled={!editable} />
    </div>
  );
}

function Piece({
  piece,
  constants,
  disabled,
}: {
  piece: Grip;
  constants: Constants;
  disabled: boolean;
}) {
  const length = useLength();
  const own = useDesk((d) => d.draft!.materials);
  useDesk((d) => d.look); // the face the words are measured from comes with the look
  const kind = KINDS.find((k) => k.value === piece.kind)!;
  const material = constants.materials.find((m) => m.key === piece.material);
  const mine = own.find((m) => m.id === piece.material);
  const set = (change: Partial<Grip>, words: string) =>
    act(
      withGrip(piece.id, () => change),
      `${piece.name}: ${words}`,
    );
  const put = (words: string, change: () => void) => nudge(change, `${piece.name} ${words}`);
  const sun = useDesk((d) => !!d.draft!.sky.sun);
  const throwing = useDesk((d) => d.draft!.units.find((u) => `unit:${u.id}` === piece.throws));
  const frame = frameOf(),
    polar = frame && toPolar(piece.position as Point, frame.face, frame.lens);
  const sizes = SIZES.map(([w, h]) => ({ value: `${w}x${h}`, label: `${w} × ${h} ft` }));
  const named = sizes.find((s) => {
    const [w, h] = s.value.split("x").map(Number);
    return (
      Math.abs(w! * FOOT - piece.size[0]!) < 0.02 && Math.abs(h! * FOOT - piece.size[1]!) < 0.02
    );
  });
  const loss =
    material && material.transmission > 0.02
      ? `lets through ${(material.transmission * 100).toFixed(0)} %, ${Math.log2(material.transmission).toFixed(1).replace("-", "−")} stops`
      : material
        ? `sends back ${(material.returned * 100).toFixed(0)} %`
        : "";
  return (
    <>
      <label className="grid gap-0.5">
        <span className="text-xs text-quiet">Name</span>
        <input
          className="h-10 w-full min-w-0 rounded border border-line bg-ink px-2.5"
          defaultValue={piece.name}
          disabled={disabled}
          maxLength={80}
          onBlur={(e) =>
            e.target.value.trim() &&
            e.target.value !== piece.name &&
            set({ name: e.target.value.trim() }, "renamed")
          }
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        />
      </label>
      <div className="grid grid-cols-2 gap-1.5">
        <Choice
          label="Kind"
          value={piece.kind}
          disabled={disabled}
          options={KINDS.map((k) => ({ value: k.value, label: k.label }))}
          onChange={(value) => {
            const next = KINDS.find((k) => k.value === value)!;
            set(
              {
                kind: value,
                ...(material && next.groups.includes(material.group)
                  ? {}
                  : { material: next.material }),
              },
              next.label,
            );
          }}
        />
        <Choice
          label="Cloth or board"
          value={piece.material}
          disabled={disabled || piece.kind === "branches"}
          options={[
            ...constants.materials
              .filter((m) => kind.groups.includes(m.group))
              .map((m) => ({
                value: m.key,
                label: m.name,
                note: `${((m.transmission > 0.02 ? m.transmission : m.returned) * 100).toFixed(0)} %`,
              })),
            ...own.map((m) => ({ value: m.id, label: m.name, note: "own" })),
          ]}
          onChange={(value) =>
            set(
              { material: value },
              constants.materials.find((m) => m.key === value)?.name ?? value,
            )
          }
        />
      </div>
      {loss && (
        <p className="text-xs text-quiet">
          {material!.name}: {loss}, ± {Math.round(material!.tolerance * 100)} %, {material!.source}.
        </p>
      )}
      <div className="grid grid-cols-3 gap-1.5">
        <Choice
          label="Size"
          value={named?.value ?? NONE}
          disabled={disabled}
          options={[...(named ? [] : [{ value: NONE, label: "own" }]), ...sizes]}
          onChange={(v) => {
            const [w, h] = v.split("x").map(Number);
            if (w && h)
              set({ size: [+(w * FOOT).toFixed(3), +(h * FOOT).toFixed(3)] }, `${w} × ${h} ft`);
          }}
        />
        {(["Wide", "High"] as const).map((label, k) => (
          <NumberField
            key={label}
            label={label}
            unit={length.unit}
            digits={2}
            value={length.show(piece.size[k]!)}
            step={0.1}
            min={0.05}
            max={12}
            disabled={disabled}
            onChange={(v) =>
              set(
                {
                  size: piece.size.map((s, n) => (n === k ? +length.take(v).toFixed(3) : s)) as [
                    number,
                    number,
                  ],
                },
                label.toLowerCase(),
              )
            }
          />
        ))}
      </div>
      {["mirror", "reflector", "board"].includes(piece.kind) && (
        <SunAims piece={piece} disabled={disabled} />
      )}
      {throwsBeams(piece) && (
        <LandingFields disabled={disabled} what={`${piece.name}, lit by the unit in hand,`} />
      )}
      {polar && (
        <PolarFields
          polar={polar}
          height={piece.position[2]!}
          lowest={0.02}
          disabled={disabled}
          place={(words, to) => put(words, () => placeGrip(piece.id, () => to))}
          lift={(words, z) =>
            put(words, () => carry(piece.id, [piece.position[0]!, piece.position[1]!, z]))
          }
        />
      )}
      {piece.kind === "blinds" && (
        <div className="grid grid-cols-2 gap-1.5">
          <Slider
            label="Slats"
            value={piece.slat_angle}
            min={-80}
            max={80}
            step={5}
            fine={1}
            disabled={disabled}
            text={`${piece.slat_angle.toFixed(0)}°`}
            onChange={(v) => move(withGrip(piece.id, () => ({ slat_angle: Math.round(v) })))}
            onDone={() => settle(`${piece.name}: slats`)}
          />
          <NumberField
            label="Spacing"
            unit="mm"
            value={piece.slat_pitch * 1000}
            step={10}
            min={20}
            max={500}
            disabled={disabled}
            onChange={(v) => set({ slat_pitch: v / 1000 }, "spacing")}
          />
        </div>
      )}
      <AimedAt kind="grip" item={piece} disabled={disabled} />
      <GripHeld piece={piece} disabled={disabled} />
      <div className="flex flex-wrap gap-1">
        <Button disabled={disabled} onClick={() => face(piece.id, "face")}>
          To the face
        </Button>
        <Button disabled={disabled} onClick={() => face(piece.id, "unit")}>
          To the lamp
        </Button>
        <Button disabled={disabled} onClick={() => face(piece.id, "between")}>
          Between
        </Button>
        <Button
          disabled={disabled}
          pressed={!!throwing}
          title="Stays half way between the unit in hand and the face, whichever of them is carried"
          onClick={() => keepBetween(piece.id)}
        >
          {throwing ? `Kept on ${throwing.name}` : "Keep between"}
        </Button>
        {(sun || piece.throws === SUN) && (
          <Button
            disabled={disabled}
            pressed={piece.throws === SUN}
            title="Stays half way between the sun and the face, as the hour goes on"
            onClick={() => keepBetween(piece.id, true)}
          >
            {piece.throws === SUN ? "Kept on the sun" : "Keep on the sun"}
          </Button>
        )}
        <Button
          look="bare"
          disabled={disabled}
          aria-label="Turn left"
          onClick={() => put("turned", () => turnGrip(piece.id, 5))}
        >
          ↺
        </Button>
        <Button
          look="bare"
          disabled={disabled}
          aria-label="Turn right"
          onClick={() => put("turned", () => turnGrip(piece.id, -5))}
        >
          ↻
        </Button>
        <Button look="bare" disabled={disabled} onClick={() => strikeGrip(piece.id)}>
          Strike
        </Button>
      </div>
      {mine ? (
        <OwnMaterial key={mine.id} own={mine} disabled={disabled} />
      ) : (
        material && (
          <Button look="bare" disabled={disabled} onClick={() => makeOwn(piece, material)}>
            Make it a cloth of your own…
          </Button>
        )
      )}
      {material && material.transmission > 0.02 && (
        <Calibrate piece={piece} material={material.key} disabled={disabled} />
      )}
      <p className="text-xs text-quiet">
        <b className="text-fault">Mind:</b>{" "}
        {piece.kind === "mirror" || piece.kind === "reflector" ? GLASS : SAIL}
      </p>
    </>
  );
}
