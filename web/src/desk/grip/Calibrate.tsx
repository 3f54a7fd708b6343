import { useState } from "react";
import { api, got, type Document, type Grip, type Problem } from "../../app/api";
import { Button } from "../../parts/Button";
import { NumberField } from "../../parts/NumberField";
import { act, setDesk } from "../store";

/** Two readings, with the cloth and without, make a cloth of one's own. */
export function Calibrate({
  piece,
  material,
  disabled,
}: {
  piece: Grip;
  material: string;
  disabled: boolean;
}) {
  const [open, setOpen] = useState(false);
  const [pair, setPair] = useState<[number, number]>([50, 100]);
  async function take() {
    try {
      const made = await got<Document["materials"][number]>(
        api.POST("/api/materials/calibrate", {
          body: {
            material,
            id: `own-${piece.id}`,
            name: `${piece.name}, as measured`,
            with_it: pair[0],
            without: pair[1],
          },
        }),
      );
      act(
        (d) => ({
          ...d,
          materials: [...d.materials.filter((m) => m.id !== made.id), made],
          grip: d.grip.map((g) => (g.id === piece.id ? { ...g, material: made.id } : g)),
        }),
        `${piece.name}: as measured`,
      );
      setOpen(false);
    } catch (error) {
      setDesk({ fault: { text: (error as Problem).message, path: "" } });
    }
  }
  if (!open)
    return (
      <Button look="bare" disabled={disabled} onClick={() => setOpen(true)}>
        Set it by two readings…
      </Button>
    );
  return (
    <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-1.5">
      <NumberField
        label="Meter with it"
        unit=""
        digits={1}
        value={pair[0]}
        step={1}
        min={0.01}
        max={1e6}
        onChange={(v) => setPair([v, pair[1]])}
      />
      <NumberField
        label="Without it"
        unit=""
        digits={1}
        value={pair[1]}
        step={1}
        min={0.01}
        max={1e6}
        onChange={(v) => setPair([pair[0], v])}
      />
      <Button look="lamp" onClick={() => void take()}>
        Take
      </Button>
    </div>
  );
}
