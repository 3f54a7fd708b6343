import { memo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Attachment, Head, Unit } from "../../app/api";
import { Button } from "../../parts/Button";
import { HouseLights } from "./HouseLights";
import { BringIn } from "./BringIn";
import { LevelCard } from "../LevelCard";
import { WorkSheet } from "../work/WorkSheet";
import { toggleOn } from "./gestures";
import { useLight, useWords } from "../../app/preferences";
import { act, choose, chooseAlso, mayEdit, setDesk, SKY, useDesk } from "../store";

/** Every unit on the set, in the order it was brought in, with what it gives to the face. */
export function UnitList({ heads, attachments }: { heads: Head[]; attachments: Attachment[] }) {
  const units = useDesk((d) => d.draft!.units);
  const editable = useDesk(mayEdit);
  const [adding, setAdding] = useState(false);
  const [card, setCard] = useState(false),
    [work, setWork] = useState(false);
  const solo = useDesk((d) => d.solo);
  const sky = useDesk((d) => d.draft!.room.outdoors || d.draft!.openings.length > 0);
  return (
    <section aria-label="Units" className="flex min-h-0 flex-1 flex-col">
      {solo !== null && (
        <div className="px-2 pb-1">
          <Button className="w-full" onClick={() => setDesk({ solo: null })}>
            All
          </Button>
        </div>
      )}
      <ol className="min-h-0 flex-1 overflow-y-auto px-2">
        {units.map((unit) => (
          <Row key={unit.id} unit={unit} heads={heads} editable={editable} />
        ))}
        <SkyRows />
        {units.length === 0 && !sky && (
          <li className="px-2 py-3 text-quiet">The stage is dark. Bring in the key first.</li>
        )}
      </ol>
      <HouseLights />
      <div className="grid gap-1 p-2">
        <div className="grid grid-cols-[auto_1fr]">
          <Button look="bare" className="px-1! text-xs" onClick={() => setCard(true)}>
            Level card
          </Button>
          <Button look="bare" className="px-1! text-xs" onClick={() => setWork(true)}>
            Pack and power
          </Button>
        </div>
        {editable && (
          <Button look={units.length ? "plain" : "lamp"} onClick={() => setAdding(true)}>
            Bring in a unit
          </Button>
        )}
      </div>
      <LevelCard open={card} close={() => setCard(false)} />
      <WorkSheet open={work} close={() => setWork(false)} />
      {adding && (
        <BringIn
          heads={heads.filter((h) => !h.of_place)}
          attachments={attachments}
          close={() => setAdding(false)}
        />
      )}
    </section>
  );
}

const SKY_NAMES: Record<string, string> = { "@sky": "Sky", "@sun": "Sun" };

/**
 * What comes through the windows or from the open sky, in the same list: seen alone, switched off.
 */
function SkyRows() {
  const shining = useDesk(useShallow((d) => SKY.filter((id) => d.mix && id in d.mix.levels)));
  const sky = useDesk((d) => d.draft!.sky);
  const solo = useDesk((d) => d.solo);
  const editable = useDesk(mayEdit);
  return shining.map((id) => {
    const on = id === "@sky" ? sky.on : (sky.sun?.on ?? false),
      name = SKY_NAMES[id]!;
    const flip = () =>
      act(
        (d) => ({
          ...d,
          sky:
            id === "@sky"
              ? { ...d.sky, on: !on }
              : { ...d.sky, sun: d.sky.sun && { ...d.sky.sun, on: !on } },
        }),
        `${name} ${on ? "off" : "on"}`,
      );
    return (
      <li key={id} className="flex items-center rounded border border-transparent hover:bg-panel">
        <button
          type="button"
          onClick={() => setDesk({ panel: "room" })}
          className={`min-h-10 min-w-0 flex-1 px-2 text-left ${(solo ? solo !== id : !on) ? "opacity-55" : ""}`}
        >
          <b>{name}</b>
        </button>
        <Button
          look="bare"
          className={switchLook}
          pressed={solo === id}
          aria-label={`${name} alone`}
          onClick={() => setDesk({ solo: solo === id ? null : id })}
        >
          alone
        </Button>
        <Button
          look="bare"
          className={switchLook}
          disabled={!editable}
          aria-label={`${name} ${on ? "off" : "on"}`}
          onClick={flip}
        >
          {on ? "off" : "on"}
        </Button>
      </li>
    );
  });
}

const switchLook = "min-w-10 px-0! text-xs";

/** One unit in a line: its name and level, alone, off. Ten fit beside frame, plan and readings. */
const Row = memo(function Row({
  unit,
  heads,
  editable,
}: {
  unit: Unit;
  heads: Head[];
  editable: boolean;
}) {
  const chosen = useDesk((d) => d.chosen === unit.id && d.panel === "unit"),
    also = useDesk((d) => d.also.includes(unit.id));
  const solo = useDesk((d) => d.solo);
  const reading = useDesk((d) => d.look?.readings.units.find((r) => r.id === unit.id));
  const looking = useDesk((d) => d.looking);
  const light = useLight(),
    inWords = useWords();
  const head = heads.find((h) => h.key === unit.head);
  const dark = solo ? solo !== unit.id : !unit.on;
  const level = !unit.on
    ? "off"
    : reading
      ? light.text(reading.face_lux, reading.face_footcandles)
      : "…";
  const what = unit.ies ? "from a photometric file" : inWords(head?.name ?? unit.head);
  return (
    <li
      className={`flex items-center rounded border ${chosen || also ? "border-lamp bg-raised" : "border-transparent hover:bg-panel"}`}
    >
      <button
        type="button"
        aria-current={chosen || also}
        title={what}
        aria-label={`${unit.name} ${level}, ${what}`}
        onClick={(e) =>
          e.shiftKey || e.ctrlKey || e.metaKey ? chooseAlso(unit.id) : choose(unit.id)
        }
        className={`grid min-h-10 min-w-0 flex-1 content-center px-2 text-left leading-4 ${dark ? "opacity-55" : ""}`}
      >
        <b className="truncate">{unit.name}</b>
        <span className={`truncate text-xs ${looking ? "text-quiet" : ""}`}>{level}</span>
      </button>
      <Button
        look="bare"
        className={switchLook}
        pressed={solo === unit.id}
        aria-label={`${unit.name} alone`}
        onClick={() => setDesk({ solo: solo === unit.id ? null : unit.id })}
      >
        alone
      </Button>
      <Button
        look="bare"
        className={switchLook}
        disabled={!editable}
        aria-label={`${unit.name} ${unit.on ? "off" : "on"}`}
        onClick={() => toggleOn(unit.id)}
      >
        {unit.on ? "off" : "on"}
      </Button>
    </li>
  );
});
