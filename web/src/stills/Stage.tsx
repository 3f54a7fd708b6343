import { useEffect, useRef, useState, type PointerEvent } from "react";
import { Button } from "../parts/Button";
import { headHandles } from "./heading";
import { handlesOf, next, without, type Handle, type Marks, type Spot, type Tool } from "./marks";

const ZOOMS = [1, 2, 4, 8];
/** One press of an arrow key, as a part of the picture's width. */
const NUDGE = 1 / 1920;

/** The picture of a still with its marks on it; with a tool in hand, a press marks. */
export function Stage(props: {
  src: string;
  title: string;
  aspect: number;
  marks: Marks;
  outline: [number, number][];
  tool: Tool | null;
  setTool: (tool: Tool | null) => void;
  edit: (change: (marks: Marks) => Marks) => void;
  editable: boolean;
  shown: boolean;
}) {
  const { src, title, aspect, marks, outline, tool, setTool, edit, editable, shown } = props;
  const [zoom, setZoom] = useState(1),
    [pending, setPending] = useState<{ tool: Tool; at: Spot[] } | null>(null),
    [carried, setCarried] = useState<{ handle: Handle; at: Spot } | null>(null),
    [chosen, setChosen] = useState<string | null>(null);
  const surface = useRef<HTMLDivElement>(null),
    frame = useRef<HTMLDivElement>(null);
  const points = pending && pending.tool === tool ? pending.at : [];
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => e.key === "Escape" && setTool(null);
    globalThis.addEventListener("keydown", pressed);
    return () => globalThis.removeEventListener("keydown", pressed);
  }, [setTool]);
  const spotOf = (event: { clientX: number; clientY: number }): Spot => {
    const box = surface.current!.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  };
  function press(event: PointerEvent) {
    if (!tool || event.button !== 0) return;
    event.preventDefault();
    const at = [...points, spotOf(event)];
    if (at.length < tool.points.length) {
      setPending({ tool, at });
      return;
    }
    setPending(null);
    const marked = tool.put(marks, at);
    edit(() => marked);
    setTool(next(marked, tool));
  }
  function zoomTo(to: number, about?: Spot) {
    const box = frame.current!,
      at = about ?? [
        (box.scrollLeft + box.clientWidth / 2) / surface.current!.clientWidth,
        (box.scrollTop + box.clientHeight / 2) / surface.current!.clientHeight,
      ];
    setZoom(to);
    requestAnimationFrame(() => {
      const inner = surface.current!;
      box.scrollTo(
        at[0]! * inner.clientWidth - box.clientWidth / 2,
        at[1]! * inner.clientHeight - box.clientHeight / 2,
      );
    });
  }
  const here = carried ? carried.handle.move(marks, carried.at) : marks,
    heads = shown ? headHandles(here, aspect) : [],
    handles = shown ? [...handlesOf(here), ...heads] : [];
  // The outline goes along with the head that is carried; sized, it comes anew from the desk.
  const gone: Spot =
    carried?.handle.id === "head all"
      ? [carried.at[0] - carried.handle.at[0], carried.at[1] - carried.handle.at[1]]
      : [0, 0];
  const groups = [...new Set(handles.map((h) => h.group))].map((name) =>
    handles.filter((h) => h.group === name),
  );
  const path = outline
    .map(([x, y]) => `${(x + gone[0]) * 1000},${(y + gone[1]) * 1000 * aspect}`)
    .join(" ");
  /** Where the outline was taken hold of, and the middle of its head then. */
  const held = useRef<{ start: Spot; handle: Handle } | null>(null);
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="flex h-11 shrink-0 items-center gap-1 border-b border-line px-2">
        <p role="status" aria-label="Marking" className="min-w-0 flex-1 truncate text-sm">
          {tool ? (
            <>
              <b className="text-lamp">{tool.name}:</b> press on {tool.points[points.length]}.{" "}
              <span className="text-quiet">Escape leaves it.</span>
            </>
          ) : (
            <span className="text-quiet">
              {editable
                ? "Choose what to mark; marks can be carried, or nudged by the arrows."
                : ""}
            </span>
          )}
        </p>
        {ZOOMS.map((z) => (
          <Button key={z} look="bare" pressed={zoom === z} onClick={() => zoomTo(z)}>
            {z}×
          </Button>
        ))}
      </div>
      <div ref={frame} className="min-h-0 flex-1 overflow-auto bg-black">
        <div
          ref={surface}
          role="group"
          aria-label="The still"
          className={`relative mx-auto select-none ${tool ? "cursor-crosshair" : ""}`}
          style={{ width: `${100 * zoom}%` }}
          onPointerDown={press}
          onDoubleClick={(e) => !tool && zoomTo(zoom === 1 ? 4 : 1, spotOf(e))}
        >
          <img src={src} alt={title} draggable={false} className="block w-full" />
          <svg
            aria-hidden
            viewBox={`0 0 1000 ${1000 * aspect}`}
            className="pointer-events-none absolute inset-0 size-full overflow-visible"
          >
            {shown && outline.length > 2 && (
              <polygon
                points={path}
                fill="none"
                stroke="var(--color-lamp)"
                strokeDasharray="6 5"
                strokeWidth={1.2 / zoom}
              />
            )}
            {shown && outline.length > 2 && editable && !tool && heads[0] && (
              <polygon
                points={path}
                fill="none"
                stroke="transparent"
                strokeWidth={14 / zoom}
                className="cursor-move touch-none"
                style={{ pointerEvents: "stroke" }}
                onPointerDown={(e) => {
                  e.currentTarget.setPointerCapture(e.pointerId);
                  held.current = { start: spotOf(e), handle: heads[0]! };
                }}
                onPointerMove={(e) => {
                  if (!held.current) return;
                  const { start, handle } = held.current,
                    at = spotOf(e);
                  setCarried({
                    handle,
                    at: [handle.at[0] + at[0] - start[0], handle.at[1] + at[1] - start[1]],
                  });
                }}
                onPointerUp={() => {
                  held.current = null;
                  if (carried) edit((m) => carried.handle.move(m, carried.at));
                  setCarried(null);
                }}
              />
            )}
            {groups.map((group) =>
              group.length > 1 ? (
                <polyline
                  key={group[0]!.group}
                  points={group
                    .map((h) => `${h.at[0] * 1000},${h.at[1] * 1000 * aspect}`)
                    .join(" ")}
                  fill="none"
                  stroke="var(--color-paper)"
                  strokeWidth={1 / zoom}
                />
              ) : null,
            )}
            {handles.map(
              (h) =>
                h.radius && (
                  <circle
                    key={h.id}
                    cx={h.at[0] * 1000}
                    cy={h.at[1] * 1000 * aspect}
                    r={h.radius * 1000}
                    fill="none"
                    stroke="var(--color-paper)"
                    strokeWidth={1 / zoom}
                  />
                ),
            )}
            {points.map((at, k) => (
              <circle
                key={k}
                cx={at[0] * 1000}
                cy={at[1] * 1000 * aspect}
                r={4 / zoom}
                fill="var(--color-lamp)"
              />
            ))}
          </svg>
          {handles.map((handle) => (
            <button
              key={handle.id}
              type="button"
              aria-label={`${handle.name}, mark`}
              title={handle.name}
              className={`absolute size-5 -translate-1/2 touch-none rounded-full ${tool ? "pointer-events-none" : ""}`}
              style={{ left: `${100 * handle.at[0]}%`, top: `${100 * handle.at[1]}%` }}
              onFocus={() => setChosen(handle.id)}
              onPointerDown={(e) => {
                if (!editable || tool) return;
                e.currentTarget.setPointerCapture(e.pointerId);
                setCarried({ handle, at: handle.at });
              }}
              onPointerMove={(e) =>
                carried?.handle.id === handle.id && setCarried({ ...carried, at: spotOf(e) })
              }
              onPointerUp={() => {
                if (carried && carried.at !== carried.handle.at)
                  edit((m) => carried.handle.move(m, carried.at));
                setCarried(null);
              }}
              onKeyDown={(e) => {
                const way = {
                  ArrowLeft: [-1, 0],
                  ArrowRight: [1, 0],
                  ArrowUp: [0, -1],
                  ArrowDown: [0, 1],
                }[e.key];
                if (!editable) return;
                if (e.key === "Delete" || e.key === "Backspace")
                  edit((m) => without(m, handle.group));
                if (!way) return;
                e.preventDefault();
                const by = (e.shiftKey ? 10 : 1) * NUDGE;
                edit((m) =>
                  handle.move(m, [
                    handle.at[0] + way[0]! * by,
                    handle.at[1] + (way[1]! * by) / aspect,
                  ]),
                );
              }}
            >
              <span
                className={`mx-auto block ${handle.grip ? "size-2.5 border-2 border-lamp" : "size-2 rounded-full border border-ink"} ${chosen === handle.id ? "bg-lamp" : handle.grip ? "bg-ink" : "bg-paper"}`}
              />
            </button>
          ))}
        </div>
      </div>
    </div>
  );
}
