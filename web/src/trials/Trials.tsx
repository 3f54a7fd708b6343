import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, got, type Production, type Schemas } from "../app/api";
import { Blank } from "../parts/Blank";
import { Button } from "../parts/Button";
import { PageHead } from "../parts/PageHead";
import { MakeTrial } from "./MakeTrial";

const WHEN = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });

/** The trials of a production. */
export function Trials() {
  const id = Number(useParams().id),
    path = { params: { path: { pk: id } } };
  const navigate = useNavigate(),
    queries = useQueryClient();
  const [making, setMaking] = useState(false);
  const production = useQuery({
    queryKey: ["production", id],
    queryFn: () => got<Production>(api.GET("/api/productions/{pk}", path)),
  });
  const trials = useQuery({
    queryKey: ["trials", id],
    queryFn: () => got<Schemas["TrialLine"][]>(api.GET("/api/productions/{pk}/trials", path)),
    refetchInterval: (q) => (q.state.data?.some(isRunning) ? 2000 : false),
  });
  const failed = production.error ?? trials.error;
  if (failed)
    return (
      <Blank retry={() => void Promise.all([production.refetch(), trials.refetch()])}>
        {failed.message}
      </Blank>
    );
  if (!production.data || !trials.data) return <Blank>Laying out the sheets…</Blank>;
  const mayEdit = production.data.role !== "viewer";
  return (
    <div className="flex h-full flex-col">
      <PageHead what="Trials of" of={production.data.title}>
        {mayEdit && <Button onClick={() => setMaking(true)}>New trial</Button>}
      </PageHead>
      <main className="mx-auto w-full max-w-4xl flex-1 overflow-y-auto p-6">
        {trials.data.length === 0 && (
          <p className="rounded border border-dashed border-line p-6 text-quiet">
            No trials yet. A trial puts one lamp through many heads, cloths, distances or angles,
            and sets the frames out side by side at one exposure, with their figures.
          </p>
        )}
        <ul aria-label="Trials" className="grid gap-2">
          {trials.data.map((t) => (
            <li key={t.id}>
              <Link
                to={`/trials/${t.id}`}
                className="grid min-h-14 grid-cols-[1fr_auto] items-center gap-4 rounded border border-line bg-panel px-4 py-2 hover:bg-raised"
              >
                <span>
                  <span className="block text-base">{t.title}</span>
                  <span className="text-xs text-quiet">
                    {t.author ?? "somebody who left"}, {WHEN.format(new Date(t.created))}
                  </span>
                </span>
                <span className="text-sm text-quiet">{standing(t)}</span>
              </Link>
            </li>
          ))}
        </ul>
      </main>
      {making && (
        <MakeTrial
          production={production.data}
          close={() => setMaking(false)}
          done={(trial) => {
            void queries.invalidateQueries({ queryKey: ["trials", id] });
            void navigate(`/trials/${trial.id}`);
          }}
        />
      )}
    </div>
  );
}

export const isRunning = (t: Schemas["TrialLine"]) => !t.stopped && t.done + t.failed < t.cells;

/** How far a trial is, in words. */
export function standing(t: Schemas["TrialLine"]) {
  const open = t.cells - t.done - t.failed;
  const parts = [`${t.done} of ${t.cells} done`];
  if (t.failed) parts.push(`${t.failed} failed`);
  if (open && t.stopped) parts.push("stopped");
  return parts.join(", ");
}
