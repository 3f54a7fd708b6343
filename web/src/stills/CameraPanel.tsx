import { useMemo } from "react";
import { useLength } from "../app/preferences";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { layTool, whole } from "./heading";
import { edgeTools, FIGURES, headTools, PARTS, without } from "./marks";
import { H2, Known, Told, Tools, type Panel } from "./panel";

/** The head marked, edges of the place, and the camera that they tell. */
export function CameraPanel({
  draft,
  read,
  stale,
  edit,
  editable,
  tool,
  setTool,
  aspect,
}: Panel & { aspect: number }) {
  const lay = useMemo(() => layTool(aspect), [aspect]);
  const { marks } = draft,
    length = useLength();
  const framing = read?.framing;
  const off = framing ? Math.abs(framing.angle.value) : 0;
  const metres = (f: { value: number; off: number }) => ({
    value: length.show(f.value),
    off: length.show(f.off),
  });
  return (
    <div className={`grid gap-2 ${stale ? "opacity-60" : ""}`}>
      {editable && (
        <>
          <H2>Mark the head</H2>
          <Tools
            tools={[lay, ...headTools]}
            done={(t) =>
              t === lay ? whole(marks) : marks.head[PARTS[headTools.indexOf(t)]!.key] != null
            }
            tool={tool}
            setTool={setTool}
          />
          <div className="grid grid-cols-2 gap-2">
            <Choice
              label="Laid over it"
              value={marks.figure.figure}
              options={FIGURES.map((f) => ({ value: f, label: f.replaceAll("-", " ") }))}
              onChange={(figure) =>
                edit((d) => ({
                  ...d,
                  marks: { ...d.marks, figure: { ...d.marks.figure, figure } },
                }))
              }
            />
            <Choice
              label="The person"
              value={marks.figure.pose}
              options={[
                { value: "seated" as const, label: "sits" },
                { value: "standing" as const, label: "stands" },
                { value: "leaning" as const, label: "leans on a table" },
              ]}
              onChange={(pose) =>
                edit((d) => ({ ...d, marks: { ...d.marks, figure: { ...d.marks.figure, pose } } }))
              }
            />
          </div>
          <Known
            label="Skin"
            unit="%"
            value={marks.figure.skin == null ? null : 100 * marks.figure.skin}
            otherwise={30}
            step={2}
            min={4}
            max={65}
            onChange={(skin) =>
              edit((d) => ({
                ...d,
                marks: {
                  ...d.marks,
                  figure: { ...d.marks.figure, skin: skin === null ? null : skin / 100 },
                },
              }))
            }
          />
          <H2>Edges of the place, for the lens</H2>
          <Tools tools={edgeTools} done={() => false} tool={tool} setTool={setTool} />
          {marks.edges.length > 0 && (
            <ul className="flex flex-wrap gap-1 text-xs">
              {marks.edges.map((edge, k) => (
                <li key={k}>
                  <Button
                    look="bare"
                    className="text-xs"
                    aria-label={`Take edge ${k + 1} away`}
                    onClick={() => edit((d) => ({ ...d, marks: without(d.marks, `edge ${k}`) }))}
                  >
                    {k + 1} {edge.kind} ✕
                  </Button>
                </li>
              ))}
            </ul>
          )}
        </>
      )}
      <section aria-label="The camera of the still">
        <H2>Its camera</H2>
        <p className="pb-1 text-sm">{read?.framing_words ?? "Working it out…"}</p>
        {framing && (
          <table className="w-full text-sm">
            <tbody>
              <Told name="Lens" estimate={framing.focal_length} unit="mm" />
              <Told
                name="From the eyes"
                estimate={metres(framing.distance)}
                unit={length.unit}
                digits={2}
              />
              <Told
                name="Over the eyes"
                estimate={metres(framing.rise)}
                unit={length.unit}
                digits={2}
              />
              <Told name="Tilted" estimate={framing.tilt} unit="°" digits={1} />
              <Told
                name={`Off the face, to the person's ${framing.angle.value > 0 ? "left" : "right"}`}
                estimate={{ value: off, off: framing.angle.off }}
                unit="°"
              />
              <tr className="border-t border-line">
                <th scope="row" className="py-1 text-left font-normal text-quiet">
                  Marks are off by
                </th>
                <td className="text-right">{framing.left.toFixed(1)} px</td>
              </tr>
            </tbody>
          </table>
        )}
      </section>
    </div>
  );
}
