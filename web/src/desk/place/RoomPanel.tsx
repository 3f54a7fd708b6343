import { useState } from "react";
import type { Constants, Document } from "../../app/api";
import { Button } from "../../parts/Button";
import { Slider } from "../../parts/Slider";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { FurniturePanel } from "./FurniturePanel";
import { ShapePanel } from "./ShapePanel";
import { StatePanel } from "./StatePanel";
import { SkyPanel } from "./SkyPanel";
import { useWallBehind } from "./useWallBehind";
import { wallName } from "./walls";
import { act, mayEdit, move, setDesk, settle, useDesk } from "../store";

type Room = Document["room"];
const SIDES = ["floor", "ceiling", "north", "south", "east", "west", "land"] as const;

/** The place: its walls and sky, and what stands in it. */
export function RoomPanel({ constants }: { constants: Constants }) {
  const page = useDesk((d) => d.place);
  return (
    <div className="grid gap-2">
      <div role="group" aria-label="Of the place" className="grid grid-cols-2 gap-1">
        <Button pressed={page === "room"} onClick={() => setDesk({ place: "room" })}>
          Walls and sky
        </Button>
        <Button pressed={page === "furniture"} onClick={() => setDesk({ place: "furniture" })}>
          Furniture
        </Button>
      </div>
      {page === "room" ? (
        <WallsAndSky constants={constants} />
      ) : (
        <FurniturePanel constants={constants} />
      )}
    </div>
  );
}

function WallsAndSky({ constants }: { constants: Constants }) {
  const haze = useDesk((d) => d.draft!.haze);
  const shade = useDesk((d) => d.draft!.bodies_shade);
  const room = useDesk((d) => d.draft!.room);
  const editable = useDesk(mayEdit);
  const behind = useWallBehind();
  // Under the sky there is only the ground.
  const sides = room.outdoors ? (["floor"] as const) : SIDES;
  const set = (change: Partial<Room>, words: string) =>
    act((d) => ({ ...d, room: { ...d.room, ...change } }), `Room: ${words}`);
  return (
    <div className="grid gap-2">
      <StatePanel />
      <ShapePanel constants={constants} />
      <div className="grid grid-cols-3 gap-2">
        {sides.map((k) => (
          <NumberField
            key={k}
            label={labelOf(k, room)}
            unit="%"
            value={room[k].reflectance * 100}
            step={5}
            min={0}
            max={95}
            disabled={!editable}
            onChange={(v) =>
              set(
                { [k]: { ...room[k], reflectance: Math.round(v) / 100 } },
                `${k} ${v.toFixed(0)} %`,
              )
            }
          />
        ))}
        {!room.outdoors && typeof room.water === "number" && (
          <NumberField
            label="Wind over water"
            unit="m/s"
            digits={1}
            value={room.water}
            step={1}
            min={0}
            max={20}
            disabled={!editable}
            onChange={(water) => set({ water }, `wind ${water.toFixed(1)} m/s`)}
          />
        )}
      </div>
      {behind && (
        <p className="text-xs text-quiet">
          Behind the subject the picture has the {wallName(behind.key)}.
        </p>
      )}
      <Surfaces constants={constants} set={set} ground={room.outdoors} disabled={!editable} />
      <div className="grid grid-cols-2 gap-1.5">
        <Button
          pressed={room.outdoors}
          disabled={!editable}
          onClick={() => set({ outdoors: !room.outdoors }, room.outdoors ? "indoors" : "outdoors")}
        >
          Outdoors
        </Button>
        <Slider
          label="Haze"
          value={haze}
          min={0}
          max={0.2}
          step={0.01}
          fine={0.002}
          disabled={!editable}
          text={haze < 0.001 ? "none" : `${(haze * 100).toFixed(1)} % a metre`}
          onChange={(v) => move((d) => ({ ...d, haze: Math.round(v * 1000) / 1000 }))}
          onDone={() => settle("Haze")}
        />
        <Button
          className="col-span-2"
          pressed={shade}
          disabled={!editable}
          onClick={() =>
            act(
              (d) => ({ ...d, bodies_shade: !shade }),
              shade ? "lamps throw no shadows" : "lamps and stands throw shadows",
            )
          }
        >
          Lamps and stands throw shadows
        </Button>
      </div>
      {shade && (
        <p className="text-xs text-quiet">
          When one is moved, every light is worked out anew; in the hand they throw none.
        </p>
      )}
      {haze > 0 && (
        <p className="text-xs text-quiet">
          <b className="text-fault">Mind:</b> haze and breathing, smoke alarms, slippery floors:
          tell everybody, air the stage. Local codes and licensed people decide.
        </p>
      )}
      <SkyPanel constants={constants} />
      <TitleAndNotes />
    </div>
  );
}

const WATER = "water";
/** What the field of a side's reflectance is called: water mirrors besides. */
function labelOf(k: (typeof SIDES)[number], room: Room) {
  if (room.outdoors) return "Ground reflects";
  if (k === "land" && typeof room.water === "number") return "Water sends up";
  return `${k[0]!.toUpperCase()}${k.slice(1)} reflects`;
}

/** What comes back from under the sea's surface; typical. */
const SEA = { reflectance: 0.03, colour: [0.3, 1, 0.8] as [number, number, number] };
/** A light wind [m/s]. */
const BREEZE = 3;

/** Paint, wood, brick or grass on one side of the room, or on all walls. */
function Surfaces({
  constants,
  set,
  ground,
  disabled,
}: {
  constants: Constants;
  set: (change: Partial<Room>, words: string) => void;
  ground: boolean;
  disabled: boolean;
}) {
  const behind = useWallBehind();
  const [chosen, setSide] = useState<(typeof SIDES)[number] | "walls">("walls");
  const side = ground ? "floor" : chosen;
  const kinds = constants.materials.filter(
    side === "land"
      ? (m) => m.group === "ground" || m.key === "concrete"
      : (m) =>
          ["wall", "ground"].includes(m.group) || ["blanket-white", "duvetyne"].includes(m.key),
  );
  function cover(key: string) {
    if (key === WATER) {
      set({ land: SEA, water: BREEZE }, "land: water");
      return;
    }
    const m = kinds.find((k) => k.key === key);
    if (!m) return;
    const surface = { reflectance: m.reflectance, colour: m.colour };
    const sides = side === "walls" ? (["north", "south", "east", "west"] as const) : [side];
    const dry = side === "land" && { water: null };
    set({ ...Object.fromEntries(sides.map((s) => [s, surface])), ...dry }, `${side}: ${m.name}`);
  }
  return (
    <div className="grid grid-cols-2 gap-1.5">
      {!ground && (
        <Choice
          label="Side"
          value={side}
          disabled={disabled}
          options={[
            { value: "walls" as const, label: "all walls" },
            ...SIDES.map((value) => ({
              value,
              label: value === "land" ? "land outside" : value,
              note: value === behind?.key ? "the backdrop" : undefined,
            })),
          ]}
          onChange={setSide}
        />
      )}
      <Choice
        label={ground ? "Ground made of" : "Made of"}
        value="-"
        disabled={disabled}
        options={[
          { value: "-", label: side === "land" ? "grass, water…" : "paint, wood…" },
          ...kinds.map((m) => ({
            value: m.key,
            label: m.name,
            note: `${Math.round(m.reflectance * 100)} %`,
          })),
          ...(side === "land" ? [{ value: WATER, label: "Water", note: "it mirrors" }] : []),
        ]}
        onChange={cover}
      />
    </div>
  );
}

function TitleAndNotes() {
  const { title, notes } = useDesk((d) => d.draft!);
  return <TitleForm key={title + notes} title={title} notes={notes} />;
}

function TitleForm({ title, notes }: { title: string; notes: string }) {
  const editable = useDesk(mayEdit);
  const [name, setName] = useState(title);
  const [text, setText] = useState(notes);
  const box = "w-full rounded border border-line bg-ink px-2.5";
  return (
    <>
      <label className="grid gap-0.5 text-xs text-quiet">
        Title of the set-up
        <input
          className={`${box} h-10 text-sm text-paper`}
          value={name}
          maxLength={80}
          disabled={!editable}
          onChange={(e) => setName(e.target.value)}
          onBlur={() =>
            name.trim() && name !== title
              ? act((d) => ({ ...d, title: name.trim() }), "renamed")
              : setName(title)
          }
        />
      </label>
      <label className="grid gap-0.5 text-xs text-quiet">
        Notes
        <textarea
          className={`${box} min-h-20 py-2 text-sm text-paper`}
          value={text}
          maxLength={20000}
          disabled={!editable}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => text !== notes && act((d) => ({ ...d, notes: text }), "notes")}
        />
      </label>
    </>
  );
}
