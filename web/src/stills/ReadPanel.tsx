import type { Schemas } from "../app/api";
import { Button } from "../parts/Button";
import { areaTools, without } from "./marks";
import { H2, Tools, type Panel } from "./panel";

const signed = (value: number, digits = 1) =>
  `${value < 0 ? "−" : "+"}${Math.abs(value).toFixed(digits)}`;

/** A ratio as it is said: the larger number first. */
export const ratioText = (ratio: number) =>
  ratio >= 1 ? `1:${ratio.toFixed(1)}` : `${(1 / ratio).toFixed(1)}:1`;

/** Spots, areas, pairs: what the picture holds where the hand points. */
export function ReadPanel({ draft, read, stale, edit, editable, tool, setTool }: Panel) {
  const { marks } = draft;
  const done = (id: string) =>
    id === "spot" ? false : !!marks[id as "shade" | "backdrop" | "neutral"];
  return (
    <div className={`grid gap-2 ${stale ? "opacity-60" : ""}`}>
      {editable && (
        <Tools tools={areaTools} done={(t) => done(t.id)} tool={tool} setTool={setTool} />
      )}
      {read?.sides && <Against name="Shade side against the key's" pair={read.sides} />}
      {read?.backdrop && <Against name="Backdrop against the key's" pair={read.backdrop} />}
      {!read?.sides && (
        <p className="text-sm text-quiet">
          The ratio of the sides needs where the key falls, marked on the page Lights, and the shade
          side.
        </p>
      )}
      {read?.white && (
        <section aria-label="White">
          <H2>White</H2>
          <p className="text-sm">
            {read.white.absolute
              ? `The key is about ${Math.round(read.white.kelvin / 50) * 50} K`
              : `The key is ${signed(1e6 / read.white.kelvin - 1e6 / 5600, 0)} mired against the camera's white, which is not known`}
            {Math.abs(read.white.green) > 0.15 &&
              `, with a cast of ${read.white.green > 0 ? "green" : "magenta"}`}
            .
          </p>
        </section>
      )}
      {read && read.spots.length > 0 && (
        <section aria-label="Spots">
          <H2>Spots</H2>
          <table className="w-full text-sm">
            <thead className="text-xs text-quiet">
              <tr>
                <th className="text-left font-normal">spot</th>
                <th className="text-right font-normal">percent</th>
                <th className="text-right font-normal">over grey</th>
                <th className="text-right font-normal">against 1</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {read.spots.map((spot, k) => (
                <tr key={k} className="border-t border-line">
                  <th scope="row" className="py-1 text-left font-normal">
                    {k + 1} {spot.lost && <span className="text-xs text-fault">{spot.lost}</span>}
                  </th>
                  <td className="text-right">{spot.percent.toFixed(0)} %</td>
                  <td className="text-right">{signed(spot.stops)}</td>
                  <td className="text-right">
                    {k > 0 && read.pairs[k - 1] ? signed(read.pairs[k - 1]!.stops) : ""}
                  </td>
                  <td className="text-right">
                    {editable && (
                      <Button
                        look="bare"
                        className="text-xs"
                        aria-label={`Take spot ${k + 1} away`}
                        onClick={() =>
                          edit((d) => ({ ...d, marks: without(d.marks, `spot ${k}`) }))
                        }
                      >
                        ✕
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </div>
  );
}

function Against({ name, pair }: { name: string; pair: Schemas["PairRead"] }) {
  return (
    <section aria-label={name}>
      <H2>{name}</H2>
      <table className="w-full text-sm">
        <tbody>
          <tr className="border-t border-line">
            <th scope="row" className="py-1 text-left font-normal text-quiet">
              by light, the curve undone
            </th>
            <td className="text-right">
              <b>{ratioText(pair.ratio)}</b>, {signed(pair.stops)}
              <span className="text-quiet"> ± {Math.max(pair.unsure, 0.05).toFixed(1)}</span> stops
            </td>
          </tr>
          <tr className="border-t border-line">
            <th scope="row" className="py-1 text-left font-normal text-quiet">
              percent over percent
            </th>
            <td className="text-right">{ratioText(pair.by_percent)}</td>
          </tr>
          <tr className="border-t border-line">
            <th scope="row" className="py-1 text-left font-normal text-quiet">
              its white
            </th>
            <td className="text-right">
              {Math.abs(pair.shift) < 8
                ? "the same"
                : `${Math.abs(pair.shift).toFixed(0)} mired ${pair.shift > 0 ? "warmer" : "cooler"}`}
            </td>
          </tr>
        </tbody>
      </table>
      <p className="text-xs text-quiet">{pair.words}</p>
    </section>
  );
}
