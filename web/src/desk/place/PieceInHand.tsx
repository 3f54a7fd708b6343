import type { Constants, Furniture, Piece, Point } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { Slider } from "../../parts/Slider";
import { useLength } from "../../app/preferences";
import { act, choose, move, readDesk, settle, useDesk, withPiece } from "../store";
import { copyPiece, hasTop, layCloth, type CLOTHS } from "./bringing";
import { lightUp } from "./itsLight";
import { setDown, strikePiece, toWall, turnPiece, wallOf } from "./furnishing";
import { outsideOf, standing } from "./standing";
import { PlaceFields } from "./PlaceFields";
import { SurfaceFields } from "./SurfaceFields";
import { nudge, toggleOn } from "../units/gestures";
import { ScanPaint } from "./models/ScanPaint";

/** The light of a lamp or a screen: on or off here, all the rest with the units. */
function ItsLight({
  item,
  kind,
  constants,
  disabled,
}: {
  item: Furniture;
  kind: Piece;
  constants: Constants;
  disabled: boolean;
}) {
  const light = useDesk((d) => d.draft!.units.find((u) => u.piece === item.id));
  if (!light)
    return (
      <Button disabled={disabled} onClick={() => lightUp(item, kind, constants.heads)}>
        Put its light in
      </Button>
    );
  const head = constants.heads.find((h) => h.key === light.head);
  return (
    <div className="flex items-center gap-1.5">
      <span className="min-w-0 flex-1 truncate text-quiet">{head?.name}</span>
      <Button disabled={disabled} pressed={light.on} onClick={() => toggleOn(light.id)}>
        {light.on ? "Lit" : "Dark"}
      </Button>
      <Button onClick={() => choose(light.id)}>Its bulb and level</Button>
    </div>
  );
}

/** Its size and place, so that what is made wider does not reach through a wall. */
function inItsRoom(item: Furniture, beyond: boolean): Partial<Furniture> {
  const { size, position } = item;
  if (beyond) return { size };
  const [x, y] = standing([position[0], position[1]], item, readDesk().draft!.room, true);
  return { size, position: [x, y, position[2]] };
}

/** A piece's size with one side changed [m]; a model keeps its proportions. */
function resized(item: Furniture, side: number, to: number): Point {
  const by = to / item.size[side]!;
  return item.size.map((s, n) =>
    n === side ? Math.max(0.005, +to.toFixed(3)) : item.scan ? +(s * by).toFixed(3) : s,
  ) as Point;
}

/** The piece in hand: its size, place, turn, paint; what is done with it. */
export function PieceInHand({
  item,
  constants,
  disabled,
}: {
  item: Furniture;
  constants: Constants;
  disabled: boolean;
}) {
  const length = useLength();
  const outdoors = useDesk((d) => d.draft!.room.outdoors);
  const beyond = useDesk((d) => outsideOf(d.draft!.room, item.position));
  const against = useDesk((d) => !!wallOf(item, d.draft!.room));
  const kind = constants.pieces.find((p) => p.key === item.kind);
  const fixed = disabled || item.locked;
  const set = (change: Partial<Furniture>, words: string) =>
    act(
      withPiece(item.id, () => change),
      `${item.name}: ${words}`,
    );
  return (
    <>
      <label className="grid gap-0.5">
        <span className="text-xs text-quiet">Name{kind && `, ${kind.name.toLowerCase()}`}</span>
        <input
          className="h-10 w-full min-w-0 rounded border border-line bg-ink px-2.5"
          defaultValue={item.name}
          disabled={disabled}
          maxLength={80}
          onBlur={(e) =>
            e.target.value.trim() &&
            e.target.value !== item.name &&
            set({ name: e.target.value.trim() }, "renamed")
          }
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        />
      </label>
      <div className="grid grid-cols-3 gap-1.5">
        {(["Wide", "Deep", "High"] as const).map((label, k) => (
          <NumberField
            key={label}
            label={label}
            unit={length.unit}
            digits={2}
            value={length.show(item.size[k]!)}
            step={0.1}
            min={0.01}
            max={60}
            disabled={fixed}
            onChange={(v) =>
              set(
                inItsRoom({ ...item, size: resized(item, k, length.take(v)) }, beyond),
                `${label.toLowerCase()} ${length.text(length.take(v))}`,
              )
            }
          />
        ))}
        <PlaceFields
          labels={["From west", "From south", "Above floor"]}
          place={item.position as Point}
          disabled={fixed}
          onChange={(position) => set({ position }, "moved")}
        />
      </div>
      <div className="grid grid-cols-2 items-end gap-1.5">
        <NumberField
          label="Front faces (0° north)"
          unit="°"
          value={item.turn}
          step={15}
          min={-360}
          max={360}
          disabled={fixed}
          onChange={(turn) => set({ turn: Math.round(turn * 10) / 10 }, "turned")}
        />
        <div className="flex flex-wrap gap-1">
          <Button
            look="bare"
            disabled={fixed}
            aria-label="Turn left"
            onClick={() => nudge(() => turnPiece(item.id, 15), `${item.name} turned`)}
          >
            ↺
          </Button>
          <Button
            look="bare"
            disabled={fixed}
            aria-label="Turn right"
            onClick={() => nudge(() => turnPiece(item.id, -15), `${item.name} turned`)}
          >
            ↻
          </Button>
        </div>
      </div>
      {kind?.opens && (
        <Slider
          label="Open"
          value={item.open}
          min={0}
          max={175}
          step={15}
          fine={1}
          disabled={fixed}
          text={item.open < 1 ? "shut" : `${item.open.toFixed(0)}°`}
          onChange={(v) => move(withPiece(item.id, () => ({ open: Math.round(v) })))}
          onDone={() => settle(`${item.name}: opened`)}
        />
      )}
      {item.scan ? (
        <ScanPaint
          item={item}
          constants={constants}
          disabled={disabled}
          onChange={(second, words) => set({ second }, words)}
        />
      ) : (
        <SurfaceFields
          title={kind?.second ? "Body" : "Made of"}
          surface={item.surface}
          materials={constants.materials}
          disabled={disabled}
          onChange={(surface, words) => set({ surface }, words)}
        />
      )}
      {kind?.second && (
        <SurfaceFields
          title={kind.shaded ? "Shade" : "Fronts, seats, leaves"}
          surface={item.second ?? item.surface}
          materials={constants.materials}
          disabled={disabled}
          onChange={(second, words) => set({ second }, words)}
        />
      )}
      {kind?.shaded && (
        <Slider
          label="Comes through the shade"
          value={item.through}
          min={0}
          max={Math.min(0.9, 0.98 - (item.second ?? item.surface).reflectance)}
          step={0.05}
          fine={0.01}
          disabled={disabled}
          text={`${(100 * item.through).toFixed(0)} %`}
          onChange={(v) => move(withPiece(item.id, () => ({ through: +v.toFixed(3) })))}
          onDone={() => settle(`${item.name}: the shade`)}
        />
      )}
      {kind?.lamp && <ItsLight item={item} kind={kind} constants={constants} disabled={fixed} />}
      {hasTop(item) && (
        <Choice
          label="Lay on it"
          value=""
          disabled={disabled}
          options={[
            { value: "", label: "a cloth…" },
            { value: "black", label: "black cloth" },
            { value: "white", label: "white cloth" },
          ]}
          onChange={(tone) => tone && layCloth(item.id, tone as keyof typeof CLOTHS)}
        />
      )}
      <div className="flex flex-wrap gap-1">
        <Button
          pressed={item.gloss > 0.5}
          disabled={disabled}
          onClick={() =>
            set({ gloss: item.gloss > 0.5 ? 0 : 1 }, item.gloss > 0.5 ? "matte" : "polished")
          }
        >
          Polished
        </Button>
        <Button disabled={fixed || outdoors || beyond} onClick={() => toWall(item.id)}>
          {against ? "To the next wall" : "To the wall"}
        </Button>
        <Button disabled={fixed} onClick={() => setDown(item.id)}>
          Set down
        </Button>
        <Button disabled={disabled} onClick={() => copyPiece(item.id)}>
          Duplicate
        </Button>
        <Button
          pressed={item.locked}
          disabled={disabled}
          onClick={() => set({ locked: !item.locked }, item.locked ? "unlocked" : "locked")}
        >
          Locked
        </Button>
        <Button look="bare" disabled={fixed} onClick={() => strikePiece(item.id)}>
          Strike
        </Button>
      </div>
      <p className="text-xs text-quiet">
        {beyond &&
          "It stands outside: in the sun's way, and seen by the windows, lit by the sky and the sun. "}
        On the plan it is drawn to walls, and to {length.unit === "ft" ? "half feet" : "decimetres"}
        ; Alt lets it stand anywhere. Arrow keys move it, [ and ] turn it, Page Up and Down lift it.
        Furniture that stands on it goes along, unless that is locked.
      </p>
    </>
  );
}
