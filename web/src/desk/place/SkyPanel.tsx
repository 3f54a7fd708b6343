import type { Constants, Document, Opening } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { Slider } from "../../parts/Slider";
import { useLength } from "../../app/preferences";
import { act, mayEdit, move, settle, useDesk } from "../store";
import { cutWindow } from "./openings";
import { wallName, wallsOf } from "./walls";

type Sky = Document["sky"];

/** Windows, and what comes through them: sky, sun, cloth, slats, blackout. */
export function SkyPanel({ constants }: { constants: Constants }) {
  const { openings, sky, room } = useDesk((d) => d.draft!);
  const editable = useDesk(mayEdit);
  return (
    <section aria-label="Windows and sky" className="grid gap-2 border-t border-line pt-2">
      <h3 className="font-serif text-lamp italic">{room.outdoors ? "Sky" : "Windows and sky"}</h3>
      {!room.outdoors &&
        openings.map((o) => (
          <Window key={o.id} opening={o} constants={constants} disabled={!editable} />
        ))}
      {!room.outdoors && editable && <Button onClick={() => cutWindow()}>Cut a window</Button>}
      {(room.outdoors || openings.length > 0) && <SkyFields sky={sky} disabled={!editable} />}
    </section>
  );
}

function Window({
  opening: o,
  constants,
  disabled,
}: {
  opening: Opening;
  constants: Constants;
  disabled: boolean;
}) {
  const length = useLength();
  const room = useDesk((d) => d.draft!.room);
  const set = (change: Partial<Opening>, words: string) =>
    act(
      (d) => ({ ...d, openings: d.openings.map((x) => (x.id === o.id ? { ...x, ...change } : x)) }),
      `${o.name}: ${words}`,
    );
  const covers = [
    { value: "clear", label: "clear" },
    { value: "blackout", label: "blackout" },
    ...constants.materials
      .filter((m) => m.group === "cloth" || m.group === "net")
      .map((m) => ({ value: m.key, label: m.name })),
  ];
  const field = (label: string, value: number, change: (v: number) => Partial<Opening>) => (
    <NumberField
      key={label}
      label={label}
      unit={length.unit}
      digits={2}
      value={length.show(value)}
      step={0.1}
      min={0.05}
      max={60}
      disabled={disabled}
      onChange={(v) => set(change(+length.take(v).toFixed(3)), label.toLowerCase())}
    />
  );
  return (
    <fieldset className="grid grid-cols-4 gap-1.5 rounded border border-line p-2">
      <legend className="px-1 text-xs">{o.name}</legend>
      <div className="col-span-2">
        <Choice
          label="Wall"
          value={String(o.wall)}
          options={[...wallsOf(room).map((w) => w.key), "ceiling" as const].map((key) => ({
            value: String(key),
            label: typeof key === "number" ? wallName(key) : key,
          }))}
          disabled={disabled}
          onChange={(key) => {
            const wall = wallsOf(room).find((w) => String(w.key) === key)?.key ?? "ceiling";
            set({ wall }, wallName(wall));
          }}
        />
      </div>
      <div className="col-span-2">
        <Choice
          label="Covered by"
          value={o.cover}
          options={covers}
          disabled={disabled}
          onChange={(cover) => set({ cover }, cover)}
        />
      </div>
      {field("Along", o.along, (along) => ({ along }))}
      {field(o.wall === "ceiling" ? "Across" : "Up", o.up, (up) => ({ up }))}
      {field("Wide", o.size[0]!, (w) => ({ size: [w, o.size[1]!] }))}
      {field("High", o.size[1]!, (h) => ({ size: [o.size[0]!, h] }))}
      <Button
        className="col-span-2"
        pressed={o.blinds}
        disabled={disabled}
        onClick={() => set({ blinds: !o.blinds }, o.blinds ? "slats off" : "slats")}
      >
        Slats
      </Button>
      <Button
        look="bare"
        className="col-span-2"
        disabled={disabled}
        onClick={() =>
          act(
            (d) => ({ ...d, openings: d.openings.filter((x) => x.id !== o.id) }),
            `${o.name} bricked up`,
          )
        }
      >
        Brick up
      </Button>
      {o.blinds && (
        <div className="col-span-4">
          <Slider
            label="Slats"
            value={o.slat_angle}
            min={-80}
            max={80}
            step={5}
            fine={1}
            disabled={disabled}
            text={`${o.slat_angle.toFixed(0)}°`}
            onChange={(v) =>
              move((d) => ({
                ...d,
                openings: d.openings.map((x) =>
                  x.id === o.id ? { ...x, slat_angle: Math.round(v) } : x,
                ),
              }))
            }
            onDone={() => settle(`${o.name}: slats`)}
          />
        </div>
      )}
    </fieldset>
  );
}

const SUN: NonNullable<Sky["sun"]> = {
  azimuth: 120,
  elevation: 25,
  level: 50000,
  cct: 5000,
  on: true,
};
const KINDS: { value: Sky["kind"]; label: string }[] = [
  { value: "overcast", label: "overcast" },
  { value: "clear", label: "clear" },
];

function SkyFields({ sky, disabled }: { sky: Sky; disabled: boolean }) {
  const put = (change: Partial<Sky>) => move((d) => ({ ...d, sky: { ...d.sky, ...change } }));
  const set = (change: Partial<Sky>, words: string) =>
    act((d) => ({ ...d, sky: { ...d.sky, ...change } }), `Sky: ${words}`);
  const sun = sky.sun;
  const putSun = (change: Partial<typeof SUN>) => sun && put({ sun: { ...sun, ...change } });
  return (
    <>
      <div className="grid grid-cols-3 gap-1.5">
        <Choice
          label="Sky"
          value={sky.kind}
          options={KINDS}
          disabled={disabled}
          onChange={(kind) => set({ kind }, kind)}
        />
        <NumberField
          label="On level ground"
          unit="lx"
          value={sky.level}
          step={1000}
          min={0}
          max={60000}
          disabled={disabled}
          onChange={(level) => set({ level }, "level")}
        />
        <NumberField
          label="White"
          unit="K"
          value={sky.cct}
          step={100}
          min={2000}
          max={10000}
          disabled={disabled}
          onChange={(cct) => set({ cct }, "white")}
        />
      </div>
      <Button
        pressed={!!sun}
        disabled={disabled}
        onClick={() => set({ sun: sun ? null : SUN }, sun ? "no sun" : "sun")}
      >
        Sun
      </Button>
      {sun && (
        <>
          <div className="grid grid-cols-2 gap-1.5">
            <Slider
              label="From"
              value={sun.azimuth}
              min={0}
              max={360}
              step={5}
              fine={1}
              disabled={disabled}
              text={`${sun.azimuth.toFixed(0)}°`}
              note={["N", "NE", "E", "SE", "S", "SW", "W", "NW"][Math.round(sun.azimuth / 45) % 8]!}
              onChange={(v) => putSun({ azimuth: Math.round(v) })}
              onDone={() => settle("Sun moved")}
            />
            <Slider
              label="High"
              value={sun.elevation}
              min={1}
              max={90}
              step={2}
              fine={1}
              disabled={disabled}
              text={`${sun.elevation.toFixed(0)}°`}
              onChange={(v) => putSun({ elevation: Math.round(v) })}
              onDone={() => settle("Sun moved")}
            />
            <NumberField
              label="Square to the beam"
              unit="lx"
              value={sun.level}
              step={5000}
              min={0}
              max={130000}
              disabled={disabled}
              onChange={(level) => set({ sun: { ...sun, level } }, "sun's level")}
            />
            <NumberField
              label="Sun's white"
              unit="K"
              value={sun.cct}
              step={100}
              min={2000}
              max={10000}
              disabled={disabled}
              onChange={(cct) => set({ sun: { ...sun, cct } }, "sun's white")}
            />
          </div>
          <p className="text-xs text-quiet">
            <b className="text-fault">Mind:</b> no glass or mirror that gathers the sun, nobody
            looks into it.
          </p>
        </>
      )}
    </>
  );
}
