import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, got, type Problem, type Production, type Schemas } from "../app/api";
import { Button } from "../parts/Button";
import { Ending } from "../parts/Ending";
import { Choice } from "../parts/Choice";
import { Sheet } from "../parts/Sheet";
import { nameOf, pictureOf } from "./CellCard";
import { told, type Cell, type Figure } from "./figures";
import { keyOf } from "./TrialPage";
import { WallMap } from "./WallMap";

type Trial = Schemas["TrialOut"];

/** One cell with all its figures: wiped against another, kept in mind, rigged. */
export function CellPage(props: {
  cell: Cell;
  trial: Trial;
  figures: Figure[];
  editable: boolean;
  close: () => void;
  refresh: () => void;
}) {
  const { cell, trial, figures, editable, close, refresh } = props;
  const [other, setOther] = useState(""),
    [part, setPart] = useState(50),
    [rigging, setRigging] = useState(false);
  const beside = trial.sheet.find((c) => keyOf(c) === other);
  const done = cell.state === "done";
  async function keep() {
    const path = { pk: trial.id, row: cell.row, column: cell.column };
    await api.PUT("/api/trials/{pk}/cells/{row}/{column}", {
      params: { path },
      body: { favourite: !cell.favourite },
    });
    refresh();
  }
  return (
    <aside
      aria-label={nameOf(trial, cell)}
      className="w-[400px] shrink-0 overflow-y-auto border-l border-line p-3"
    >
      <div className="flex items-start gap-2">
        <h2 className="min-w-0 flex-1 font-serif text-lg text-lamp italic">
          {nameOf(trial, cell)}
        </h2>
        <Button look="bare" onClick={close}>
          Close
        </Button>
      </div>
      {!done && <p className="py-2 text-quiet">{cell.fault || `This cell is ${cell.state}.`}</p>}
      {done && (
        <div className="relative overflow-hidden rounded">
          <img src={pictureOf(trial, cell)} alt={nameOf(trial, cell)} className="block w-full" />
          {beside && (
            <img
              src={pictureOf(trial, beside)}
              alt={nameOf(trial, beside)}
              className="absolute inset-0 w-full"
              style={{ clipPath: `inset(0 0 0 ${part}%)` }}
            />
          )}
        </div>
      )}
      {done && (
        <div className="grid grid-cols-[1fr_auto] items-end gap-2 pt-2">
          <Choice
            label="Wiped against"
            value={other}
            options={[
              { value: "", label: "none" },
              ...trial.sheet
                .filter((c) => c !== cell && c.state === "done")
                .map((c) => ({ value: keyOf(c), label: nameOf(trial, c) })),
            ]}
            onChange={setOther}
          />
          {editable && (
            <Button pressed={cell.favourite} onClick={() => void keep()}>
              Keep in mind
            </Button>
          )}
        </div>
      )}
      {beside && (
        <label className="block pt-2 text-xs text-quiet">
          Where it is wiped
          <input
            type="range"
            min={0}
            max={100}
            value={part}
            onChange={(e) => setPart(Number(e.target.value))}
            className="block w-full accent-lamp"
          />
        </label>
      )}
      {done && (
        <table aria-label="Figures" className="mt-2 w-full text-xs">
          <tbody>
            {Object.entries(cell.words).map(
              ([name, words]) =>
                words && (
                  <tr key={name} className="border-t border-line">
                    <th scope="row" className="py-1 text-left font-normal text-quiet">
                      {name === "pattern" ? "nose shadow" : "to look at"}
                    </th>
                    <td className="text-right">{words}</td>
                    {beside && <td className="pl-3 text-right">{beside.words[name]}</td>}
                  </tr>
                ),
            )}
            {figures
              .filter((f) => cell.figures[f.key] !== undefined)
              .map((f) => (
                <tr key={f.key} className="border-t border-line">
                  <th scope="row" className="py-1 text-left font-normal text-quiet">
                    {f.name}
                  </th>
                  <td className="text-right font-bold whitespace-nowrap">
                    {told(f, cell.figures[f.key])}
                  </td>
                  {beside && (
                    <td className="pl-3 text-right whitespace-nowrap">
                      {told(f, beside.figures[f.key])}
                    </td>
                  )}
                </tr>
              ))}
          </tbody>
        </table>
      )}
      {done && (
        <div className={beside ? "grid grid-cols-2 gap-2" : ""}>
          <WallMap
            trial={trial}
            cell={cell}
            name={nameOf(trial, cell)}
            told={beside ? "beside" : "alone"}
          />
          {beside && (
            <WallMap trial={trial} cell={beside} name={nameOf(trial, beside)} told="beside" />
          )}
        </div>
      )}
      {editable && cell.state !== "impossible" && (
        <Button look="lamp" className="mt-3 w-full" onClick={() => setRigging(true)}>
          Rig this one…
        </Button>
      )}
      {rigging && <Rig trial={trial} cell={cell} close={() => setRigging(false)} />}
    </aside>
  );
}

function Rig({ trial, cell, close }: { trial: Trial; cell: Cell; close: () => void }) {
  const navigate = useNavigate();
  const production = useQuery({
    queryKey: ["production", trial.production.id],
    queryFn: () =>
      got<Production>(
        api.GET("/api/productions/{pk}", { params: { path: { pk: trial.production.id } } }),
      ),
  });
  const [scene, setScene] = useState<number | null>(null),
    [fault, setFault] = useState(""),
    [busy, setBusy] = useState(false),
    [made, setMade] = useState<Schemas["RiggedCell"] | null>(null);
  const scenes = production.data?.scenes ?? [],
    into = scene ?? scenes[0]?.id;
  async function rig() {
    setBusy(true);
    setFault("");
    try {
      const { row, column } = cell;
      const call = api.POST("/api/trials/{pk}/rig", {
        params: { path: { pk: trial.id } },
        body: { row, column, scene: into! },
      });
      setMade(await got<Schemas["RiggedCell"]>(call));
    } catch (error) {
      setFault((error as Problem).message);
    }
    setBusy(false);
  }
  return (
    <Sheet open close={close} title={made ? "Rigged" : `Rig ${nameOf(trial, cell)}`}>
      {made ? (
        <div className="grid gap-3">
          {made.cautions.map((words) => (
            <p key={words} className="text-sm">
              <b className="text-fault">Mind:</b> {words}
            </p>
          ))}
          <Button look="lamp" onClick={() => void navigate(`/setups/${made.setup}`)}>
            To its desk
          </Button>
        </div>
      ) : (
        <div className="grid gap-3">
          <p className="text-quiet">
            It becomes a set-up of its own, with all other light as it was, the unit dimmed to the
            camera&#8217;s stop where its output reaches.
          </p>
          {scenes.length > 0 && (
            <Choice
              label="In the scene"
              value={into!}
              options={scenes.map((s) => ({ value: s.id, label: s.title }))}
              onChange={setScene}
            />
          )}
          <Ending
            fault={fault}
            close={close}
            leave="Leave"
            action={busy ? "Rigging…" : "Rig it"}
            disabled={busy || into === undefined}
            done={() => void rig()}
          />
        </div>
      )}
    </Sheet>
  );
}
