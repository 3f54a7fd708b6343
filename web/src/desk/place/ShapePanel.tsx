import type { Constants, Document } from "../../app/api";
import { withRoom } from "./resizing";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { useLength, usePreferences } from "../../app/preferences";
import { act, chooseWall, mayEdit, settle, useDesk } from "../store";
import { cutWindow } from "./openings";
import { addCorner, dropCorner, paintWall, setLength, shape, SHAPES } from "./outline";
import { GapFields } from "./GapFields";
import { useWallBehind } from "./useWallBehind";
import { wallsOf } from "./walls";
import { SurfaceFields } from "./SurfaceFields";

type Room = Document["room"];
const SIDES = (["north", "east", "south", "west"] as const).map((value) => ({
  value,
  label: value,
}));

/** How large the place is and what shape it has. */
export function ShapePanel({ constants }: { constants: Constants }) {
  const room = useDesk((d) => d.draft!.room);
  const editable = useDesk(mayEdit);
  const north = usePreferences((p) => p.plan === "place");
  const set = (change: Partial<Room>, words: string) =>
    act((d) => withRoom(d, change), `Room: ${words}`);
  return (
    <div className="grid gap-2">
      {!room.outdoors && (
        <div className="grid grid-cols-2 items-end gap-1.5">
          <Choice
            label="Shape"
            value="-"
            disabled={!editable}
            options={[
              { value: "-", label: room.outline ? `${room.outline.length} walls` : "plain room" },
              ...Object.keys(SHAPES).map((name) => ({ value: name, label: name })),
            ]}
            onChange={(name) => name !== "-" && shape(name)}
          />
          <Button
            pressed={north}
            onClick={() => usePreferences.setState({ plan: north ? "rings" : "place" })}
          >
            North-up plan
          </Button>
        </div>
      )}
      {!room.outdoors && <Lengths room={room} set={set} disabled={!editable} />}
      {!room.outdoors && <GapFields room={room} set={set} disabled={!editable} />}
      {!room.outdoors && north && editable && (
        <p className="text-xs text-quiet">
          On the plan, walls and corners can be carried: to level, plumb and the grid; Alt lets them
          lie anywhere. Press a wall to paint it, to type its length, or to put a corner in it.
        </p>
      )}
      {!room.outdoors && <ChosenWall constants={constants} />}
    </div>
  );
}

function Lengths({
  room,
  set,
  disabled,
}: {
  room: Room;
  set: (change: Partial<Room>, words: string) => void;
  disabled: boolean;
}) {
  const length = useLength();
  const field = (
    k: "width" | "depth" | "height" | "rise" | "storey",
    label: string,
    [min, max]: readonly [number, number],
  ) => (
    <NumberField
      key={k}
      label={label}
      unit={length.unit}
      digits={2}
      value={length.show(room[k])}
      step={0.5}
      min={min}
      max={max}
      disabled={disabled}
      onChange={(v) => set({ [k]: +length.take(v).toFixed(3) }, label.toLowerCase())}
    />
  );
  return (
    <div className="grid grid-cols-3 gap-2">
      {!room.outline && field("width", "Width", [1, 200])}
      {!room.outline && field("depth", "Depth", [1, 200])}
      {field("height", "Height", [1, 200])}
      {field("rise", "Ceiling rises", [0, 60])}
      {room.rise > 0 && (
        <Choice
          label="To the"
          value={room.rises_to}
          options={SIDES}
          disabled={disabled}
          onChange={(rises_to) => set({ rises_to }, `ceiling rises to the ${rises_to}`)}
        />
      )}
      {field("storey", "Above ground", [0, 190])}
    </div>
  );
}

/** The wall in hand: its length, what it is of, a corner or a window in it. */
function ChosenWall({ constants }: { constants: Constants }) {
  const chosen = useDesk((d) => d.chosenWall);
  const room = useDesk((d) => d.draft!.room);
  const editable = useDesk(mayEdit);
  const length = useLength();
  const walls = wallsOf(room);
  const wall = walls.find((w) => w.at === chosen);
  const behind = useWallBehind();
  const own = wall && room.outline?.[wall.at]?.surface;
  return (
    <div className="grid gap-1.5">
      <Choice
        label="Wall in hand"
        value={wall ? String(wall.at) : "-"}
        options={[
          ...(wall ? [] : [{ value: "-", label: "none" }]),
          ...walls.map((w) => ({
            value: String(w.at),
            label: typeof w.key === "string" ? w.key : `wall ${w.at + 1}`,
            note: `${length.text(w.length)}${w.at === behind?.at ? ", the backdrop" : ""}`,
          })),
        ]}
        onChange={(at) => at !== "-" && chooseWall(Number(at))}
      />
      {wall && (
        <>
          <div className="grid grid-cols-3 items-end gap-1.5">
            <NumberField
              label="Long"
              unit={length.unit}
              digits={2}
              value={length.show(wall.length)}
              step={0.1}
              min={0.05}
              max={200}
              disabled={!editable}
              onChange={(v) => {
                setLength(wall.at, +length.take(v).toFixed(3));
                settle(`wall ${wall.at + 1}: ${length.text(length.take(v))}`);
              }}
            />
            <Button disabled={!editable} onClick={() => addCorner(wall.at)}>
              Corner in it
            </Button>
            <Button
              disabled={!editable || walls.length < 4}
              aria-label={`Take corner ${wall.at + 1} away`}
              onClick={() => dropCorner(wall.at)}
            >
              Corner away
            </Button>
          </div>
          <SurfaceFields
            title={own ? "Made of" : "Made of, as its side"}
            surface={own ?? sideOf(room, wall.inward)}
            materials={constants.materials}
            disabled={!editable}
            onChange={(surface, words) => paintWall(wall.at, surface, words)}
          />
          <Button disabled={!editable} onClick={() => cutWindow(wall)}>
            Cut a window in it
          </Button>
        </>
      )}
    </div>
  );
}

/** What walls on that side of the plan are of. */
function sideOf(room: Room, [x, y]: readonly [number, number]) {
  if (Math.abs(x) > Math.abs(y)) return x > 0 ? room.west : room.east;
  return y > 0 ? room.south : room.north;
}
