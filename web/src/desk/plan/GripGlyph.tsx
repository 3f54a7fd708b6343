import type { PointerEvent } from "react";
import type { Grip } from "../../app/api";
import type { PlanScale } from "./planScale";

type Props = {
  piece: Grip;
  scale: PlanScale;
  chosen: boolean;
  onPointerDown: (e: PointerEvent<SVGGElement>) => void;
};

/** A piece of grip from above in true width; its front is the side with the ticks. */
export function GripGlyph({ piece, scale, chosen, onPointerDown }: Props) {
  const [x, y] = scale.toScreen(piece.position),
    [ax, ay] = scale.toScreen(piece.aim);
  const turn = (Math.atan2(ay - y, ax - x) * 180) / Math.PI + 90;
  const half = Math.max(5, (piece.size[0]! / 2) * scale.zoom);
  const dark = piece.kind === "flag";
  const stroke = chosen ? "stroke-lamp" : dark ? "stroke-quiet" : "stroke-paper";
  const see = piece.kind === "frame" || piece.kind === "blinds" || piece.kind === "branches";
  return (
    <g
      transform={`translate(${x} ${y}) rotate(${turn})`}
      className="cursor-grab active:cursor-grabbing"
      onPointerDown={onPointerDown}
      role="button"
      aria-label={`${piece.name} on the plan`}
      data-grip={piece.id}
    >
      <rect
        x={-Math.max(half, 20)}
        y={-20}
        width={2 * Math.max(half, 20)}
        height={40}
        fill="transparent"
      />
      {piece.kind === "v-flat" ? (
        <path
          d={`M${-half * 0.7} ${-half * 0.7}L0 0L${half * 0.7} ${-half * 0.7}`}
          fill="none"
          className={stroke}
          strokeWidth="4"
        />
      ) : (
        <line
          x1={-half}
          x2={half}
          className={stroke}
          strokeWidth={see ? 2.5 : 4}
          strokeDasharray={see ? "5 3" : undefined}
        />
      )}
      {(piece.kind === "mirror" || piece.kind === "reflector") && (
        <line x1={-half} x2={half} y1={3.5} y2={3.5} className={stroke} strokeWidth="1" />
      )}
      {[-0.6, 0, 0.6].map((k) => (
        <line key={k} x1={k * half} x2={k * half} y2={-5} className={stroke} strokeWidth="1" />
      ))}
      {chosen && (
        <text
          y={18}
          textAnchor="middle"
          transform={`rotate(${-turn} 0 0) translate(0 6)`}
          className="fill-lamp text-xs font-bold"
        >
          {piece.name}
        </text>
      )}
    </g>
  );
}
