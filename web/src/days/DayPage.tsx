import { clock } from "../app/clock";
import { useState } from "react";
import { useParams } from "react-router";
import { api, got, type Schemas } from "../app/api";
import { useConstants } from "../app/constants";
import { useWords } from "../app/preferences";
import { Blank } from "../parts/Blank";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { PageHead } from "../parts/PageHead";
import { Asks } from "./Asks";
import { withShot, type Day } from "./day";
import { ShotPanel } from "./ShotPanel";
import { Timeline } from "./Timeline";
import { useDay } from "./useDay";

/** A day: what is asked of it, the order that meets it, what it takes. */
export function DayPage() {
  const id = Number(useParams().id);
  const constants = useConstants();
  const { day, change, undo, undos, order, ordering, fault } = useDay(id);
  const [chosen, setChosen] = useState<number | null>(null),
    [asking, setAsking] = useState(false);
  const failed = day.error ?? constants.error;
  if (failed) return <Blank retry={() => void day.refetch()}>{failed.message}</Blank>;
  if (!day.data || !constants.data) return <Blank>Reading the day…</Blank>;
  const { asked, plan, role } = day.data;
  const mayEdit = role !== "viewer";
  const shot = asked.shots.find((s) => s.setup === chosen) ?? asked.shots[0];
  const left = day.data.setups.filter((s) => !asked.shots.some((o) => o.setup === s.id));
  const file = (kind: string) => `/api/days/${id}/sheet.${kind}`;
  const link = "inline-flex min-h-10 items-center rounded px-3 hover:bg-raised";

  function add(setup: number) {
    const scene = day.data!.setups.find((s) => s.id === setup)!.scene;
    const made = { setup, room: scene, minutes: 30, windows: [], why: "", people: [], pieces: [] };
    setChosen(setup);
    void change((a) => ({ ...a, shots: [...a.shots, made] }));
  }
  function lock(setup: number, at: number | null) {
    setChosen(setup);
    void change(withShot(setup, { locked: at }));
    void order();
  }
  return (
    <div className="flex h-full flex-col">
      <PageHead
        what={day.data.production_title}
        of={day.data.title}
        to={`/productions/${day.data.production}/days`}
      >
        <Button look="bare" disabled={!undos || !mayEdit} onClick={() => void undo()}>
          Undo
        </Button>
        <Button onClick={() => setAsking(true)}>
          {asked.date}, {clock(asked.begin)} to {clock(asked.end)}
        </Button>
        {day.data.sheet && (
          <>
            <a className={link} href={file("pdf")} download>
              On paper
            </a>
            <a className={link} href={file("ics")} download>
              Calendar
            </a>
          </>
        )}
      </PageHead>
      <div className="grid min-h-0 flex-1 grid-cols-[1fr_20rem]">
        <main className="min-h-0 overflow-y-auto p-4">
          <div className="mb-3 flex items-center gap-3">
            {mayEdit && (
              <Button
                look={!plan || day.data.outdated ? "lamp" : "plain"}
                disabled={ordering || !asked.shots.length}
                onClick={() => void order()}
              >
                {ordering ? "Putting it in order…" : "Put it in order"}
              </Button>
            )}
            <p role="status" className="flex-1">
              {fault ? (
                <span role="alert" className="text-fault">
                  {fault}
                </span>
              ) : (
                <>
                  {plan?.words}{" "}
                  {day.data.outdated && (
                    <span className="text-lamp">Something has changed since it was made.</span>
                  )}
                </>
              )}
            </p>
            {mayEdit && left.length > 0 && (
              <div className="w-64">
                <Choice
                  label="Put a set-up in"
                  hideLabel
                  value={0}
                  options={[
                    { value: 0, label: "Put a set-up in" },
                    ...left.map((s) => ({ value: s.id, label: s.title, note: s.scene })),
                  ]}
                  onChange={(setup) => setup && add(setup)}
                />
              </div>
            )}
          </div>
          {plan && plan.conflict.length > 0 && (
            <div role="alert" className="mb-3 rounded border border-fault px-3 py-2 text-fault">
              These cannot be met together:
              <ul>
                {plan.conflict.map((words) => (
                  <li key={words}>{words}</li>
                ))}
              </ul>
            </div>
          )}
          {asked.shots.length === 0 ? (
            <p className="rounded border border-dashed border-line p-6 text-quiet">
              No set-ups yet: put those in that are shot that day.
            </p>
          ) : (
            <Timeline
              day={day.data}
              mayEdit={mayEdit}
              busy={ordering}
              chosen={shot?.setup ?? null}
              choose={setChosen}
              lock={lock}
            />
          )}
          {day.data.missing.length > 0 && (
            <p className="mt-2 text-fault">
              {day.data.missing.length} of its set-ups {day.data.missing.length > 1 ? "are" : "is"}{" "}
              gone.{" "}
              {mayEdit && (
                <button
                  type="button"
                  className="underline"
                  onClick={() =>
                    void change((a) => ({
                      ...a,
                      shots: a.shots.filter((s) => !day.data!.missing.includes(s.setup)),
                    }))
                  }
                >
                  Take {day.data.missing.length > 1 ? "them" : "it"} out
                </button>
              )}
            </p>
          )}
          {day.data.sheet && <Takes day={day.data} />}
        </main>
        <aside className="min-h-0 overflow-y-auto border-l border-line p-4">
          {shot ? (
            <ShotPanel
              key={shot.setup}
              day={day.data}
              shot={shot}
              mayEdit={mayEdit}
              put={(part) => void change(withShot(shot.setup, part))}
              out={() =>
                void change((a) => ({
                  ...a,
                  shots: a.shots.filter((s) => s.setup !== shot.setup),
                }))
              }
            />
          ) : (
            <p className="text-quiet">Choose a set-up to say what it needs.</p>
          )}
        </aside>
      </div>
      {asking && (
        <Asks
          day={day.data}
          constants={constants.data}
          mayEdit={mayEdit}
          change={(make) => void change(make)}
          close={() => setAsking(false)}
        />
      )}
    </div>
  );
}

/** What the day takes: money, what is packed, what is short, what is to be minded. */
function Takes({ day }: { day: Day }) {
  const words = useWords();
  const { sheet, asked } = day;
  if (!sheet) return null;
  const name = (setup: number) => day.setups.find((s) => s.id === setup)?.title ?? "";
  const minded = inOne(sheet.slots);
  const dear = sheet.money.savings.slice(0, 4);
  return (
    <div className="mt-6 grid grid-cols-3 gap-6 text-sm">
      <section aria-label="To pack for the day">
        <h2 className="font-serif text-base text-lamp italic">To pack</h2>
        <p className="text-quiet">
          {sheet.weight.toFixed(0)} kg. {sheet.batteries}{" "}
          <a className="underline" href={`/api/days/${day.id}/sheet.csv`} download>
            as a table
          </a>
        </p>
        <ul>
          {sheet.short.map((s) => (
            <li key={s.words} className="text-fault">
              {words(s.words)}
            </li>
          ))}
          {sheet.needs.map((n) => (
            <li key={`${n.kind}${n.key}${n.name}`}>
              <b>{n.count}</b> {words(n.name)}
            </li>
          ))}
        </ul>
      </section>
      <section aria-label="Money">
        <h2 className="font-serif text-base text-lamp italic">Money</h2>
        <p className={sheet.money.left != null && sheet.money.left < 0 ? "text-fault" : ""}>
          {sheet.money.words}
        </p>
        <ul className="text-quiet">
          {[...sheet.money.hire, ...sheet.money.people].map((l) => (
            <li key={l.name} className="flex justify-between">
              <span>
                {l.count > 1 && `${l.count} × `}
                {l.name}
              </span>
              <span>{l.total.toLocaleString("en-GB")}</span>
            </li>
          ))}
        </ul>
        {asked.budget != null && sheet.money.left! < 0 && dear.length > 0 && (
          <>
            <p className="pt-2">What could be left out, the dearest first:</p>
            <ul className="text-quiet">
              {dear.map((s) => (
                <LeftOut key={s.name} day={day.id} saving={s} />
              ))}
            </ul>
          </>
        )}
      </section>
      <section aria-label="To be minded that day">
        <h2 className="font-serif text-base text-lamp italic">Mind</h2>
        <p className="pb-1 text-quiet">Local codes and licensed people decide.</p>
        <ul>
          {minded.slice(0, 12).map(({ caution: c, setups }) => (
            <li key={c.kind + c.about + c.words} className="border-t border-line py-1">
              <span className="font-serif text-lamp italic">{c.kind}</span> {words(c.words)}{" "}
              <span className="text-quiet">{setups.map(name).join("; ")}</span>
            </li>
          ))}
          {minded.length > 12 && (
            <li className="text-quiet">and {minded.length - 12} more on paper.</li>
          )}
        </ul>
      </section>
    </div>
  );
}

/** Something that could be left out: what it saves, and when it is asked, what that costs. */
function LeftOut({ day, saving }: { day: number; saving: Schemas["Saving"] }) {
  const [found, setFound] = useState<Schemas["LeftOut"][] | null>(null),
    [said, setSaid] = useState("");
  async function ask() {
    setSaid("Reading the pictures without it…");
    try {
      setFound(
        await got<Schemas["LeftOut"][]>(
          api.POST("/api/days/{pk}/without", {
            params: { path: { pk: day } },
            body: { units: saving.of },
          }),
        ),
      );
      setSaid("");
    } catch (error) {
      setSaid((error as Error).message);
    }
  }
  return (
    <li className="border-t border-line py-1">
      <span className="flex items-center justify-between gap-2">
        <span>
          {saving.name} saves {saving.saves.toLocaleString("en-GB")}: {saving.of.join(", ")}
        </span>
        {!found && (
          <Button
            look="bare"
            className="min-h-8! shrink-0 text-xs"
            aria-label={`What leaving ${saving.name} out costs the picture`}
            onClick={() => void ask()}
          >
            and costs?
          </Button>
        )}
      </span>
      {said && <p role="status">{said}</p>}
      {found?.map((f) => (
        <p key={f.setup} className={f.worse.length ? "text-lamp" : "text-calm"}>
          {f.title}: {f.worse.join("; ") || "nothing that is read gets worse"}
        </p>
      ))}
      {found?.length === 0 && <p>No picture of the day has it on.</p>}
    </li>
  );
}

/** Cautions of all set-ups, one that several have once. */
function inOne(slots: readonly Schemas["SlotSheet"][]) {
  const found = new Map<string, { caution: Schemas["Caution"]; setups: number[] }>();
  for (const { cautions, setup } of slots)
    for (const caution of cautions) {
      const key = caution.kind + caution.words;
      const known = found.get(key);
      if (known) known.setups.push(setup);
      else found.set(key, { caution, setups: [setup] });
    }
  return [...found.values()];
}
