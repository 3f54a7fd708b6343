import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, bringStill, got, type Problem, type Production, type Schemas } from "../app/api";
import { Confirm } from "../parts/Ask";
import { Blank } from "../parts/Blank";
import { Button } from "../parts/Button";
import { Ending } from "../parts/Ending";
import { PageHead } from "../parts/PageHead";
import { Picture } from "../parts/Picture";
import { Sheet } from "../parts/Sheet";
import { TextField } from "../parts/TextField";

type Line = Schemas["StillLine"];
const WHEN = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });

export const pictureOf = (still: { id: number; version: number }) =>
  `/api/stills/${still.id}/picture.jpg?version=${still.version}`;

/** The stills that a production matches. */
export function Stills() {
  const id = Number(useParams().id),
    path = { params: { path: { pk: id } } };
  const navigate = useNavigate(),
    queries = useQueryClient();
  const [bringing, setBringing] = useState(false),
    [leaving, setLeaving] = useState<Line | null>(null);
  const production = useQuery({
    queryKey: ["production", id],
    queryFn: () => got<Production>(api.GET("/api/productions/{pk}", path)),
  });
  const stills = useQuery({
    queryKey: ["stills", id],
    queryFn: () => got<Line[]>(api.GET("/api/productions/{pk}/stills", path)),
  });
  const failed = production.error ?? stills.error;
  if (failed)
    return (
      <Blank retry={() => void Promise.all([production.refetch(), stills.refetch()])}>
        {failed.message}
      </Blank>
    );
  if (!production.data || !stills.data) return <Blank>Laying out the stills…</Blank>;
  const mayEdit = production.data.role !== "viewer";
  return (
    <div className="flex h-full flex-col">
      <PageHead what="Stills of" of={production.data.title}>
        {mayEdit && <Button onClick={() => setBringing(true)}>Bring a still in</Button>}
      </PageHead>
      <main className="mx-auto w-full max-w-5xl flex-1 overflow-y-auto p-6">
        {stills.data.length === 0 && (
          <p className="rounded border border-dashed border-line p-6 text-quiet">
            No stills yet. A still is a picture whose light is to be matched: mark what the eye sees
            in it, and the desk works out the lens, where its lights stood, how soft and how strong
            they were.
          </p>
        )}
        <ul aria-label="Stills" className="grid grid-cols-3 gap-4">
          {stills.data.map((still) => (
            <li key={still.id} className="overflow-hidden rounded border border-line bg-panel">
              <Link to={`/stills/${still.id}`} className="block hover:bg-raised">
                <Picture src={pictureOf(still)} alt={still.title} className="aspect-video w-full" />
                <span className="block px-3 pt-2 text-base">{still.title}</span>
                <span className="block px-3 pb-2 text-xs text-quiet">
                  {still.author ?? "somebody who left"}, {WHEN.format(new Date(still.created))},{" "}
                  {still.width} × {still.height}
                </span>
              </Link>
              {mayEdit && (
                <Button
                  look="bare"
                  className="mb-1 ml-1 text-xs"
                  aria-label={`Delete ${still.title}`}
                  onClick={() => setLeaving(still)}
                >
                  Delete
                </Button>
              )}
            </li>
          ))}
        </ul>
      </main>
      {bringing && (
        <BringIn
          production={id}
          close={() => setBringing(false)}
          done={(still) => {
            void queries.invalidateQueries({ queryKey: ["stills", id] });
            void navigate(`/stills/${still.id}`);
          }}
        />
      )}
      {leaving && (
        <Confirm
          title={`Delete ${leaving.title}?`}
          action="Delete for good"
          close={() => setLeaving(null)}
          done={async () => {
            await api.DELETE("/api/stills/{pk}", { params: { path: { pk: leaving.id } } });
            await queries.invalidateQueries({ queryKey: ["stills", id] });
          }}
        >
          The picture and all that is marked in it go for good. Set-ups that were built from it
          stay.
        </Confirm>
      )}
    </div>
  );
}

function BringIn({
  production,
  close,
  done,
}: {
  production: number;
  close: () => void;
  done: (still: Schemas["StillOut"]) => void;
}) {
  const [file, setFile] = useState<File | null>(null),
    [title, setTitle] = useState(""),
    [fault, setFault] = useState(""),
    [busy, setBusy] = useState(false);
  const stop = useRef(new AbortController());
  async function bring() {
    setBusy(true);
    setFault("");
    stop.current = new AbortController();
    try {
      done(await bringStill(production, title.trim() || file!.name, file!, stop.current.signal));
    } catch (error) {
      setBusy(false);
      if (!stop.current.signal.aborted) setFault((error as Problem).message);
    }
  }
  return (
    <Sheet open close={close} title="Bring a still in">
      <div className="grid gap-3">
        <label className="grid gap-1 text-quiet">
          Picture: PNG, JPEG, TIFF or EXR, up to 60 million pixels
          <input
            type="file"
            accept=".png,.jpg,.jpeg,.tif,.tiff,.exr"
            className="rounded border border-line bg-ink p-2 text-paper"
            onChange={(e) => {
              const chosen = e.target.files?.[0] ?? null;
              setFile(chosen);
              if (chosen && !title) setTitle(chosen.name.replace(/\.[^.]+$/, "").slice(0, 80));
            }}
          />
        </label>
        <TextField label="Name of the still" value={title} maxLength={80} onChange={setTitle} />
        <p className="text-xs text-quiet">
          Only members of this production see it, and it can be deleted for good. Most pictures are
          somebody&#8217;s work: see that you may use this one. The file itself is not kept; the
          picture is, at most 1920 pixels long.
        </p>
        <Ending
          fault={fault}
          close={() => {
            stop.current.abort();
            if (!busy) close();
          }}
          leave={busy ? "Stop" : "Leave"}
          action={busy ? "Opening it…" : "Bring it in"}
          disabled={!file || busy}
          done={() => void bring()}
        />
      </div>
    </Sheet>
  );
}
