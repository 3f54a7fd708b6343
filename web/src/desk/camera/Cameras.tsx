import type { Camera } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { through } from "../place/people";
import { act, useDesk } from "../store";

/** Focal lengths of a size of shot, as parts of the one the camera has. */
const SIZES = [
  { value: 0.55, label: "wide", note: "× 0.55" },
  { value: 1, label: "the same" },
  { value: 1.6, label: "close", note: "× 1.6" },
  { value: 2.4, label: "very close", note: "× 2.4" },
];

/** Every camera or lens size of the set-up; the first is the one that is looked through. */
export function Cameras({ disabled }: { disabled: boolean }) {
  const cameras = useDesk((d) => d.draft!.cameras);
  const first = cameras[0]!;
  const look = (id: string) =>
    act(through(id), `Through ${cameras.find((c) => c.id === id)!.name}`);
  function add(size: number) {
    const ids = new Set(cameras.map((c) => c.id)),
      label = SIZES.find((s) => s.value === size)!.label;
    let n = 2;
    while (ids.has(`c${n}`)) n++;
    const base = first.name.split(",")[0]!;
    const camera: Camera = {
      ...first,
      id: `c${n}`,
      name: `${base}, ${label === "the same" ? `place ${n}` : label}`.slice(0, 80),
      focal_length: +(first.focal_length * size).toFixed(1),
    };
    act((d) => ({ ...d, cameras: [camera, ...d.cameras] }), `${camera.name} added`);
  }
  return (
    <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-2">
      <Choice
        label="Look through"
        value={first.id}
        disabled={disabled || cameras.length < 2}
        options={[...cameras]
          .sort((a, b) => a.name.localeCompare(b.name))
          .map((c) => ({ value: c.id, label: c.name, note: `${c.focal_length} mm` }))}
        onChange={look}
      />
      <Choice
        label="Add a size"
        value={0}
        disabled={disabled || cameras.length >= 8}
        options={[{ value: 0, label: "choose…" }, ...SIZES]}
        onChange={(size) => size && add(size)}
      />
      {cameras.length > 1 && (
        <Button
          look="bare"
          disabled={disabled}
          onClick={() =>
            act((d) => {
              const left = d.cameras.slice(1);
              return through(left[0]!.id)({ ...d, cameras: left });
            }, `${first.name} taken away`)
          }
        >
          Remove
        </Button>
      )}
    </div>
  );
}
