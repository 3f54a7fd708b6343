import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, got, type Problem, type Production, type Schemas } from "../app/api";
import { usePreferences } from "../app/preferences";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { WhiteOn } from "./WhiteOn";
import { H2 } from "./panel";

export type Held = { title: string; picture: string };
type Differs = Schemas["Differs"];

/** The still's light built, and a set-up's frame held against it: what differs next. */
export function Against({
  still,
  read,
  editable,
  waiting,
  hold,
}: {
  still: Schemas["StillOut"];
  read: Schemas["StillRead"] | null;
  editable: boolean;
  waiting: boolean;
  hold: (held: Held | null) => void;
}) {
  const queries = useQueryClient();
  const step = usePreferences((p) => p.step);
  const path = { params: { path: { pk: still.production.id } } };
  const production = useQuery({
    queryKey: ["production", still.production.id],
    queryFn: () => got<Production>(api.GET("/api/productions/{pk}", path)),
  });
  const scenes = production.data?.scenes ?? [];
  const setups = scenes.flatMap((s) => s.setups.map((made) => ({ ...made, scene: s.title })));
  const [scene, setScene] = useState<number | null>(null),
    [base, setBase] = useState(0),
    [chosen, setChosen] = useState<number | null>(null),
    [made, setMade] = useState<Schemas["BuiltSetup"] | null>(null),
    [fault, setFault] = useState(""),
    [busy, setBusy] = useState(""),
    [found, setFound] = useState<{ key: string; differs: Differs[] } | null>(null);
  const into = scene ?? scenes[0]?.id,
    setup = setups.find((s) => s.id === chosen) ?? null;
  const key = setup && `${setup.id} ${setup.version} ${still.version}`;
  async function doing(what: string, work: () => Promise<void>) {
    setBusy(what);
    setFault("");
    try {
      await work();
    } catch (error) {
      setFault((error as Problem).message);
    }
    setBusy("");
  }
  const stillPath = { params: { path: { pk: still.id } } };
  const build = () =>
    doing("build", async () => {
      const call = api.POST("/api/stills/{pk}/build", {
        ...stillPath,
        body: { scene: into!, setup: base || null, title: `From ${still.title}`.slice(0, 80) },
      });
      const answer = await got<Schemas["BuiltSetup"]>(call);
      setMade(answer);
      await queries.invalidateQueries({ queryKey: ["production", still.production.id] });
      setChosen(answer.setup);
    });
  const compare = () =>
    doing("compare", async () => {
      const call = api.POST("/api/stills/{pk}/differences", {
        ...stillPath,
        body: { setup: setup!.id, step },
      });
      setFound({ key: key!, differs: await got<Differs[]>(call) });
    });
  const change = (what: string, patches: Differs["patches"], gesture: string) =>
    doing(what, async () => {
      const body = {
        setup: setup!.id,
        version: setup!.version,
        patches,
        gesture: gesture.slice(0, 120),
      };
      await got(api.POST("/api/stills/{pk}/mend", { ...stillPath, body }));
      await queries.invalidateQueries({ queryKey: ["production", still.production.id] });
      await queries.invalidateQueries({ queryKey: ["setup to light", setup!.id] });
      setFound(null);
    });
  const mend = (d: Differs) => change(`mend ${d.what}`, d.patches, `as in the still: ${d.what}`);
  const picture =
    setup && `/api/setups/${setup.id}/thumbnail.png?large=true&version=${setup.version}`;
  return (
    <div className="grid gap-2">
      {editable && (
        <section aria-label="Build it" className="grid gap-2">
          <H2>Build it</H2>
          <p className="text-sm text-quiet">
            A set-up of its own: the still&#8217;s camera, a unit for each light that is told, at
            its level and white.
          </p>
          <Choice
            label="In the place of"
            value={base}
            options={[
              { value: 0, label: "a plain grey room" },
              ...setups.map((s) => ({ value: s.id, label: s.title, note: s.scene })),
            ]}
            onChange={setBase}
          />
          {scenes.length > 0 && (
            <Choice
              label="In the scene"
              value={into!}
              options={scenes.map((s) => ({ value: s.id, label: s.title }))}
              onChange={setScene}
            />
          )}
          <Button
            look="lamp"
            disabled={!!busy || waiting || into === undefined}
            onClick={() => void build()}
          >
            {busy === "build" ? "Building…" : "Build it"}
          </Button>
          {made?.words.map((words) => (
            <p key={words} className="text-sm">
              {words}
            </p>
          ))}
        </section>
      )}
      <section aria-label="Held against" className="grid gap-2">
        <H2>Held against a set-up</H2>
        {setups.length === 0 && <p className="text-sm text-quiet">There is none here yet.</p>}
        {setups.length > 0 && (
          <Choice
            label="Set-up"
            value={chosen ?? 0}
            options={[
              { value: 0, label: "choose…" },
              ...setups.map((s) => ({ value: s.id, label: s.title, note: s.scene })),
            ]}
            onChange={(id) => {
              setChosen(id || null);
              hold(null);
            }}
          />
        )}
        {setup && (
          <div className="flex flex-wrap gap-1">
            <Button onClick={() => hold({ title: setup.title, picture: picture! })}>
              Show both
            </Button>
            <Button disabled={!!busy || waiting} onClick={() => void compare()}>
              {busy === "compare" ? "Reading both…" : "What differs"}
            </Button>
            <Link
              to={`/setups/${setup.id}`}
              className="inline-flex min-h-10 items-center rounded px-3 hover:bg-raised"
            >
              To its desk
            </Link>
          </div>
        )}
        {setup && editable && (
          <WhiteOn
            key={setup.id}
            setup={setup.id}
            read={read}
            busy={!!busy}
            set={(patches, gesture) => void change("white", patches, gesture)}
          />
        )}
        {fault && (
          <p role="alert" className="text-fault">
            {fault}
          </p>
        )}
        {found && found.key === key && (
          <ol aria-label="What differs" className="grid gap-2">
            {found.differs.length === 0 && <li>Nothing that the eye would see differs.</li>}
            {found.differs.map((d) => (
              <li key={`${d.kind} ${d.what}`} className="border-t border-line pt-1 text-sm">
                <b>{d.what}</b> <span className="text-xs text-quiet">{d.kind}</span>
                <p>{d.words}</p>
                <div className="flex items-center justify-between gap-2">
                  <p className="text-lamp">{d.mend}</p>
                  {editable && d.patches.length > 0 && (
                    <Button disabled={!!busy} onClick={() => void mend(d)}>
                      Do it
                    </Button>
                  )}
                </div>
              </li>
            ))}
          </ol>
        )}
      </section>
    </div>
  );
}
