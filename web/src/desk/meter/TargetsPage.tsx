import type { Constants, Document, Judged } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { TextField } from "../../parts/TextField";
import { useState } from "react";
import { takeTo } from "../order/order";
import { act, isFresh, mayEdit, useDesk } from "../store";

type Profile = NonNullable<Document["profile"]>;
type Target = Profile["targets"][number];

type Row = Judged["targets"][number];

const HOW = ["about", "at most", "at least"] as const;
const signed = (v: number) => `${v < -0.049 ? "−" : v > 0.049 ? "+" : ""}${Math.abs(v).toFixed(1)}`;

const UNITS = ["st", "%"] as const;
const unitOf = (target: Target) => (target.percent == null ? "st" : "%");
/** The same target in the other unit: percents are of the camera's curve. */
const told = (row: Row, unit: (typeof UNITS)[number]): Partial<Target> =>
  unit === "%"
    ? { stops: null, percent: Math.round(100 * row.code) }
    : { stops: +row.target.toFixed(1), percent: null };

/** Where the parts of the picture should sit, whether they do, and which unit moves them. */
export function TargetsPage({ constants }: { constants: Constants }) {
  const profile = useDesk((d) => d.draft!.profile);
  const judged = useDesk((d) => d.judged);
  const editable = useDesk(mayEdit),
    fresh = useDesk(isFresh);
  const [renaming, setRenaming] = useState<string | null>(null);
  const put = (next: Profile | null, words: string) => act((d) => ({ ...d, profile: next }), words);
  const known = constants.profiles.find((p) => p.profile.name === profile?.name);
  const options = [
    { value: "", label: "none" },
    ...(profile && !known ? [{ value: "own", label: profile.name }] : []),
    ...constants.profiles.map((p) => ({ value: p.key, label: p.profile.name })),
  ];
  function choose(key: string) {
    if (key === "own") return;
    const found = constants.profiles.find((p) => p.key === key);
    put(
      found ? (found.profile as Profile) : null,
      found ? `Targets: ${found.profile.name}` : "Targets taken away",
    );
  }
  function edit(what: string, change: Partial<Target>) {
    if (!profile) return;
    const name = known ? `${profile.name}, own` : profile.name;
    put(
      { name, targets: profile.targets.map((t) => (t.what === what ? { ...t, ...change } : t)) },
      `Target: ${constants.parts[what]}`,
    );
  }
  const unused = Object.entries(constants.parts).filter(
    ([key]) => !profile?.targets.some((t) => t.what === key),
  );
  return (
    <section aria-label="Targets" className="grid gap-2">
      <Choice
        label="Profile"
        value={profile ? (known?.key ?? "own") : ""}
        options={options}
        disabled={!editable}
        onChange={choose}
      />
      {!profile && (
        <p className="text-quiet">
          Choose where skin, shade, highlights, backdrop and edge should sit; each is then told as
          met, or by how many stops it is missed, and which unit moves it.
        </p>
      )}
      {profile?.targets.map((target) => {
        const row = judged?.targets.find((t) => t.what === target.what);
        return (
          <div
            key={target.what}
            role="group"
            aria-label={constants.parts[target.what]}
            className="grid grid-cols-[1fr_3.6rem_4.4rem_4.6rem] items-end gap-x-1.5 border-t border-line pt-1.5"
          >
            <p className="col-span-4">
              <b>{constants.parts[target.what]}</b>
              {row?.sits != null && (
                <span className={row.met ? "text-calm" : ""}> {signed(row.sits)}</span>
              )}
            </p>
            <Choice
              label="How"
              value={target.how ?? "about"}
              options={HOW.map((value) => ({ value, label: value }))}
              disabled={!editable}
              onChange={(how) => edit(target.what, { how })}
            />
            <Choice
              label="In"
              value={target.percent == null ? "st" : "%"}
              options={UNITS.map((value) => ({ value, label: value }))}
              disabled={!editable || !row}
              onChange={(unit) =>
                unit !== unitOf(target) && row && edit(target.what, told(row, unit))
              }
            />
            {target.percent == null ? (
              <NumberField
                label="At"
                unit="st"
                digits={1}
                value={target.stops ?? 0}
                step={0.5}
                min={-12}
                max={12}
                disabled={!editable}
                onChange={(v) => edit(target.what, { stops: +v.toFixed(2) })}
              />
            ) : (
              <NumberField
                label="At"
                unit="%"
                value={target.percent}
                step={5}
                min={0}
                max={109}
                disabled={!editable}
                onChange={(v) => edit(target.what, { percent: +v.toFixed(1) })}
              />
            )}
            <NumberField
              label="Within"
              unit="st"
              digits={2}
              value={target.within ?? 0.34}
              step={0.1}
              min={0.05}
              max={4}
              disabled={!editable}
              onChange={(v) => edit(target.what, { within: +v.toFixed(2) })}
            />
            <p
              className={`col-span-4 flex min-h-8 items-center justify-between gap-2 text-xs ${row?.met ? "text-calm" : "text-quiet"}`}
            >
              <span>
                {row
                  ? `${row.words}. Wanted ${row.how} ${target.percent == null ? `${(100 * row.code).toFixed(0)} %` : `${signed(row.target)} stops`}`
                  : "looking…"}
              </span>
              {row && !row.met && row.unit && row.dimmer != null && (
                <Button
                  className="text-xs"
                  disabled={!editable || !fresh}
                  onClick={() => takeTo(row.unit!, row.dimmer!)}
                >
                  Take it there
                </Button>
              )}
            </p>
          </div>
        );
      })}
      {profile && judged && (
        <p className="text-xs text-quiet">
          Stops about middle grey; this curve clips at +{judged.headroom.toFixed(1)}.
        </p>
      )}
      {profile &&
        editable &&
        (renaming === null ? (
          <div className="flex flex-wrap gap-1">
            <Button look="bare" onClick={() => setRenaming(profile.name)}>
              Name it…
            </Button>
            {unused.length > 0 && unused.length < 6 && (
              <div className="w-40">
                <Choice
                  label="Add a target"
                  hideLabel
                  value=""
                  options={[
                    { value: "", label: "add a target…" },
                    ...unused.map(([value, label]) => ({ value, label })),
                  ]}
                  onChange={(what) =>
                    what &&
                    put(
                      {
                        ...profile,
                        name: known ? `${profile.name}, own` : profile.name,
                        targets: [
                          ...profile.targets,
                          { what: what as Target["what"], stops: 0, within: 0.34, how: "about" },
                        ],
                      },
                      "Target added",
                    )
                  }
                />
              </div>
            )}
          </div>
        ) : (
          <form
            className="grid grid-cols-[1fr_auto] items-end gap-1.5"
            onSubmit={(e) => {
              e.preventDefault();
              if (renaming.trim())
                put({ ...profile, name: renaming.trim() }, `Targets named ${renaming.trim()}`);
              setRenaming(null);
            }}
          >
            <TextField
              label="Name of the profile"
              value={renaming}
              maxLength={80}
              onChange={setRenaming}
            />
            <Button type="submit">Keep</Button>
          </form>
        ))}
    </section>
  );
}
