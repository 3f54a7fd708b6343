import { type Schemas, type Unit } from "../../app/api";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { act, withUnit } from "../store";
import { BATTERY } from "./feeding";

type Props = {
  unit: Unit;
  draw: Schemas["Draw"] | undefined;
  battery: Schemas["Battery"] | undefined;
  feeds: { value: string; label: string }[];
  editable: boolean;
};

/** What one unit hangs on, its cable or its charge, and what it draws. */
export function FeedRow({ unit: u, draw, battery, feeds, editable }: Props) {
  const put = (change: Partial<Unit>, words: string) =>
    act(
      withUnit(u.id, () => change),
      `${u.name}: ${words}`,
    );
  const on = feeds.find((f) => f.value === u.feed);
  return (
    <tr className="border-t border-line align-middle">
      <th scope="row" className="text-left font-normal">
        {u.name}
        {u.switch && <span className="text-quiet"> · the place's own</span>}
      </th>
      <td className="py-1">
        <Choice
          label={`What ${u.name} hangs on`}
          hideLabel
          value={on?.value ?? ""}
          disabled={!editable}
          options={feeds}
          onChange={(feed) => put({ feed }, `on ${feeds.find((f) => f.value === feed)!.label}`)}
        />
      </td>
      <td className="pl-3">
        {u.feed === BATTERY ? (
          <NumberField
            label={`Charge of ${u.name}`}
            hideLabel
            unit="%"
            value={100 * u.charge}
            step={10}
            min={0}
            max={100}
            disabled={!editable}
            onChange={(v) => put({ charge: v / 100 }, `battery at ${v.toFixed(0)} %`)}
          />
        ) : (
          u.feed && (
            <NumberField
              label={`Cable of ${u.name}`}
              hideLabel
              unit="m"
              digits={1}
              value={draw?.run ?? 0}
              step={5}
              min={0}
              max={500}
              disabled={!editable}
              onChange={(run) => put({ run }, `${run.toFixed(0)} m of cable`)}
            />
          )
        )}
      </td>
      <td className="pl-3">
        {draw?.fault || battery?.changes.length ? (
          <span className="text-fault">{draw?.fault || battery?.words}</span>
        ) : (
          draw?.words
        )}
      </td>
    </tr>
  );
}
