import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, bringModel, type Problem } from "../../../app/api";
import { useLength } from "../../../app/preferences";
import { Confirm } from "../../../parts/Ask";
import { Button } from "../../../parts/Button";
import { Choice } from "../../../parts/Choice";
import { Sheet } from "../../../parts/Sheet";
import { TextField } from "../../../parts/TextField";
import { mayEdit, useDesk } from "../../store";
import { Measured } from "./Measured";
import {
  bringScan,
  exceeds,
  likelyMeasure,
  MEASURES,
  scaled,
  scansKey,
  unfitSize,
  useScans,
  type Measure,
  type Scan,
} from "./scans";

/** The models of the production: bring one in from a file, make it true to scale, stand it here. */
export function ModelSheet({ close }: { close: () => void }) {
  const scans = useScans(),
    [chosen, setChosen] = useState<number | null>(null);
  const list = scans.data ?? [],
    scan = list.find((s) => s.id === chosen) ?? list[0];
  return (
    <Sheet open close={close} title="Scans and models" wide="card">
      <div className="grid grid-cols-[17rem_1fr] gap-5">
        <div className="grid content-start gap-4">
          <FromFile done={(made) => setChosen(made.id)} />
          <ul aria-label="Models" className="grid max-h-72 gap-1 overflow-y-auto">
            {list.map((s) => (
              <li key={s.id}>
                <Button
                  className="w-full justify-start text-left"
                  pressed={s.id === scan?.id}
                  onClick={() => setChosen(s.id)}
                >
                  {s.name}
                </Button>
              </li>
            ))}
          </ul>
          {scans.error && (
            <p role="alert" className="text-fault">
              {scans.error.message}
            </p>
          )}
        </div>
        {scan ? (
          <InHand key={scan.id} scan={scan} close={close} />
        ) : (
          <p className="self-center text-quiet">
            {scans.isPending
              ? "Looking…"
              : "No model yet. A scan of the place, or a model of a piece, stands in the room like" +
                " furniture: light meets it, the lens sees it, a lamp can be bounced off it."}
          </p>
        )}
      </div>
    </Sheet>
  );
}

function FromFile({ done }: { done: (scan: Scan) => void }) {
  const production = useDesk((d) => d.record!.production.id),
    editable = useDesk(mayEdit),
    queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null),
    [name, setName] = useState(""),
    [up, setUp] = useState<"y" | "z">("y"),
    [fault, setFault] = useState(""),
    [busy, setBusy] = useState(false),
    // The field empties when what it held is in.
    [brought, setBrought] = useState(0);
  const stop = useRef(new AbortController());
  async function bring() {
    setBusy(true);
    setFault("");
    stop.current = new AbortController();
    try {
      const called = name.trim() || file!.name;
      const made = await bringModel(production, called, up, file!, stop.current.signal);
      await queries.invalidateQueries({ queryKey: scansKey(production) });
      setFile(null);
      setBrought((n) => n + 1);
      done(made);
    } catch (error) {
      if (!stop.current.signal.aborted) setFault((error as Problem).message);
    }
    setBusy(false);
  }
  return (
    <div className="grid gap-2 rounded border border-line p-3">
      <label className="grid gap-1 text-quiet">
        GLB, OBJ, or a zip with textures
        <input
          key={brought}
          type="file"
          accept=".glb,.obj,.zip"
          disabled={!editable || busy}
          className="w-full rounded border border-line bg-ink p-2 text-paper"
          onChange={(e) => {
            const given = e.target.files?.[0] ?? null;
            setFile(given);
            setFault("");
            if (given) setName(given.name.replace(/\.[^.]+$/, "").slice(0, 80));
          }}
        />
      </label>
      {file && (
        <>
          <TextField label="Name of the model" value={name} maxLength={80} onChange={setName} />
          {!/\.glb$/i.test(file.name) && (
            <Choice
              label="Up in an OBJ file is"
              value={up}
              options={[
                { value: "y", label: "its y" },
                { value: "z", label: "its z" },
              ]}
              onChange={setUp}
            />
          )}
          <p className="text-xs text-quiet">
            It may be somebody&#8217;s work: see that you may use it. At most 60 MB; the file itself
            is not kept, its surface is, with at most 100,000 triangles.
          </p>
          <div className="flex justify-end gap-2">
            {busy && <Button onClick={() => stop.current.abort()}>Stop</Button>}
            <Button look="lamp" disabled={busy} onClick={() => void bring()}>
              {busy ? "Opening it…" : "Bring it in"}
            </Button>
          </div>
        </>
      )}
      {fault && (
        <p role="alert" className="text-fault">
          {fault}
        </p>
      )}
    </div>
  );
}

const BY_POINTS = "two points";

function InHand({ scan, close }: { scan: Scan; close: () => void }) {
  const length = useLength(),
    queries = useQueryClient();
  const room = useDesk((d) => d.draft!.room),
    production = useDesk((d) => d.record!.production.id),
    full = useDesk((d) => d.draft!.furniture.length >= 60),
    editable = useDesk(mayEdit);
  const likely = likelyMeasure(scan.size);
  const [measure, setMeasure] = useState<Measure | typeof BY_POINTS>(likely),
    [scale, setScale] = useState<number>(MEASURES[likely]),
    [leaving, setLeaving] = useState(false);
  const size = scaled(scan.size, scale),
    unfit = unfitSize(size),
    large = !unfit && exceeds(room, size);
  return (
    <div className="grid content-start gap-3">
      <Measured
        scan={scan}
        scaleBy={(by) => {
          setMeasure(BY_POINTS);
          setScale(by);
        }}
      />
      <div className="grid grid-cols-[12rem_1fr] items-end gap-3">
        <Choice
          label="Its file counts in"
          value={measure}
          options={[
            ...(Object.keys(MEASURES) as Measure[]).map((m) => ({ value: m, label: m })),
            ...(measure === BY_POINTS ? [{ value: BY_POINTS, label: "as two points say" }] : []),
          ]}
          onChange={(m) => {
            if (m === BY_POINTS) return;
            setMeasure(m as Measure);
            setScale(MEASURES[m as Measure]);
          }}
        />
        <p aria-label="Its size" className="pb-2 tabular-nums">
          {size.map((v) => length.show(v).toFixed(2)).join(" × ")} {length.unit}
          <span className="text-quiet">, {scan.triangles.toLocaleString("en-GB")} triangles</span>
        </p>
      </div>
      <ul className="grid gap-0.5 text-xs text-quiet">
        {scan.notes.map((note) => (
          <li key={note}>{note}</li>
        ))}
        {unfit && <li className="text-fault">{unfit}</li>}
        {large && (
          <li className="text-lamp">
            {room.outline
              ? "It is larger than the place: make the outline larger, or it smaller."
              : "It is larger than the room: it becomes the place, and the room grows about it."}
          </li>
        )}
      </ul>
      <div className="flex justify-end gap-2">
        <Button look="bare" disabled={!editable} onClick={() => setLeaving(true)}>
          Delete
        </Button>
        <Button
          look="lamp"
          disabled={!editable || full || !!unfit || (large && !!room.outline)}
          onClick={() => {
            bringScan(scan, size);
            close();
          }}
        >
          {full ? "60 pieces: no more" : "Stand it here"}
        </Button>
      </div>
      {leaving && (
        <Confirm
          title={`Delete ${scan.name}?`}
          action="Delete for good"
          close={() => setLeaving(false)}
          done={async () => {
            await api.DELETE("/api/scans/{pk}", { params: { path: { pk: scan.id } } });
            await queries.invalidateQueries({ queryKey: scansKey(production) });
          }}
        >
          The model goes for good; its file has to be brought in again.
        </Confirm>
      )}
    </div>
  );
}
