import { useEffect, useState } from "react";
import { api, got, type Problem, type Schemas } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { useLight, usePreferences } from "../../app/preferences";
import { isNear, leftWords, settingOf, settingWords } from "../camera/settings";
import { act, mayEdit, readDesk, setDesk, useDesk, withCamera } from "../store";
import { report } from "../session/line";

type School = Schemas["SchoolReading"];

const WHATS = [
  { value: "stop", label: "the stop" },
  { value: "index", label: "the index" },
  { value: "shutter", label: "the shutter" },
  { value: "nd", label: "ND" },
] as const;
type By = (typeof WHATS)[number]["value"];
/** A camera's shutter is told as an angle or as a time: whichever it is. */
const wayBy = (row: School, by: By) =>
  row.ways.find((w) => w.what === by || (by === "shutter" && /angle|time/.test(w.what)));
const signed = (stops: number) =>
  Math.abs(stops) < 0.05 ? "0" : `${stops < 0 ? "−" : "+"}${Math.abs(stops).toFixed(1)}`;
/** Every way to hold the meter, where the face sits if its reading is set, and setting it. */
export function Schools() {
  const [rows, setRows] = useState<School[] | null>(null);
  const [by, setBy] = useState<By>("stop");
  const look = useDesk((d) => d.look);
  const editable = useDesk(mayEdit);
  const step = usePreferences((p) => p.step);
  const light = useLight();
  useEffect(() => {
    const stop = new AbortController();
    const soon = setTimeout(() => {
      const { record, draft, stored } = readDesk();
      if (!record || !draft) return;
      got<School[]>(
        api.POST("/api/setups/{pk}/schools", {
          params: { path: { pk: record.id } },
          body: { document: draft === stored ? null : draft, step },
          signal: stop.signal,
        }),
      )
        .then((found) => {
          if (!stop.signal.aborted) setRows(found);
        })
        .catch((error: Problem) => {
          if (!stop.signal.aborted) report(error);
        });
    }, 250);
    return () => {
      clearTimeout(soon);
      stop.abort();
    };
  }, [look, step]);
  function take(row: School) {
    const way = wayBy(row, by);
    if (!way) return;
    setDesk({ preview: null });
    act(
      withCamera(() => settingOf(way)),
      `Camera: ${settingWords(way)}, ${row.title.toLowerCase()}`.slice(0, 120),
    );
  }
  const preview = useDesk((d) => d.preview);
  useEffect(() => () => setDesk({ preview: null }), [look]);
  if (!rows) return <p className="text-quiet">Metering…</p>;
  return (
    <section aria-label="Ways to meter" className="grid gap-1.5">
      <h3 className="font-serif text-base text-lamp italic">Ways to meter</h3>
      {rows.map((row) => {
        const way = wayBy(row, by);
        return (
          <div
            key={row.key}
            role="group"
            aria-label={row.title}
            className="grid grid-cols-[1fr_auto_auto] items-center gap-x-2 border-t border-line py-1"
          >
            <div className="col-span-3">
              <p>
                {row.title} <b>{row.stop_words}</b>
              </p>
              <p className="text-xs text-quiet italic">{row.name}</p>
              <p className="text-xs text-quiet">
                {light.text(row.lux, row.footcandles)}
                {row.against !== null && `, ${row.against_words} on the camera`}. If set:{" "}
                {Object.entries(row.sits)
                  .map(([what, stops]) => `${what} ${stops == null ? "dark" : signed(stops)}`)
                  .join(", ")}
                .
              </p>
              {row.uncounted && <p className="text-xs">{row.uncounted}.</p>}
            </div>
            <span />
            <Button
              look="bare"
              className="px-2 text-xs"
              pressed={preview?.title === row.title}
              aria-label={`See it set: ${row.title}`}
              disabled={row.exposure == null}
              onClick={() =>
                setDesk({
                  preview:
                    preview?.title === row.title
                      ? null
                      : { exposure: row.exposure!, title: row.title },
                })
              }
            >
              see
            </Button>
            <Button
              aria-label={way ? `Set ${settingWords(way)}${leftWords(way)}` : "dark"}
              disabled={!editable || !way || !isNear(way)}
              title={way && !isNear(way) ? `${signed(way.left)} stops would be left` : undefined}
              onClick={() => take(row)}
            >
              <span>
                {way ? settingWords(way) : "dark"}
                {way && <span className="text-quiet">{leftWords(way)}</span>}
              </span>
            </Button>
          </div>
        );
      })}
      <Choice label="Set it by" value={by} options={[...WHATS]} onChange={setBy} />
    </section>
  );
}
