import type { Camera, Constants } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Dial } from "../../parts/Dial";
import { NumberField } from "../../parts/NumberField";
import { useLength } from "../../app/preferences";
import { Around } from "./Around";
import { Cameras } from "./Cameras";
import { Depth } from "./Depth";
import { NdFilters } from "./NdFilters";
import {
  ndWords,
  readShutter,
  shutterCode,
  shutterName,
  shutterOf,
  stopName,
  stopWords,
  within,
  type SetCamera,
} from "./settings";
import { Timing } from "./Timing";
import { act, mayEdit, useDesk, withCamera } from "../store";

const SENSORS = [
  { value: "full-frame", label: "Full frame", note: "36 mm" },
  { value: "super-35", label: "Super 35", note: "24.9 mm" },
  { value: "four-thirds", label: "Four thirds", note: "17.3 mm" },
  { value: "one-inch", label: "One inch", note: "13.2 mm" },
  { value: "custom", label: "Custom width", note: "mm" },
] as const;
const CURVES = [
  { value: "bt709", label: "BT.709" },
  { value: "hlg", label: "BT.2100 HLG" },
  { value: "acescct", label: "ACEScct" },
  { value: "linear", label: "Linear" },
  { value: "log", label: "Log, by its figures" },
] as const;
const GUIDES = [
  ["thirds", "Thirds"],
  ["eyeline", "Eyeline"],
  ["headroom", "Headroom"],
] as const;
const FOLLOWS: { value: Camera["follow"]; label: string }[] = [
  { value: "", label: "it stays" },
  { value: "turning", label: "it turns along" },
  { value: "going", label: "it goes along" },
];

export function CameraPanel({ dials }: { dials: Constants["dials"] }) {
  const camera = useDesk((d) => d.draft!.cameras[0]!);
  const facts = useDesk((d) => d.cameraFacts);
  const editable = useDesk(mayEdit);
  const length = useLength();
  const set: SetCamera = (change, words) =>
    act(
      withCamera(() => change),
      `Camera: ${words}`,
    );
  const disabled = !editable;
  // The camera's own value is in each list, whatever it is.
  const has = <T extends { value: unknown }>(list: T[], own: T) =>
    list.some((o) => o.value === own.value) ? list : [own, ...list];
  const shutters = [
    ...dials.angles.map((angle) => ({ angle, time: null })),
    ...dials.speeds.map((speed) => ({ angle: null, time: 1 / speed })),
  ].map((shutter) => ({ value: shutterCode(shutter), label: shutterName(shutter) }));
  return (
    <div className="grid gap-3">
      <Cameras disabled={disabled} />
      <div className="grid grid-cols-2 gap-2">
        <Dial
          label="Stop"
          value={camera.t_stop}
          disabled={disabled}
          options={dials.stops.map((value) => ({ value, label: stopWords(value) }))}
          read={within(0.5, 90, /^[tf]\/?/)}
          nameOf={stopName}
          hint="A number from 0.5 to 90"
          onChange={(t_stop) => set({ t_stop }, stopName(t_stop))}
        />
        <Dial
          label="Exposure index"
          value={camera.iso}
          disabled={disabled}
          options={dials.indexes.map((value) => ({ value, label: `EI ${value}` }))}
          read={within(25, 204800, /^(ei|iso)/)}
          nameOf={(value) => `EI ${value}`}
          hint="A number from 25 to 204800"
          onChange={(iso) => set({ iso }, `EI ${iso}`)}
        />
        <Dial
          label="Shutter"
          value={shutterCode(camera.shutter)}
          disabled={disabled}
          options={shutters}
          read={readShutter}
          nameOf={(code) => shutterName(shutterOf(code))}
          hint="An angle up to 360, or a time such as 1/50"
          onChange={(code) =>
            set({ shutter: shutterOf(code) }, `shutter ${shutterName(shutterOf(code))}`)
          }
        />
        <Dial
          label="Frames a second"
          value={camera.fps}
          disabled={disabled}
          options={dials.rates.map((value) => ({ value, label: `${value} fps` }))}
          read={within(1, 240, /fps$/)}
          nameOf={(fps) => `${fps} fps`}
          hint="A number from 1 to 240"
          onChange={(fps) => set({ fps }, `${fps} fps`)}
        />
        <Choice
          label="ND"
          value={camera.nd}
          disabled={disabled}
          options={has(
            [0, ...(camera.filters.length ? camera.filters : dials.filters)].map((value) => ({
              value,
              label: value ? ndWords(value) : "none",
            })),
            { value: camera.nd, label: ndWords(camera.nd) },
          )}
          onChange={(nd) => set({ nd }, nd ? ndWords(nd) : "no ND")}
        />
        <NumberField
          label="Other filters take"
          unit="stops"
          digits={2}
          value={camera.filter_loss}
          step={0.333}
          min={0}
          max={10}
          disabled={disabled}
          onChange={(v) => set({ filter_loss: +v.toFixed(3) }, "filters")}
        />
        <NumberField
          label="White balance"
          unit="K"
          value={camera.white_balance}
          step={100}
          min={2000}
          max={10000}
          disabled={disabled}
          onChange={(k) => set({ white_balance: Math.round(k) }, `${Math.round(k)} K`)}
        />
        <NumberField
          label="Tint (green +)"
          unit=""
          digits={2}
          value={camera.tint}
          step={0.125}
          min={-1}
          max={1}
          disabled={disabled}
          onChange={(tint) => set({ tint: +tint.toFixed(3) }, "tint")}
        />
      </div>
      <NdFilters
        filters={camera.filters}
        disabled={disabled}
        onChange={(filters) =>
          set({ filters }, filters.length ? `${filters.length} ND filters at hand` : "any ND")
        }
      />
      <Timing disabled={disabled} set={set} />
      <div className="grid grid-cols-2 gap-2">
        <Choice
          label="Curve"
          value={camera.curve}
          disabled={disabled}
          options={[...CURVES]}
          onChange={(curve) => set({ curve }, CURVES.find((c) => c.value === curve)!.label)}
        />
        <NumberField
          label="Native index"
          unit="EI"
          value={camera.native_iso}
          step={100}
          min={25}
          max={25600}
          disabled={disabled}
          onChange={(v) => set({ native_iso: Math.round(v) }, "native index")}
        />
      </div>
      {camera.curve === "log" && (
        <div className="grid grid-cols-3 gap-2">
          <NumberField
            label="Grey at"
            unit="%"
            value={camera.log.grey * 100}
            step={1}
            min={10}
            max={80}
            disabled={disabled}
            onChange={(v) =>
              set({ log: { ...camera.log, grey: +(v / 100).toFixed(3) } }, "log, grey")
            }
          />
          <NumberField
            label="Over grey"
            unit="stops"
            digits={1}
            value={camera.log.over}
            step={0.5}
            min={1}
            max={12}
            disabled={disabled}
            onChange={(over) =>
              set({ log: { ...camera.log, over: +over.toFixed(2) } }, "log, stops over")
            }
          />
          <NumberField
            label="Under grey"
            unit="stops"
            digits={1}
            value={camera.log.under}
            step={0.5}
            min={2}
            max={16}
            disabled={disabled}
            onChange={(under) =>
              set({ log: { ...camera.log, under: +under.toFixed(2) } }, "log, stops under")
            }
          />
        </div>
      )}
      {facts && (
        <p className="text-xs text-quiet">
          {facts.curve}: grey at {(facts.grey * 100).toFixed(0)} %, {facts.over.toFixed(1)} stops up
          to the clip, {facts.under.toFixed(1)} down to the noise. {facts.source}.
        </p>
      )}
      <div className="grid grid-cols-2 gap-2">
        <NumberField
          label="Focal length"
          unit="mm"
          value={camera.focal_length}
          step={5}
          min={4}
          max={1200}
          disabled={disabled}
          onChange={(mm) => set({ focal_length: +mm.toFixed(1) }, `${mm.toFixed(0)} mm`)}
        />
        <Choice
          label="Sensor"
          value={camera.sensor}
          disabled={disabled}
          options={[...SENSORS]}
          onChange={(sensor) => set({ sensor }, sensor)}
        />
        {camera.sensor === "custom" && (
          <NumberField
            label="Its width"
            unit="mm"
            digits={1}
            value={camera.sensor_width}
            step={0.5}
            min={3}
            max={80}
            disabled={disabled}
            onChange={(v) => set({ sensor_width: +v.toFixed(2) }, "sensor's width")}
          />
        )}
        <NumberField
          label="Lens height"
          unit={length.unit}
          digits={2}
          value={length.show(camera.position[2])}
          step={0.1}
          min={0.1}
          max={30}
          disabled={disabled}
          onChange={(z) =>
            set(
              { position: [camera.position[0], camera.position[1], +length.take(z).toFixed(3)] },
              "lens height",
            )
          }
        />
        <NumberField
          label="Looks at height"
          unit={length.unit}
          digits={2}
          value={length.show(camera.aim[2])}
          step={0.05}
          min={0}
          max={30}
          disabled={disabled}
          onChange={(z) =>
            set({ aim: [camera.aim[0], camera.aim[1], +length.take(z).toFixed(3)] }, "tilt")
          }
        />
        <NumberField
          label="Roll (right hand up +)"
          unit="°"
          digits={1}
          value={camera.roll}
          step={1}
          min={-180}
          max={180}
          disabled={disabled}
          onChange={(roll) => set({ roll: +roll.toFixed(1) }, `rolled ${roll.toFixed(0)}°`)}
        />
        <Choice
          label="When the subject moves"
          value={camera.follow}
          disabled={disabled}
          options={FOLLOWS}
          onChange={(follow) => set({ follow }, FOLLOWS.find((f) => f.value === follow)!.label)}
        />
      </div>
      <Depth disabled={disabled} set={set} />
      <Around disabled={disabled} />
      <div role="group" aria-label="Guides" className="flex gap-1">
        {GUIDES.map(([key, label]) => {
          const on = camera.guides.includes(key);
          return (
            <Button
              key={key}
              look="bare"
              disabled={disabled}
              aria-pressed={on}
              className={on ? "text-lamp" : ""}
              onClick={() =>
                set(
                  { guides: on ? camera.guides.filter((g) => g !== key) : [...camera.guides, key] },
                  `${label.toLowerCase()} ${on ? "off" : "on"}`,
                )
              }
            >
              {label}
            </Button>
          );
        })}
      </div>
    </div>
  );
}
