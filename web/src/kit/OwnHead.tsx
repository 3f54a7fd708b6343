import { useState, type FormEvent } from "react";
import { api, type Head, type Schemas } from "../app/api";
import { Ending } from "../parts/Ending";
import { Choice } from "../parts/Choice";
import { NumberField } from "../parts/NumberField";
import { Sheet } from "../parts/Sheet";
import { TextField } from "../parts/TextField";

type Props = {
  production: number;
  heads: Head[];
  close: () => void;
  done: () => Promise<void>;
};

/** A head of one's own, made of three readings of a meter. */
export function OwnHead({ production, heads, close, done }: Props) {
  const [head, setHead] = useState<Schemas["ReadHead"]>({
    name: "",
    head: heads[0]!.key,
    distance: 2,
    axis: 1000,
    off: [
      [20, 500],
      [40, 100],
    ],
    count: 1,
  });
  const [fault, setFault] = useState("");
  const put = (change: Partial<typeof head>) => setHead((h) => ({ ...h, ...change }));
  const off = (at: 0 | 1, part: 0 | 1, value: number) =>
    setHead((h) => {
      const both = h.off.map((pair) => [...pair]) as typeof h.off;
      both[at]![part] = value;
      return { ...h, off: both };
    });

  async function store(event: FormEvent) {
    event.preventDefault();
    try {
      await api.POST("/api/productions/{pk}/kit/head", {
        params: { path: { pk: production } },
        body: { ...head, name: head.name.trim() },
      });
      await done();
      close();
    } catch (error) {
      setFault((error as Error).message);
    }
  }
  return (
    <Sheet open close={close} title="A head by three readings" wide>
      <form onSubmit={(e) => void store(e)} className="grid gap-3">
        <p className="text-quiet">
          At full, all at one distance, the meter turned to the lamp each time: on its axis, and at
          two angles off it. The smooth beam through the three is kept as a photometric file.
        </p>
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Name"
            value={head.name}
            onChange={(name) => put({ name })}
            maxLength={80}
            required
          />
          <Choice
            label="Its lit face is like that of"
            value={head.head}
            options={heads.map((h) => ({ value: h.key, label: h.name }))}
            onChange={(key) => put({ head: key })}
          />
        </div>
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label="Distance of all three"
            unit="m"
            digits={2}
            value={head.distance}
            step={0.5}
            min={0.3}
            max={50}
            onChange={(distance) => put({ distance })}
          />
          <NumberField
            label="On the axis"
            unit="lx"
            value={head.axis}
            step={50}
            min={0}
            max={1e7}
            onChange={(axis) => put({ axis })}
          />
          {([0, 1] as const).map((at) => (
            <div key={at} className="col-span-2 grid grid-cols-2 gap-3">
              <NumberField
                label={at ? "Farther off the axis" : "Off the axis"}
                unit="°"
                value={head.off[at]![0]!}
                step={5}
                min={1}
                max={160}
                onChange={(v) => off(at, 0, v)}
              />
              <NumberField
                label={at ? "Reading farther off" : "Reading there"}
                unit="lx"
                value={head.off[at]![1]!}
                step={10}
                min={0}
                max={1e7}
                onChange={(v) => off(at, 1, v)}
              />
            </div>
          ))}
        </div>
        <Ending fault={fault} close={close} action="Add it" />
      </form>
    </Sheet>
  );
}
