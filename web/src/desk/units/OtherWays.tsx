import { useState } from "react";
import { useNavigate } from "react-router";
import { api, got, type Schemas, type Unit } from "../../app/api";
import { useLight } from "../../app/preferences";
import { footcandles, FOOT } from "../../app/units";
import { Button } from "../../parts/Button";
import { NumberField } from "../../parts/NumberField";
import { readDesk, useDesk } from "../store";

type Source = Schemas["ProposalAsked"]["source"];

/**
 * Other ways to the same light: heads, boxes, cloths, boards, walls and ceiling tried in this room,
 * as a trial of their own.
 */
export function OtherWays({ unit, source }: { unit: Unit; source: Source }) {
  const reading = useDesk((d) => d.look?.readings.units.find((r) => r.id === unit.id)),
    half = useDesk((d) => (d.inspection?.id === unit.id ? d.inspection.size.half : 0));
  const light = useLight(),
    navigate = useNavigate();
  const [lux, setLux] = useState<number | null>(null),
    [soft, setSoft] = useState<number | null>(null),
    [spill, setSpill] = useState(-2),
    [minds, setMinds] = useState(false),
    [either, setEither] = useState(false),
    [fault, setFault] = useState(""),
    [busy, setBusy] = useState(false);
  const level = lux ?? reading?.face_lux ?? 0,
    softness = soft ?? Math.floor(half);
  const feet = light.unit === "fc";

  async function look() {
    setBusy(true);
    const { record, draft } = readDesk();
    try {
      const made = await got<Schemas["TrialOut"]>(
        api.POST("/api/setups/{pk}/proposals", {
          params: { path: { pk: record!.id } },
          body: {
            document: draft,
            unit: unit.id,
            source,
            wish: {
              lux: level > 0 ? level : null,
              soft: softness,
              spill: minds ? spill : null,
              either_side: either,
            },
          },
        }),
      );
      void navigate(`/trials/${made.id}`);
    } catch (error) {
      setFault((error as Error).message);
      setBusy(false);
    }
  }
  return (
    <section aria-label="Other ways" className="grid gap-2 border-t border-line pt-3">
      <p className="text-quiet">
        Or another way to it: each head of the {source} bare, boxed, through cloth, off a board, the
        wall or the ceiling, near and far, wherever it and its stand have room. They are run as a
        trial; those that do what is asked come first.
      </p>
      <div className="flex flex-wrap items-end gap-2">
        <div className="w-36">
          <NumberField
            label="At the face"
            unit={light.unit}
            digits={feet ? 1 : 0}
            value={feet ? footcandles(level) : level}
            step={feet ? 5 : 50}
            min={0}
            max={100000}
            onChange={(v) => setLux(feet ? v / FOOT ** 2 : v)}
          />
        </div>
        <div className="w-36">
          <NumberField
            label="At least so soft"
            unit="°"
            value={softness}
            step={5}
            min={0}
            max={170}
            onChange={setSoft}
          />
        </div>
        <Button pressed={minds} onClick={() => setMinds(!minds)}>
          mind the spill
        </Button>
        {minds && (
          <div className="w-40">
            <NumberField
              label="At most on the backdrop"
              unit="stops"
              digits={1}
              value={spill}
              step={0.5}
              min={-12}
              max={6}
              onChange={setSpill}
            />
          </div>
        )}
        <Button pressed={either} onClick={() => setEither(!either)}>
          either side
        </Button>
        <Button look="lamp" disabled={busy} onClick={() => void look()}>
          Look for other ways
        </Button>
      </div>
      {fault && (
        <p role="alert" className="text-fault">
          {fault}
        </p>
      )}
    </section>
  );
}
