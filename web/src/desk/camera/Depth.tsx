import { Button } from "../../parts/Button";
import { NumberField } from "../../parts/NumberField";
import { useLength } from "../../app/preferences";
import type { SetCamera } from "./settings";
import { useDesk } from "../store";

/** What the lens holds sharp. */
export function Depth({ disabled, set }: { disabled: boolean; set: SetCamera }) {
  const facts = useDesk((d) => d.cameraFacts);
  const focus = useDesk((d) => d.draft!.cameras[0]!.focus);
  const length = useLength();
  if (!facts) return null;
  const { depth } = facts;
  return (
    <div className="grid grid-cols-[1fr_auto] items-end gap-2">
      <NumberField
        label={focus == null ? "Focus, on the eyes" : "Focus"}
        unit={length.unit}
        digits={2}
        value={length.show(depth.focus)}
        step={0.1}
        min={0.1}
        max={200}
        disabled={disabled}
        onChange={(v) => set({ focus: +length.take(v).toFixed(3) }, "focus")}
      />
      <Button
        look="bare"
        disabled={disabled || focus == null}
        onClick={() => set({ focus: null }, "focus on the eyes")}
      >
        On the eyes
      </Button>
      <p className="col-span-2 text-xs text-quiet">
        Sharp from {length.text(depth.near)} to{" "}
        {depth.far === null ? "infinity" : length.text(depth.far!)}; hyperfocal{" "}
        {length.text(depth.hyperfocal, 1)}.
      </p>
    </div>
  );
}
