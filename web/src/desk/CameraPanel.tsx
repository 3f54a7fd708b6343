import type { Camera } from "../app/api";
import { Choice } from "../parts/Choice";
import { NumberField } from "../parts/NumberField";
import { useLength } from "./preferences";
import { act, mayEdit, useDesk, withCamera } from "./store";

const SENSORS = [
  { value: "full-frame", label: "Full frame", note: "36 mm" }, { value: "super-35", label: "Super 35", note: "24.9 mm" },
  { value: "four-thirds", label: "Four thirds", note: "17.3 mm" }, { value: "one-inch", label: "One inch", note: "13.2 mm" },
] as const;
const ISO = [100, 160, 200, 320, 400, 500, 640, 800, 1000, 1250, 1600, 2500, 3200, 5000, 6400, 12800];
const FPS = [24, 25, 30, 48, 50, 60, 100, 120];
const ANGLES = [45, 90, 144, 172.8, 180, 216, 270, 360];
const TIMES = [25, 48, 50, 60, 100, 120, 200];

export function CameraPanel({ fullStops }: { fullStops: number[] }) {
  const camera = useDesk((d) => d.draft!.cameras[0]!);
  const editable = useDesk(mayEdit);
  const length = useLength();
  const set = (change: Partial<Camera>, words: string) => act(withCamera(() => change), `Camera: ${words}`);
  const disabled = !editable;
  // Thirds between the engraved stops; the camera's own value is in the list whatever it is.
  const stops = fullStops.filter((s) => s >= 1 && s <= 32).flatMap((s, k) => [0, 1, 2].map((third) => ({ value: third ? +(2 ** ((k + third / 3) / 2)).toFixed(3) : s, label: third ? `T${s} + ${third === 1 ? "⅓" : "⅔"}` : `T${s}` })));
  const has = <T extends { value: unknown }>(list: T[], own: T) => (list.some((o) => o.value === own.value) ? list : [own, ...list]);
  const { shutter } = camera;
  const shutterNow = shutter.angle != null ? `a${shutter.angle}` : `t${Math.round(1 / shutter.time!)}`;
  const shutters = [...ANGLES.map((a) => ({ value: `a${a}`, label: `${a}°` })), ...TIMES.map((t) => ({ value: `t${t}`, label: `1/${t} s` }))];
  return (
    <div className="grid grid-cols-2 gap-2">
      <Choice label="Stop" value={camera.t_stop} disabled={disabled} options={has(stops, { value: camera.t_stop, label: `T${camera.t_stop}` })} onChange={(t_stop) => set({ t_stop }, `T${t_stop}`)} />
      <Choice label="Exposure index" value={camera.iso} disabled={disabled} options={has(ISO.map((v) => ({ value: v, label: `EI ${v}` })), { value: camera.iso, label: `EI ${camera.iso}` })} onChange={(iso) => set({ iso }, `EI ${iso}`)} />
      <Choice label="Shutter" value={shutterNow} disabled={disabled} options={has(shutters, { value: shutterNow, label: shutterNow.slice(1) })}
        onChange={(v) => set({ shutter: v[0] === "a" ? { angle: Number(v.slice(1)), time: null } : { angle: null, time: 1 / Number(v.slice(1)) } }, "shutter")} />
      <Choice label="Frames a second" value={camera.fps} disabled={disabled} options={has(FPS.map((v) => ({ value: v, label: `${v} fps` })), { value: camera.fps, label: `${camera.fps} fps` })} onChange={(fps) => set({ fps }, `${fps} fps`)} />
      <NumberField label="ND" unit="stops" digits={1} value={camera.nd} step={1} min={0} max={20} disabled={disabled} onChange={(nd) => set({ nd: +nd.toFixed(2) }, `ND ${nd.toFixed(1)}`)} />
      <NumberField label="White balance" unit="K" value={camera.white_balance} step={100} min={2000} max={10000} disabled={disabled} onChange={(k) => set({ white_balance: Math.round(k) }, `${Math.round(k)} K`)} />
      <NumberField label="Tint (green +)" unit="" digits={2} value={camera.tint} step={0.125} min={-1} max={1} disabled={disabled} onChange={(tint) => set({ tint: +tint.toFixed(3) }, "tint")} />
      <NumberField label="Focal length" unit="mm" value={camera.focal_length} step={5} min={4} max={1200} disabled={disabled} onChange={(mm) => set({ focal_length: +mm.toFixed(1) }, `${mm.toFixed(0)} mm`)} />
      <Choice label="Sensor" value={camera.sensor} disabled={disabled} options={[...SENSORS]} onChange={(sensor) => set({ sensor }, sensor)} />
      <NumberField label="Lens height" unit={length.unit} digits={2} value={length.show(camera.position[2])} step={0.1} min={0.1} max={30} disabled={disabled}
        onChange={(z) => set({ position: [camera.position[0], camera.position[1], +length.take(z).toFixed(3)] }, "lens height")} />
      <NumberField label="Looks at height" unit={length.unit} digits={2} value={length.show(camera.aim[2])} step={0.05} min={0} max={30} disabled={disabled}
        onChange={(z) => set({ aim: [camera.aim[0], camera.aim[1], +length.take(z).toFixed(3)] }, "tilt")} />
    </div>
  );
}
