import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, got, type Production, type Schemas } from "../app/api";
import { Confirm } from "../parts/Ask";
import { Blank } from "../parts/Blank";
import { Button } from "../parts/Button";
import { Ending } from "../parts/Ending";
import { PageHead } from "../parts/PageHead";
import { Sheet } from "../parts/Sheet";
import { TextField } from "../parts/TextField";

type Line = Schemas["DayLine"];
const DATE = new Intl.DateTimeFormat("en-GB", { dateStyle: "full", timeZone: "UTC" });
const dateOf = (line: Line) => DATE.format(new Date(`${line.date}T00:00:00Z`));

/** The days of a production. */
export function Days() {
  const id = Number(useParams().id),
    path = { params: { path: { pk: id } } };
  const navigate = useNavigate(),
    queries = useQueryClient();
  const [making, setMaking] = useState(false),
    [leaving, setLeaving] = useState<Line | null>(null);
  const production = useQuery({
    queryKey: ["production", id],
    queryFn: () => got<Production>(api.GET("/api/productions/{pk}", path)),
  });
  const days = useQuery({
    queryKey: ["days", id],
    queryFn: () => got<Line[]>(api.GET("/api/productions/{pk}/days", path)),
  });
  const failed = production.error ?? days.error;
  if (failed)
    return (
      <Blank retry={() => void Promise.all([production.refetch(), days.refetch()])}>
        {failed.message}
      </Blank>
    );
  if (!production.data || !days.data) return <Blank>Opening the calendar…</Blank>;
  const mayEdit = production.data.role !== "viewer";
  return (
    <div className="flex h-full flex-col">
      <PageHead what="Days of" of={production.data.title} to="/">
        {mayEdit && (
          <Button look="lamp" onClick={() => setMaking(true)}>
            New day
          </Button>
        )}
      </PageHead>
      <main className="mx-auto w-full max-w-4xl flex-1 overflow-y-auto p-6">
        {days.data.length === 0 && (
          <p className="rounded border border-dashed border-line p-6 text-quiet">
            No days yet. Put set-ups into a day, say when the sun is needed, who is there when and
            when to eat: the day is put in the order that meets them and rigs least anew.
          </p>
        )}
        <ul aria-label="Days" className="grid gap-2">
          {days.data.map((d) => (
            <li
              key={d.id}
              className="flex items-center gap-2 rounded border border-line bg-panel pr-2 hover:bg-raised"
            >
              <Link
                to={`/days/${d.id}`}
                className="grid min-h-14 flex-1 grid-cols-[1fr_auto] items-center gap-4 px-4 py-2"
              >
                <span>
                  <span className="block text-base">{d.title}</span>
                  <span className="text-xs text-quiet">{dateOf(d)}</span>
                </span>
                <span className="text-sm text-quiet">
                  {d.words || `${d.shots} set-up${d.shots === 1 ? "" : "s"}, not in order yet`}
                </span>
              </Link>
              {mayEdit && (
                <Button look="bare" aria-label={`Delete ${d.title}`} onClick={() => setLeaving(d)}>
                  Delete
                </Button>
              )}
            </li>
          ))}
        </ul>
      </main>
      {making && (
        <NewDay
          production={id}
          close={() => setMaking(false)}
          done={(day) => {
            void queries.invalidateQueries({ queryKey: ["days", id] });
            void navigate(`/days/${day.id}`);
          }}
        />
      )}
      {leaving && (
        <Confirm
          title={`Delete ${leaving.title}?`}
          action="Delete the day"
          close={() => setLeaving(null)}
          done={async () => {
            await api.DELETE("/api/days/{pk}", { params: { path: { pk: leaving.id } } });
            await queries.invalidateQueries({ queryKey: ["days", id] });
          }}
        >
          Its order goes for good; its set-ups stay.
        </Confirm>
      )}
    </div>
  );
}

type NewDay = { production: number; close: () => void; done: (day: Schemas["DayOut"]) => void };

function NewDay({ production, close, done }: NewDay) {
  const [title, setTitle] = useState(""),
    [date, setDate] = useState(new Date().toISOString().slice(0, 10)),
    [fault, setFault] = useState("");
  async function make(event: FormEvent) {
    event.preventDefault();
    if (!title.trim()) return setFault("Give it a name.");
    try {
      done(
        await got<Schemas["DayOut"]>(
          api.POST("/api/productions/{pk}/days", {
            params: { path: { pk: production } },
            body: { title: title.trim(), date },
          }),
        ),
      );
    } catch (error) {
      setFault((error as Error).message);
    }
  }
  return (
    <Sheet open close={close} title="A day">
      <form onSubmit={(e) => void make(e)} className="grid gap-4">
        <TextField
          label="Name of the day"
          value={title}
          onChange={setTitle}
          autoFocus
          maxLength={80}
        />
        <TextField label="Date" type="date" value={date} onChange={setDate} fault={fault} />
        <Ending close={close} action="Make it" />
      </form>
    </Sheet>
  );
}
