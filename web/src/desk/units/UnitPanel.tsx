import { PolarFields } from "../plan/PolarFields";
import { useRef, useState } from "react";
import type { Constants, Head, Unit } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { Slider } from "../../parts/Slider";
import { clampDimmer, nudge, placePolar, polarOf, setHeight, toggleOn } from "./gestures";
import { useLength, useWords } from "../../app/preferences";
import { SwitchField } from "./HouseLights";
import { AimedAt } from "../place/AimedAt";
import { HeldBy } from "./HeldBy";
import { throwerOf } from "./landing";
import { LandingFields } from "./LandingMarks";
import { SourceBuilder } from "./SourceBuilder";
import { StandIns } from "./StandIns";
import { GroupPanel } from "./GroupPanel";
import { changeHead, strike } from "./rigging";
import { act, mayEdit, move, setDesk, settle, useDesk, withUnit } from "../store";

const ROLES = (
  ["key", "fill", "edge", "background", "practical", "eye light", "other"] as const
).map((value) => ({ value, label: value }));
const LOWEST = -8; // stops on the dimmer's bar; the very left is dark

export function UnitPanel({ constants }: { constants: Constants }) {
  const { heads } = constants;
  const unit = useDesk((d) => d.draft!.units.find((u) => u.id === d.chosen));
  const thrower = useDesk((d) => unit && throwerOf(d.draft!, unit)?.name);
  const editable = useDesk(mayEdit),
    inWords = useWords(),
    also = useDesk((d) => d.also);
  const reading = useDesk((d) => d.look?.readings.units.find((r) => r.id === unit?.id));
  const [standing, setStanding] = useState(false);
  if (also.length) return <GroupPanel />;
  if (!unit) return <p className="py-4 text-quiet">Choose a unit on the plan or in the list.</p>;
  const head = heads.find((h) => h.key === unit.head);
  const set = (change: Partial<Unit>, words: string) =>
    act(
      withUnit(unit.id, () => change),
      `${unit.name}: ${words}`,
    );
  return (
    <div className="grid gap-2">
      <div className="grid grid-cols-[1fr_7.5rem] gap-2">
        <NameField key={unit.id + unit.name} unit={unit} disabled={!editable} />
        <Choice
          label="Part"
          value={unit.role}
          options={ROLES}
          disabled={!editable}
          onChange={(role) => set({ role }, `is the ${role}`)}
        />
      </div>
      <Choice
        label="Head"
        value={unit.head}
        disabled={!editable}
        options={heads.map((h) => ({ value: h.key, label: inWords(h.name), note: `${h.watts} W` }))}
        onChange={(key) =>
          void changeHead(
            unit,
            heads.find((h) => h.key === key)!,
          )
        }
      />
      <Button
        look="bare"
        className="text-xs"
        disabled={!editable}
        onClick={() => setStanding(true)}
      >
        What could stand in for it
      </Button>
      {standing && <StandIns unit={unit} close={() => setStanding(false)} />}
      <Levels unit={unit} head={head} disabled={!editable} />
      <SourceBuilder unit={unit} constants={constants} disabled={!editable} />
      <Leak unit={unit} head={head} disabled={!editable} />
      <Place unit={unit} disabled={!editable} />
      <AimedAt kind="unit" item={unit} disabled={!editable} />
      <LandingFields disabled={!editable} what={thrower ?? unit.name} />
      <HeldBy unit={unit} disabled={!editable} />
      <SwitchField unit={unit} disabled={!editable} />
      <div className="flex gap-1">
        <Button className="flex-1" disabled={!editable} onClick={() => toggleOn(unit.id)}>
          {unit.on ? "Off" : "On"}
        </Button>
        <PhotometricFile unit={unit} disabled={!editable} />
        <Button look="bare" disabled={!editable} onClick={() => strike(unit.id)}>
          Strike
        </Button>
      </div>
      <Measured key={unit.id} unit={unit} disabled={!editable} />
      {reading && (
        <p className="text-xs">
          Beam {reading.beam.toFixed(0)}° · field {reading.field.toFixed(0)}° ·{" "}
          {Math.round(reading.lumens).toLocaleString("en-GB")} lm at full
          {unit.ies ? ", from the file" : `, ${head?.source}`}
          {Math.abs(reading.dial - unit.dimmer) > 0.01 &&
            ` · its dial stands at ${Math.round(reading.dial * 100)} %`}
        </p>
      )}
      {head && (
        <p className="text-xs text-quiet">
          {head.weight} kg · {head.noise}
          {head.battery > 0 ? ` · ${head.battery} min on its battery` : ""} · {head.price} · cloth
          and paper {inWords(`${head.distance} m`)} off
        </p>
      )}
      {head && (
        <p className="text-xs text-quiet">
          <b className="text-fault">Mind:</b> {inWords(head.caution)}
        </p>
      )}
    </div>
  );
}

/** What its vents and back let out: on walls and ceiling, where nobody put it. */
function Leak({ unit, head, disabled }: { unit: Unit; head?: Head; disabled: boolean }) {
  const wrapped = unit.attachments.some((a) => a.key === "wrap");
  const typical = head?.leak ? `typical ${percent(head.leak)}` : "";
  return (
    <Slider
      label="Leaks"
      value={unit.leak * 100}
      min={0}
      max={5}
      step={0.5}
      fine={0.1}
      disabled={disabled}
      text={unit.leak ? percent(unit.leak) : "none reckoned"}
      note={wrapped && unit.leak ? "wrap leaves a tenth" : typical}
      onChange={(p) => move(withUnit(unit.id, () => ({ leak: Math.round(p * 10) / 1000 })))}
      onDone={() => settle(`${unit.name} leaks`)}
    />
  );
}
const percent = (part: number) => `${+(part * 100).toFixed(1)} %`;

function NameField({ unit, disabled }: { unit: Unit; disabled: boolean }) {
  const [name, setName] = useState(unit.name);
  const take = () =>
    name.trim() && name !== unit.name
      ? act(
          withUnit(unit.id, () => ({ name: name.trim().slice(0, 80) })),
          `${unit.name} renamed`,
        )
      : setName(unit.name);
  return (
    <label className="grid gap-0.5">
      <span className="text-xs text-quiet">Name</span>
      <input
        className="h-10 w-full min-w-0 rounded border border-line bg-ink px-2.5"
        value={name}
        disabled={disabled}
        maxLength={80}
        onChange={(e) => setName(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
      />
    </label>
  );
}

/** Dimmer in stops, white in mired: equal steps of the hand are equal steps for the eye. */
function Levels({
  unit,
  head,
  disabled,
}: {
  unit: Unit;
  head: Head | undefined;
  disabled: boolean;
}) {
  const stops = unit.dimmer > 0 ? Math.max(LOWEST, Math.log2(unit.dimmer)) : LOWEST;
  const [low, high] = unit.ies ? [2000, 10000] : (head?.cct ?? [2000, 10000]);
  const mired = 1e6 / unit.cct;
  const warmth = (m: number) => {
    const k = Math.round(1e6 / m);
    return k >= 3500 ? Math.round(k / 50) * 50 : Math.round(k / 25) * 25;
  };
  return (
    <>
      <Slider
        label="Dimmer"
        value={stops}
        min={LOWEST}
        max={0}
        step={1 / 3}
        fine={1 / 10}
        disabled={disabled}
        text={`${(unit.dimmer * 100).toFixed(unit.dimmer < 0.1 ? 1 : 0)} %`}
        typed={(percent) => (percent <= 0 ? LOWEST : Math.log2(percent / 100))}
        note={unit.dimmer > 0 ? `${stops.toFixed(1).replace("-", "−")} stops` : "dark"}
        onChange={(s) =>
          move(withUnit(unit.id, () => ({ dimmer: s <= LOWEST + 0.01 ? 0 : clampDimmer(2 ** s) })))
        }
        onDone={() => settle(`${unit.name} dimmer`)}
      />
      <div className="grid grid-cols-2 gap-1.5">
        {head?.colour && (
          <>
            <Slider
              label="Hue"
              value={unit.hue}
              min={0}
              max={360}
              step={10}
              fine={2}
              disabled={disabled}
              track="linear-gradient(90deg,#a33,#a93 17%,#3a3 33%,#3aa 50%,#33a 67%,#a3a 83%,#a33)"
              text={`${unit.hue.toFixed(0)}°`}
              onChange={(hue) => move(withUnit(unit.id, () => ({ hue: Math.round(hue) })))}
              onDone={() => settle(`${unit.name} hue`)}
            />
            <Slider
              label="Saturation"
              value={unit.saturation}
              min={0}
              max={1}
              step={0.1}
              fine={0.02}
              disabled={disabled}
              typed={(percent) => percent / 100}
              text={`${Math.round(unit.saturation * 100)} %`}
              onChange={(s) =>
                move(withUnit(unit.id, () => ({ saturation: Math.round(s * 100) / 100 })))
              }
              onDone={() => settle(`${unit.name} saturation`)}
            />
          </>
        )}
        {low < high ? (
          <Slider
            label="White"
            value={-mired}
            min={-1e6 / low}
            max={-1e6 / high}
            step={10}
            fine={2}
            disabled={disabled}
            track="linear-gradient(90deg,#b5651f,#d9b27c 45%,#e8e6e0 62%,#7f9cc9)"
            typed={(kelvin) => -1e6 / Math.max(kelvin, 1)}
            text={`${unit.cct} K`}
            onChange={(m) =>
              move(withUnit(unit.id, () => ({ cct: Math.min(high, Math.max(low, warmth(-m))) })))
            }
            onDone={() => settle(`${unit.name} white`)}
          />
        ) : (
          <p className="self-center text-xs text-quiet">White {unit.cct} K, fixed by the head.</p>
        )}
        <Slider
          label="Green"
          value={unit.green}
          min={-1}
          max={1}
          step={1 / 8}
          fine={1 / 16}
          disabled={disabled}
          track="linear-gradient(90deg,#8a4a80,#55555c 50%,#4c8a55)"
          text={
            Math.abs(unit.green) < 0.01
              ? "0"
              : `${unit.green > 0 ? "+" : "−"}${Math.abs(unit.green).toFixed(2)}`
          }
          onChange={(g) =>
            move(
              withUnit(unit.id, () => ({
                green: Math.abs(g) < 0.04 ? 0 : Math.round(g * 100) / 100,
              })),
            )
          }
          onDone={() => settle(`${unit.name} green`)}
        />
      </div>
    </>
  );
}

function Place({ unit, disabled }: { unit: Unit; disabled: boolean }) {
  useDesk((d) => d.look); // the face the words are measured from comes with the look
  const polar = polarOf(unit);
  if (!polar) return null;
  const put = (words: string, change: () => void) => nudge(change, `${unit.name} ${words}`);
  return (
    <PolarFields
      polar={polar}
      height={unit.position[2]}
      lowest={0.1}
      disabled={disabled}
      place={(words, to) => put(words, () => placePolar(unit.id, () => to))}
      lift={(words, z) => put(words, () => setHeight(unit.id, z))}
    />
  );
}

/**
 * One reading on the axis at full replaces the catalogue's output; the light goes out as a file.
 */
function Measured({ unit, disabled }: { unit: Unit; disabled: boolean }) {
  const length = useLength();
  const record = useDesk((d) => d.record!.id);
  const [open, setOpen] = useState(false);
  const [lux, setLux] = useState(unit.measured?.lux ?? 1000);
  const [distance, setDistance] = useState(unit.measured?.distance ?? 2);
  const file = (kind: string) => (
    <a
      key={kind}
      className="inline-flex min-h-10 items-center px-2 underline decoration-quiet underline-offset-2"
      href={`/api/setups/${record}/units/${unit.id}/photometry.${kind}`}
      download
    >
      {kind.toUpperCase()}
    </a>
  );
  return (
    <>
      <div className="flex flex-wrap items-center text-xs">
        <Button
          look="bare"
          disabled={disabled}
          onClick={() =>
            unit.measured
              ? act(
                  withUnit(unit.id, () => ({ measured: null })),
                  `${unit.name}: catalogue output`,
                )
              : setOpen(!open)
          }
        >
          {unit.measured ? "Output as measured: drop" : "Set output by a reading…"}
        </Button>
        <span className="text-quiet">as file</span> {["ies", "ldt"].map(file)}
      </div>
      {open && !unit.measured && (
        <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-1.5">
          <NumberField
            label="On the axis, at full"
            unit="lx"
            value={lux}
            step={50}
            min={0.1}
            max={1e7}
            onChange={setLux}
          />
          <NumberField
            label="From the face of it"
            unit={length.unit}
            digits={2}
            value={length.show(distance)}
            step={0.5}
            min={0.1}
            max={100}
            onChange={(v) => setDistance(length.take(v))}
          />
          <Button
            look="lamp"
            onClick={() => {
              act(
                withUnit(unit.id, () => ({ measured: { lux, distance: +distance.toFixed(3) } })),
                `${unit.name}: output as measured`,
              );
              setOpen(false);
            }}
          >
            Take
          </Button>
        </div>
      )}
    </>
  );
}

/**
 * Replace the head's own figures by a photometric file, IES or EULUMDAT; the server reads it and
 * says what is wrong with it.
 */
function PhotometricFile({ unit, disabled }: { unit: Unit; disabled: boolean }) {
  const input = useRef<HTMLInputElement>(null);
  async function take(file: File | undefined) {
    if (!file) return;
    if (file.size > 400_000)
      return setDesk({
        fault: {
          text: `${file.name} is larger than 400 kB: that is no photometric file.`,
          path: "",
        },
      });
    const ies = new TextDecoder("latin1").decode(await file.arrayBuffer());
    act(
      withUnit(unit.id, () => ({ ies })),
      `${unit.name}: ${file.name}`,
    );
  }
  if (unit.ies)
    return (
      <Button
        disabled={disabled}
        onClick={() =>
          act(
            withUnit(unit.id, () => ({ ies: null })),
            `${unit.name}: catalogue figures`,
          )
        }
      >
        No file
      </Button>
    );
  return (
    <>
      <Button
        disabled={disabled}
        title="Use an IES or EULUMDAT file for this unit"
        onClick={() => input.current?.click()}
      >
        File…
      </Button>
      <input
        ref={input}
        type="file"
        accept=".ies,.ldt"
        className="hidden"
        aria-label="Photometric file"
        onChange={(e) => {
          void take(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
    </>
  );
}
