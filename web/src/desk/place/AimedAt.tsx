import type { Grip, Point, Unit } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { frameOf } from "../units/gestures";
import { isAt, middleOf, thingsOf } from "./aiming";
import { act, readDesk, useDesk, withGrip, withUnit } from "../store";

const FREE = "-";

/** What a lamp or a sheet points at, and whether it goes along with that. */
export function AimedAt({
  kind,
  item,
  disabled,
}: {
  kind: "unit" | "grip";
  item: Unit | Grip;
  disabled: boolean;
}) {
  const draft = useDesk((d) => d.draft!);
  useDesk((d) => d.look); // the face comes with the look
  const things = thingsOf(draft, `${kind}:${item.id}`),
    face = frameOf()?.face;
  const placeOf = (thing: string) =>
    thing === `person:${draft.figures[0]!.id}` && face ? face : middleOf(draft, thing);
  const near = things.find(({ value }) => {
    const place = placeOf(value);
    return place && isAt(item.aim, place);
  });
  const at = item.aims_at || near?.value || FREE;
  const keep = (aims_at: string, words: string) => {
    const change = () => ({ aims_at });
    act(kind === "unit" ? withUnit(item.id, change) : withGrip(item.id, change), words);
  };
  return (
    <div className="grid grid-cols-[1fr_auto] items-end gap-1.5">
      <Choice
        label="Aimed at"
        value={at}
        options={[...(at === FREE ? [{ value: FREE, label: "as it points" }] : []), ...things]}
        disabled={disabled}
        onChange={(to) => to !== FREE && aimAt(kind, item, to)}
      />
      <Button
        look="bare"
        disabled={disabled || at === FREE}
        aria-pressed={!!item.aims_at}
        className={item.aims_at ? "text-lamp" : ""}
        title="Whether the aim goes along when what it is aimed at moves"
        onClick={() =>
          item.aims_at
            ? keep("", `${item.name}'s aim stays`)
            : keep(at, `${item.name}'s aim goes along`)
        }
      >
        Goes along
      </Button>
    </div>
  );
}

/** Aim a unit or a piece of grip at a thing, and keep it there. */
function aimAt(kind: "unit" | "grip", item: Unit | Grip, to: string) {
  const { draft } = readDesk();
  if (!draft) return;
  // The subject's face is known to the millimetre, others' well enough to be looked at.
  const subject = to === `person:${draft.figures[0]!.id}` ? frameOf()?.face : null;
  const place = subject ?? middleOf(draft, to),
    what = thingsOf(draft, "").find((one) => one.value === to);
  if (!place || !what) return;
  const change = () => ({ aim: place.map((v) => Math.round(v * 1e4) / 1e4) as Point, aims_at: to });
  act(
    kind === "unit" ? withUnit(item.id, change) : withGrip(item.id, change),
    `${item.name} aimed at ${what.label}`,
  );
}
