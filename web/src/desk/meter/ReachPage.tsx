import { useEffect, useState } from "react";
import { api, got, type Constants, type Problem, type Schemas } from "../../app/api";
import { useLength, useLight, useWords } from "../../app/preferences";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { mayEdit, readDesk, useDesk } from "../store";
import { bring } from "../units/rigging";

type Reaching = Schemas["Reaching"];
type Source = Schemas["ReachAsked"]["source"];

/** Which heads bring the level that is asked for, and from how far off. */
export function ReachPage({ constants }: { constants: Constants }) {
  const camera = useDesk((d) => d.draft!.cameras[0]!),
    room = useDesk((d) => d.draft!.room),
    editable = useDesk(mayEdit);
  const [source, setSource] = useState<Source>("catalogue"),
    [over, setOver] = useState(0),
    [found, setFound] = useState<Reaching | null>(null),
    [fault, setFault] = useState("");
  const length = useLength(),
    light = useLight(),
    inWords = useWords();
  useEffect(() => {
    const stop = new AbortController();
    const soon = setTimeout(() => {
      const { record, draft, stored } = readDesk();
      if (!record || !draft) return;
      got<Reaching>(
        api.POST("/api/setups/{pk}/reach", {
          params: { path: { pk: record.id } },
          body: { document: draft === stored ? null : draft, source, over },
          signal: stop.signal,
        }),
      )
        .then((reaching) => {
          if (stop.signal.aborted) return;
          setFound(reaching);
          setFault("");
        })
        .catch((error: Problem) => !stop.signal.aborted && setFault(error.message));
    }, 250);
    return () => {
      clearTimeout(soon);
      stop.abort();
    };
  }, [camera, room, source, over]);
  const far = (metres: number | null | undefined) =>
    metres == null
      ? "too weak"
      : metres >= 119
        ? `over ${length.text(119, 0)}`
        : length.text(metres, 1);
  return (
    <section aria-label="Which heads reach" className="grid gap-2">
      <div className="grid grid-cols-[1fr_1fr] items-end gap-1.5">
        <NumberField
          label="Over the camera's stop"
          unit="stops"
          digits={1}
          value={over}
          step={1 / 3}
          min={-8}
          max={8}
          onChange={setOver}
        />
        <Choice
          label="Heads of"
          value={source}
          options={[
            { value: "catalogue" as const, label: "the catalogue" },
            { value: "kit" as const, label: "the kit" },
          ]}
          onChange={setSource}
        />
      </div>
      {fault && (
        <p role="alert" className="text-fault">
          {fault}
        </p>
      )}
      {!found && !fault && <p className="text-quiet">Working it out…</p>}
      {found && (
        <p className="text-xs text-quiet">
          {light.text(found.lux, found.footcandles)} at the face, from one head at full, straight,
          with nothing that bounces.{" "}
          {found.longest != null && `This room is ${length.text(found.longest)} long from there.`}
        </p>
      )}
      {found && found.heads.length === 0 && (
        <p className="text-quiet">The kit has no heads: list them on the production's kit page.</p>
      )}
      {found && found.heads.length > 0 && (
        <table className="w-full text-xs">
          <thead>
            <tr className="text-left text-quiet">
              <th className="font-normal">Head</th>
              <th className="font-normal">bare to</th>
              <th className="font-normal">boxed, 4 × 3 ft</th>
              <th>
                <span className="sr-only">Bring it in</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {found.heads.map((r) => {
              const head = constants.heads.find((h) => h.key === r.head);
              return (
                <tr key={r.name} className="border-t border-line">
                  <th scope="row" className="py-1 text-left font-normal">
                    {inWords(r.name)}
                    <span className="block text-quiet">
                      {r.watts} W{r.on_battery ? ", battery" : ""}
                      {r.room ? "" : " · beyond the room"}
                    </span>
                  </th>
                  <td
                    className={`pr-2 whitespace-nowrap ${r.bare == null ? "text-quiet" : "font-bold"}`}
                  >
                    {far(r.bare)}
                  </td>
                  <td className={`whitespace-nowrap ${r.boxed == null ? "text-quiet" : ""}`}>
                    {r.fits ? far(r.boxed) : "–"}
                  </td>
                  <td>
                    {head && source === "catalogue" && (
                      <Button
                        look="bare"
                        className="px-1 text-xs whitespace-nowrap"
                        disabled={!editable || r.bare == null}
                        aria-label={`Bring in ${r.name}`}
                        onClick={() => void bring(head)}
                      >
                        bring in
                      </Button>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </section>
  );
}
