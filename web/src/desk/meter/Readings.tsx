import { useLight } from "../../app/preferences";
import { useDesk } from "../store";

/** What the meter says: big for the lens-facing dome and the ratio, a line for each mark. */
export function Readings() {
  const readings = useDesk((d) => d.look?.readings);
  const looking = useDesk((d) => d.looking);
  const solo = useDesk((d) => d.draft!.units.find((u) => u.id === d.solo)?.name);
  const light = useLight();
  if (!readings)
    return (
      <section aria-label="Readings" className="h-64 p-4 text-quiet">
        Metering…
      </section>
    );
  const chin = readings.marks.find((m) => m.id === "chin")!;
  const { cheeks, combined, single } = readings.ratios;
  return (
    <section
      aria-label="Readings"
      aria-busy={looking}
      className={`border-b border-line px-4 pt-2 pb-3 ${looking ? "stale" : ""}`}
    >
      <h2 className="font-serif text-base text-lamp italic">
        At the face{solo && <span className="not-italic">: {solo} alone</span>}
      </h2>
      <div className="flex items-end gap-3">
        <output aria-label="T-stop under the chin" className="text-3xl font-bold whitespace-nowrap">
          {chin.stop_words}
        </output>
        <span className="pb-0.5 text-xs text-quiet">
          <b className="text-sm text-paper">{light.text(chin.lux, chin.footcandles)}</b> under the
          chin,
          <br />
          dome to the lens
        </span>
      </div>
      <div className="mt-1 flex items-end gap-3">
        <output aria-label="Key-to-fill ratio" className="text-3xl font-bold whitespace-nowrap">
          {combined.ratio === null ? "– : –" : combined.words.replace(":", " : ")}
        </output>
        <span className="pb-0.5 text-xs text-quiet">
          {combined.ratio === null && cheeks.ratio === null ? (
            <>no ratio: {combined.words}</>
          ) : (
            <>
              {combined.school}
              {combined.stops !== null && (
                <>
                  , <b className="text-paper">{tenths(combined.stops)}</b> stops
                </>
              )}
              <br />
              {cheeks.school}: <b className="text-paper">{cheeks.words}</b>
              <br />
              {single.school}: {single.words}
            </>
          )}
        </span>
      </div>
      <p role="status" className="my-1.5 text-xs text-quiet">
        {readings.sentence}
      </p>
      <table className="w-full text-xs">
        <thead className="sr-only">
          <tr>
            <th>Mark</th>
            <th>Level</th>
            <th>Against the camera</th>
          </tr>
        </thead>
        <tbody>
          {readings.marks.map((m) => (
            <tr key={m.id} className="border-t border-line">
              <th scope="row" className="py-px pr-1 text-left font-normal leading-5">
                {m.name}
                {m.receiver === "disc" && <span className="text-quiet">, disc</span>}
              </th>
              <td className="px-1 text-right font-bold whitespace-nowrap">
                {light.text(m.lux, m.footcandles)}
              </td>
              <td className="w-10 text-right text-quiet" title={m.stop_words}>
                {m.against_words}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** Stops in tenths: what rounds to nothing has no sign. */
const tenths = (stops: number) => (Math.round(stops * 10) / 10 + 0).toFixed(1).replace("-", "−");
