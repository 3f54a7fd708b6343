import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, got, type Schemas, type SetupRecord } from "../app/api";
import { useConstants } from "../app/constants";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { H2 } from "./panel";

type Read = Schemas["StillRead"];
export type Colour = { key: string; name: string; mired: number; green: number };

/** White that a still is counted from where its camera's is not known [K]. */
const BASE = 5600;

/**
 * Whites that a still tells, as those of lamps before a camera of a set-up: where the still's own
 * camera is not known, by as many mired off that one's white.
 */
export function coloursOf(read: Read | null, balance: number): Colour[] {
  if (!read?.white) return [];
  const { kelvin, absolute, green } = read.white;
  const mired = 1e6 / kelvin + (absolute ? 0 : 1e6 / balance - 1e6 / BASE);
  const found = [{ key: "key", name: "the key's", mired, green }];
  for (const [key, name, pair] of [
    ["shade", "the shade side's", read.sides],
    ["backdrop", "the backdrop's", read.backdrop],
  ] as const)
    if (pair) found.push({ key, name, mired: mired + pair.shift, green: 0 });
  return found;
}

/** Set a colour that was found in the still on a unit of the set-up it is held against. */
export function WhiteOn({
  setup,
  read,
  busy,
  set,
}: {
  setup: number;
  read: Read | null;
  busy: boolean;
  set: (patches: Schemas["Patch"][], gesture: string) => void;
}) {
  const constants = useConstants().data;
  const record = useQuery({
    queryKey: ["setup to light", setup],
    queryFn: () =>
      got<SetupRecord>(api.GET("/api/setups/{pk}", { params: { path: { pk: setup } } })),
  }).data;
  const [colour, setColour] = useState("key"),
    [chosen, setChosen] = useState<string | null>(null);
  const units = record?.document.units ?? [];
  const colours = coloursOf(read, record?.document.cameras[0]?.white_balance ?? BASE);
  if (!units.length || !constants) return null;
  if (!colours.length)
    return (
      <p className="text-sm text-quiet">
        Mark something neutral on the page Read, and the still&#8217;s white can be set on a unit.
      </p>
    );
  const unit = units.find((u) => u.id === chosen) ?? units[0]!,
    picked = colours.find((c) => c.key === colour) ?? colours[0]!;
  const [low, high] = constants.heads.find((h) => h.key === unit.head)?.cct ?? [2000, 10000];
  const wanted = 1e6 / picked.mired,
    cct = Math.round(Math.min(Math.max(wanted, low), high) / 50) * 50;
  const short = Math.abs(1e6 / cct - picked.mired) > 10;
  const green = Math.max(-1, Math.min(1, +picked.green.toFixed(2)));
  return (
    <section aria-label="Its white on a unit" className="grid gap-2">
      <H2>Its white on a unit</H2>
      <div className="grid grid-cols-2 gap-1.5">
        <Choice
          label="White"
          value={picked.key}
          options={colours.map((c) => ({
            value: c.key,
            label: c.name,
            note: `${Math.round(1e6 / c.mired / 50) * 50} K`,
          }))}
          onChange={setColour}
        />
        <Choice
          label="Unit"
          value={unit.id}
          options={units.map((u) => ({ value: u.id, label: u.name, note: `${u.cct} K` }))}
          onChange={setChosen}
        />
      </div>
      {short && (
        <p className="text-sm text-quiet">
          {unit.name} goes from {low} to {high} K: {cct} K is the nearest; a gel brings the rest.
        </p>
      )}
      <Button
        disabled={busy}
        onClick={() =>
          set(
            [{ part: "units", id: unit.id, change: { cct, green } }],
            `${unit.name}: ${picked.name} white of the still, ${cct} K`,
          )
        }
      >
        Set {cct} K on {unit.name}
      </Button>
    </section>
  );
}
