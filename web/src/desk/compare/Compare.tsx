import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import {
  api,
  got,
  type Document,
  type Problem,
  type Production,
  type Schemas,
} from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Sheet } from "../../parts/Sheet";
import { withPatches } from "../reading/mending";
import { Pictures, type Mode } from "./Pictures";
import { loadFrozen, nameFrozen, pictureNow, thaw, useFrozen, type Frozen } from "./frozen";
import { usePreferences } from "../../app/preferences";
import { act, mayEdit, readDesk, useDesk } from "../store";

type Compared = Schemas["ComparedOut"];
/** What differs from a still may bring what would mend it. */
type Row = Compared["rows"][number] & Partial<Schemas["Differs"]>;
const KINDS: Record<string, string> = {
  level: "Light",
  ratio: "Ratio",
  reading: "Read",
  camera: "Camera",
  unit: "Units",
  grip: "Grip",
  place: "The place",
  white: "White",
  direction: "Direction",
  softness: "Softness",
};
const NONE: Frozen[] = [];
const NO_STATES: Document["states"] = [];
const NOW = "now";

/**
 * This frame against a frozen one, another state or another set-up: pictures, what differs in words
 * and stops, and bringing it back.
 */
export function Compare({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Sheet open={open} close={close} title="Compare" wide="stage">
      {open && <Against close={close} />}
    </Sheet>
  );
}

function Against({ close }: { close: () => void }) {
  const setup = useDesk((d) => d.record!.id),
    version = useDesk((d) => d.version),
    draft = useDesk((d) => d.draft!),
    stored = useDesk((d) => d.stored);
  const rendering = useDesk((d) => d.rendering);
  const editable = useDesk(mayEdit);
  const step = usePreferences((p) => p.step);
  const frozen = useFrozen((f) => f.shots[setup] ?? NONE);
  const productions = useQuery({
    queryKey: ["productions"],
    queryFn: () => got<Production[]>(api.GET("/api/productions")),
  });
  const production = useDesk((d) => d.record!.production.id);
  const stills = useQuery({
    queryKey: ["stills", production],
    queryFn: () =>
      got<Schemas["StillLine"][]>(
        api.GET("/api/productions/{pk}/stills", { params: { path: { pk: production } } }),
      ),
  });
  const others = useMemo(
    () =>
      (productions.data ?? [])
        .flatMap((p) => p.scenes.flatMap((s) => s.setups))
        .filter((s) => s.id !== setup),
    [productions.data, setup],
  );
  const [picked, setPicked] = useState<string | null>(null);
  /** Which frame is held against it: the one that stands, or a frozen one. */
  const [mine, setMine] = useState<string>(NOW);
  const [mode, setMode] = useState<Mode>("beside");
  const [found, setFound] = useState<{ key: string; rows: Row[] } | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [now, setNow] = useState(pictureNow);
  useEffect(() => {
    loadFrozen(setup).catch((error: Problem) => setSaid(error.message));
  }, [setup]);
  // What stands is compared with the place at its other times.
  const states = mine === NOW ? draft.states.filter((s) => s.id !== draft.state) : NO_STATES;
  const held = editable ? frozen.find((f) => f.id === mine) : undefined;
  const options = [
    ...[...frozen.filter((f) => f !== held)]
      .reverse()
      .map((f) => ({ value: `f${f.id}`, label: f.name, note: "frozen" })),
    ...states.map((s) => ({ value: `a${s.id}`, label: s.name, note: "state" })),
    ...others.map((s) => ({ value: `s${s.id}`, label: s.title, note: "set-up" })),
    ...(stills.data ?? []).map((s) => ({ value: `t${s.id}`, label: s.title, note: "still" })),
  ];
  const against =
    picked !== null && options.some((o) => o.value === picked) ? picked : options[0]?.value;
  const shot = frozen.find((f) => `f${f.id}` === against);
  const other = others.find((s) => `s${s.id}` === against);
  const state = states.find((s) => `a${s.id}` === against);
  const still = stills.data?.find((s) => `t${s.id}` === against);
  const question = `${against}/${mine}/${JSON.stringify(draft)}`;
  useEffect(() => {
    if (!against) return;
    const stop = new AbortController(),
      document = held?.document ?? (draft === stored ? null : draft);
    const told: Promise<Row[]> = still
      ? got<Row[]>(
          api.POST("/api/stills/{pk}/differences", {
            params: { path: { pk: still.id } },
            body: { setup, document, step },
            signal: stop.signal,
          }),
        )
      : got<Compared>(
          api.POST("/api/setups/{pk}/compare", {
            params: { path: { pk: setup } },
            body: { document, step, ...named(shot, other?.id, state?.id) },
            signal: stop.signal,
          }),
        ).then(({ rows }) => rows);
    told
      .then((rows) => setFound({ key: question, rows }))
      .catch((error: Problem) => {
        if (!stop.signal.aborted) setSaid(error.message);
      });
    return () => stop.abort();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the question holds all of them
  }, [question]);
  useEffect(() => {
    // The frame behind the sheet is painted again when dimmers change: take its picture once it is.
    const soon = setTimeout(() => setNow(pictureNow()), 400);
    return () => clearTimeout(soon);
  }, [draft, rendering]);
  async function match() {
    setBusy(true);
    setSaid(null);
    try {
      const answer = await got<Schemas["MatchedOut"]>(
        api.POST("/api/setups/{pk}/match", {
          params: { path: { pk: setup } },
          body: { document: draft, step, ...named(shot, other?.id, state?.id) },
        }),
      );
      if (readDesk().draft === draft)
        act(() => answer.document, `Matched to ${(shot ?? state)?.name ?? other?.title}`);
      setSaid(answer.words);
    } catch (error) {
      setSaid((error as Problem).message);
    } finally {
      setBusy(false);
    }
  }
  if (options.length === 0)
    return (
      <p className="text-quiet">
        {productions.isLoading
          ? "Looking on the shelf…"
          : "Nothing to compare with yet: freeze this frame (F), change the light, and look again."}
      </p>
    );
  const theirs =
    shot?.picture ??
    (still && `/api/stills/${still.id}/picture.jpg?version=${still.version}`) ??
    (other && `/api/setups/${other.id}/thumbnail.png?large=true&version=${other.version}`) ??
    (state && `/api/setups/${setup}/thumbnail.png?large=true&version=${version}&state=${state.id}`);
  const rows = found?.key === question ? found.rows : null;
  return (
    <div className="grid gap-3">
      <div className="flex flex-wrap items-end gap-2">
        {editable && frozen.length > 0 && (
          <div className="w-44">
            <Choice
              label="This"
              value={held ? mine : NOW}
              options={[
                { value: NOW, label: "the frame now" },
                ...[...frozen].reverse().map((f) => ({ value: f.id, label: f.name })),
              ]}
              onChange={setMine}
            />
          </div>
        )}
        <div className="w-64">
          <Choice
            label="Against"
            value={against!}
            options={options}
            onChange={(v) => {
              setPicked(v);
              setSaid(null);
            }}
          />
        </div>
        <div role="group" aria-label="How" className="flex gap-1">
          <Button pressed={mode === "beside"} onClick={() => setMode("beside")}>
            Side by side
          </Button>
          <Button pressed={mode === "wipe"} onClick={() => setMode("wipe")}>
            Wipe
          </Button>
        </div>
        <span className="flex-1" />
        {editable && !still && !held && (
          <Button
            disabled={busy}
            onClick={() => void match()}
            title="Dimmers that bring the levels on the face back"
          >
            Match this
          </Button>
        )}
        {editable && shot && (
          <Button
            look="bare"
            onClick={() => act(() => shot.document as Document, `As it was: ${shot.name}`)}
          >
            Put all back as it was
          </Button>
        )}
        {shot && (
          <Button
            look="bare"
            onClick={() =>
              void thaw(setup, shot.id).catch((error: Problem) => setSaid(error.message))
            }
          >
            Let it go
          </Button>
        )}
      </div>
      {shot && editable && <NameOf key={shot.id} setup={setup} shot={shot} fault={setSaid} />}
      <Pictures
        mode={mode}
        here={held?.picture ?? now}
        own={held?.name ?? "now"}
        there={theirs ?? ""}
        name={(shot ?? state)?.name ?? still?.title ?? other?.title ?? ""}
      />
      {said && (
        <p role="status" aria-label="Match" className="text-lamp">
          {said}
        </p>
      )}
      <section aria-label="What differs" className="max-h-60 overflow-y-auto">
        {!rows && !said && <p className="text-quiet">Metering both…</p>}
        {rows?.length === 0 && <p className="text-quiet">Nothing differs.</p>}
        {rows && rows.length > 0 && (
          <table className="w-full text-xs">
            <tbody>
              {rows.map((row, k) => (
                <tr key={`${row.kind} ${row.what}`} className="border-t border-line align-top">
                  <th scope="row" className="w-24 py-1 pr-3 text-left font-normal text-quiet">
                    {rows[k - 1]?.kind !== row.kind ? KINDS[row.kind] : ""}
                  </th>
                  <td className="py-1 pr-3 font-bold whitespace-nowrap">{row.what}</td>
                  <td className="w-full py-1">{row.words}</td>
                  <td className="py-1 text-right">
                    {editable && row.mend && !!row.patches?.length && (
                      <Button
                        look="bare"
                        className="text-xs whitespace-nowrap"
                        onClick={() =>
                          act(
                            (d) => withPatches(d, row.patches!),
                            `as in the still: ${row.what}`.slice(0, 120),
                          )
                        }
                      >
                        {row.mend}
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
      <div className="flex justify-end">
        <Button onClick={close}>Done</Button>
      </div>
    </div>
  );
}

const named = (shot?: Frozen, other?: number, state?: string) => ({
  other: shot?.document ?? null,
  setup: shot ? null : (other ?? null),
  state: shot ? null : (state ?? null),
  revision: null,
});

/** What a frozen frame is called, and who froze it. */
function NameOf({
  setup,
  shot,
  fault,
}: {
  setup: number;
  shot: Frozen;
  fault: (words: string) => void;
}) {
  return (
    <label className="flex items-center gap-2 text-xs text-quiet">
      Called
      <input
        className="h-9 w-64 rounded border border-line bg-ink px-2 text-sm text-paper"
        defaultValue={shot.name}
        maxLength={80}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        onBlur={(e) =>
          void nameFrozen(setup, shot.id, e.target.value).catch((error: Problem) =>
            fault(error.message),
          )
        }
      />
      {shot.author ? `frozen by ${shot.author}, kept with the set-up` : "in this browser only"}
    </label>
  );
}
