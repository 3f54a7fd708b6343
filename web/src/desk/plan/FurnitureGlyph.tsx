import type { PointerEvent } from "react";
import type { Furniture } from "../../app/api";
import { choosePiece } from "../store";
import type { PlanScale } from "./planScale";

type Props = {
  item: Furniture;
  round: boolean;
  opens: boolean;
  /** What a model covers of the floor, in parts of its width and depth from its middle. */
  outline?: readonly (readonly (readonly number[])[])[];
  scale: PlanScale;
  chosen: boolean;
  /** Whether a unit that is part of it bears its name on the plan. */
  named: boolean;
  onPointerDown: (e: PointerEvent<SVGGElement>) => void;
};

/** A piece of furniture from above in true size; the line inside is its front. */
export function FurnitureGlyph({
  item,
  round,
  opens,
  outline,
  scale,
  chosen,
  named,
  onPointerDown,
}: Props) {
  const [x, y] = scale.toScreen(item.position),
    [ex, ey] = scale.toScreen([
      item.position[0] + Math.cos((item.turn * Math.PI) / 180),
      item.position[1] + Math.sin((item.turn * Math.PI) / 180),
    ]);
  const [w, d] = [item.size[0] * scale.zoom, item.size[1] * scale.zoom];
  const turn = (Math.atan2(ey - y, ex - x) * 180) / Math.PI;
  // The plan is seen from above with y up: the front lies toward negative screen y.
  const front = -d / 2 + Math.min(4, d / 4);
  const plain = ["box", "cylinder", "ball", "scan"].includes(item.kind);
  return (
    <g
      transform={`translate(${x} ${y}) rotate(${turn})`}
      className={`${item.kind === "rug" ? "fill-raised/40" : "fill-raised"} ${chosen ? "stroke-lamp" : "stroke-quiet/60"} ${item.locked ? "" : "cursor-grab active:cursor-grabbing"}`}
      onPointerDown={onPointerDown}
      role="button"
      tabIndex={0}
      aria-label={`${item.name} on the plan`}
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") choosePiece(item.id);
      }}
    >
      {outline?.length ? (
        <path
          d={outline
            .map((ring) => `M${ring.map(([u, v]) => `${u! * w} ${-v! * d}`).join("L")}Z`)
            .join("")}
          strokeWidth={chosen ? 2 : 1}
        />
      ) : round ? (
        <ellipse rx={w / 2} ry={d / 2} strokeWidth={chosen ? 2 : 1} />
      ) : (
        <rect x={-w / 2} y={-d / 2} width={w} height={d} strokeWidth={chosen ? 2 : 1} />
      )}
      {!round && !plain && (
        <line x1={-0.36 * w} x2={0.36 * w} y1={front} y2={front} className="stroke-quiet" />
      )}
      {opens && <Leaf width={w} depth={d} open={item.open} zoom={scale.zoom} />}
      {chosen && !named && (
        <text
          textAnchor="middle"
          transform={`rotate(${-turn} 0 0) translate(0 4)`}
          className="pointer-events-none fill-lamp stroke-none text-xs font-bold"
        >
          {item.name}
        </text>
      )}
    </g>
  );
}

/** Posts of a door [m]; as moth.place.pieces makes them. */
const POST = 0.1;

/** A door's leaf, hung at its left hand as seen from its front, and the floor that it sweeps. */
function Leaf({
  width,
  depth,
  open,
  zoom,
}: {
  width: number;
  depth: number;
  open: number;
  zoom: number;
}) {
  const post = Math.min(POST * zoom, width / 8),
    long = width - 2 * post,
    a = (open * Math.PI) / 180;
  const [hx, hy] = [width / 2 - post, -depth / 2],
    tip = [hx - long * Math.cos(a), hy - long * Math.sin(a)];
  return (
    <g className="pointer-events-none fill-none">
      <line
        x1={hx - long}
        x2={hx}
        y1={0}
        y2={0}
        className="stroke-ink"
        strokeWidth={Math.max(1, depth - 1)}
      />
      <path
        d={`M${hx - long} ${hy}A${long} ${long} 0 0 1 ${tip[0]} ${tip[1]}`}
        className="stroke-quiet/60"
        strokeDasharray="2 3"
      />
      <line x1={hx} y1={hy} x2={tip[0]} y2={tip[1]} className="stroke-paper" strokeWidth="2" />
    </g>
  );
}
