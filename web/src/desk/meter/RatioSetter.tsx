import { useRef, useState } from "react";
import { api, got, type Problem, type Schemas } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { act, mayEdit, readDesk, useDesk } from "../store";
import { bringBoard, type School, type Side, type Tried } from "./bringingBoard";

const SCHOOLS = [
  { value: "cheeks", label: "cheek to cheek" },
  { value: "combined", label: "(key + fill) : fill" },
  { value: "single", label: "key : fill" },
] as const;
const MEANS = [
  { value: "dimmer", label: "its dimmer" },
  { value: "distance", label: "its distance" },
  { value: "board", label: "its board" },
] as const;

/** What is none of the units: a board brought in on one side. */
const BOARDS: Record<string, Side> = { "@left": "left", "@right": "right" };

/** Bring a ratio about with a unit or a board, or hear why it cannot and what would. */
export function RatioSetter() {
  const units = useDesk((d) => d.draft!.units);
  const chosen = useDesk((d) => d.chosen);
  const editable = useDesk(mayEdit);
  const [target, setTarget] = useState(4);
  const [school, setSchool] = useState<School>("combined");
  const [means, setMeans] = useState<"dimmer" | "distance" | "board">("dimmer");
  const [picked, setPicked] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [tried, setTried] = useState<Tried | null>(null);
  const [said, setSaid] = useState<{ words: string; caution: string } | null>(null);
  const stop = useRef(new AbortController());
  const unit =
    units.find((u) => u.id === picked) ??
    units.find((u) => u.role === "fill") ??
    units.find((u) => u.id === chosen) ??
    units[0];
  if (!unit) return null;
  const side = picked ? BOARDS[picked] : undefined;
  async function bring(on: Side) {
    const { signal } = (stop.current = new AbortController());
    setBusy(true);
    setSaid(null);
    setTried({ tried: 0, of: 1 });
    const found = await bringBoard({ target, school, side: on }, signal, setTried);
    setTried(null);
    setBusy(false);
    setSaid(found);
  }
  async function solve() {
    const { record, draft } = readDesk();
    if (!record || !draft) return;
    setBusy(true);
    setSaid(null);
    try {
      const solved = await got<Schemas["SolvedOut"]>(
        api.POST("/api/setups/{pk}/ratio", {
          params: { path: { pk: record.id } },
          body: { document: draft, unit: unit!.id, target, school, means },
        }),
      );
      if (readDesk().draft === draft) act(() => solved.document, solved.gesture);
      setSaid({ words: `${solved.gesture}.`, caution: "" });
    } catch (error) {
      setSaid({ words: (error as Problem).message, caution: "" });
    } finally {
      setBusy(false);
    }
  }
  return (
    <section aria-label="Set the ratio" className="grid gap-1.5 border-b border-line pb-3">
      <h3 className="font-serif text-base text-lamp italic">Set the ratio</h3>
      <div className="grid grid-cols-[5.5rem_1fr] gap-1.5">
        <NumberField
          label="Ratio"
          unit=": 1"
          digits={1}
          value={target}
          step={1}
          min={1}
          max={64}
          onChange={setTarget}
          disabled={!editable}
        />
        <Choice
          label="Told as"
          value={school}
          options={[...SCHOOLS]}
          onChange={setSchool}
          disabled={!editable}
        />
      </div>
      <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-1.5">
        <Choice
          label="With"
          value={side ? picked! : unit.id}
          options={[
            ...units.map((u) => ({ value: u.id, label: u.name, note: u.role as string })),
            { value: "@left", label: "a board, camera left", note: "brought in" },
            { value: "@right", label: "a board, camera right", note: "brought in" },
          ]}
          onChange={setPicked}
          disabled={!editable}
        />
        {tried ? (
          <progress
            aria-label="Boards tried"
            className="h-1.5 w-full self-center accent-lamp"
            value={tried.tried}
            max={tried.of}
          />
        ) : side ? (
          <p className="self-center text-xs text-quiet">at the distance that does it</p>
        ) : (
          <Choice
            label="By"
            value={means}
            options={[...MEANS]}
            onChange={setMeans}
            disabled={!editable}
          />
        )}
        {tried ? (
          <Button onClick={() => stop.current.abort()}>Stop</Button>
        ) : (
          <Button
            look="lamp"
            disabled={!editable || busy}
            onClick={() => void (side ? bring(side) : solve())}
          >
            {busy ? "…" : "Set"}
          </Button>
        )}
      </div>
      {said && (
        <p role="status" className="text-xs text-quiet">
          {said.words}
        </p>
      )}
      {said?.caution && (
        <p className="text-xs text-quiet">
          <b className="text-fault">Mind:</b> {said.caution}
        </p>
      )}
      <p className="text-xs text-quiet">
        {target.toFixed(1)}:1 is {Math.log2(target).toFixed(1)} stops.
      </p>
    </section>
  );
}
