import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { useLight } from "../../app/preferences";
import { takeTo } from "../order/order";
import { isNear, leftWords, settingOf, settingWords, type Way } from "../camera/settings";
import { act, isFresh, mayEdit, useDesk, withCamera } from "../store";

/**
 * Exposing for what can't be dimmed: where it sits, the settings that hold it, the level the key
 * must then reach, and who can.
 */
export function FixedPage() {
  const fixed = useDesk((d) => d.draft!.fixed);
  const judged = useDesk((d) => d.judged);
  const editable = useDesk(mayEdit),
    fresh = useDesk(isFresh);
  const light = useLight();
  if (!judged) return <p className="text-quiet">Looking at the picture…</p>;
  const free = judged.can_be_fixed.filter((t) => !fixed.some((f) => f.thing === t.id));
  const name = (id: string) => judged.can_be_fixed.find((t) => t.id === id)?.name ?? id;
  const set = (thing: string, stops: number) =>
    act(
      (d) => ({ ...d, fixed: d.fixed.map((f) => (f.thing === thing ? { ...f, stops } : f)) }),
      `${name(thing)} held at ${stops.toFixed(1)}`,
    );
  function take(way: Way) {
    act(
      withCamera(() => settingOf(way)),
      `Camera: ${settingWords(way)}, for what can't be dimmed`,
    );
  }
  return (
    <section aria-label="What can't be dimmed" className="grid gap-2">
      {fixed.length === 0 && (
        <p className="text-quiet">
          A window, a lamp in the picture, a screen, a sunlit wall: mark what cannot be dimmed, and
          say where it should sit. Stop, index or ND follow from it, and the level the key must
          reach.
        </p>
      )}
      {fixed.map((f) => {
        const row = judged.fixed.find((r) => r.thing === f.thing);
        return (
          <div
            key={f.thing}
            role="group"
            aria-label={name(f.thing)}
            className="grid gap-1.5 border-t border-line pt-2"
          >
            <div className="grid grid-cols-[1fr_7rem_auto] items-end gap-1.5">
              <p>
                <b>{name(f.thing)}</b>
                <br />
                <span className="text-xs text-quiet">
                  {row
                    ? row.sits == null
                      ? row.words
                      : `now ${row.sits >= 0 ? "+" : "−"}${Math.abs(row.sits).toFixed(1)}, ${row.words}`
                    : "looking…"}
                </span>
              </p>
              <NumberField
                label="Should sit"
                unit="stops"
                digits={1}
                value={f.stops ?? 2}
                step={0.5}
                min={-8}
                max={10}
                disabled={!editable}
                onChange={(v) => set(f.thing, +v.toFixed(2))}
              />
              <Button
                look="bare"
                aria-label={`${name(f.thing)} can be dimmed`}
                disabled={!editable}
                onClick={() =>
                  act(
                    (d) => ({ ...d, fixed: d.fixed.filter((k) => k.thing !== f.thing) }),
                    `${name(f.thing)} free again`,
                  )
                }
              >
                Free
              </Button>
            </div>
            {row && row.sits != null && !row.met && (
              <div className="flex flex-wrap gap-1">
                {row.ways.map((way) => (
                  <Button
                    key={way.what}
                    className="text-xs"
                    disabled={!editable || !fresh || !isNear(way)}
                    title={isNear(way) ? undefined : `${way.left.toFixed(1)} stops would be left`}
                    onClick={() => take(way)}
                  >
                    Set {settingWords(way)}
                    <span className="text-quiet">{leftWords(way)}</span>
                  </Button>
                ))}
              </div>
            )}
            {row && row.key_lux != null && (
              <p className="text-xs text-quiet">
                {row.met ? "At these settings" : "Then"} the key side asks for{" "}
                <b className="text-paper">{light.text(row.key_lux!, row.key_footcandles!)}</b>
                {row.units.length === 0 && "; no unit is here to give it"}.
              </p>
            )}
            {row && row.units.length > 0 && (
              <ul aria-label="Who can reach it" className="grid gap-0.5 text-xs">
                {row.units.map((u) => (
                  <li key={u.id} className="flex min-h-10 items-center justify-between gap-2">
                    <span>
                      <b>{u.name}</b> <span className="text-quiet">{u.words}</span>
                    </span>
                    {u.dimmer != null && row.met && (
                      <Button
                        disabled={!editable || !fresh}
                        className="text-xs"
                        onClick={() => takeTo(u.id, u.dimmer!)}
                      >
                        Take it there
                      </Button>
                    )}
                  </li>
                ))}
              </ul>
            )}
          </div>
        );
      })}
      {free.length > 0 && (
        <Choice
          label="Mark as fixed"
          value=""
          options={[
            { value: "", label: "choose…" },
            ...free.map((t) => ({ value: t.id, label: t.name })),
          ]}
          disabled={!editable}
          onChange={(thing) =>
            thing &&
            act(
              (d) => ({
                ...d,
                fixed: [...d.fixed, { thing, stops: thing === "@backdrop" ? 0 : 2 }],
              }),
              `${name(thing)} can't be dimmed`,
            )
          }
        />
      )}
    </section>
  );
}
