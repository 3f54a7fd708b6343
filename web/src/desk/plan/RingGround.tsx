import { memo } from "react";
import type { Document, Point } from "../../app/api";
import type { PlanScale } from "./planScale";
import { RoomShape } from "./RoomShape";
import { usePreferences } from "../../app/preferences";

type Props = {
  room: Document["room"];
  openings: Document["openings"];
  face: Point;
  scale: PlanScale;
  width: number;
  height: number;
};

const SPOKES = Array.from({ length: 24 }, (_, k) => k * 15);

/**
 * The still part of the plan: room, rings that grow by √2, spokes every 15 degrees off
 * the lens.
 */
export const RingGround = memo(function RingGround({
  room,
  openings,
  face,
  scale,
  width,
  height,
}: Props) {
  const feet = usePreferences((p) => p.length === "ft");
  const [cx, cy] = scale.toScreen(face);
  const one = feet ? 0.3048 : 1;
  const reach = Math.hypot(width, height) / 2 / scale.zoom;
  const rings: { k: number; metres: number }[] = [];
  for (let k = feet ? 2 : -2; one * 2 ** (k / 2) < reach && k < 14; k++)
    if (one * 2 ** (k / 2) > 0.45) rings.push({ k, metres: one * 2 ** (k / 2) });
  return (
    <g aria-hidden pointerEvents="none">
      <RoomShape room={room} openings={openings} scale={scale} />
      {SPOKES.map((a) => {
        const [sin, cos] = [Math.sin((a * Math.PI) / 180), Math.cos((a * Math.PI) / 180)];
        return (
          <line
            key={a}
            x1={cx + 26 * sin}
            y1={cy + 26 * cos}
            x2={cx + 2000 * sin}
            y2={cy + 2000 * cos}
            className="stroke-line"
            strokeWidth={a % 45 ? 0.5 : 1}
            opacity={a % 45 ? 0.6 : 0.9}
          />
        );
      })}
      {rings.map(({ k, metres }) => {
        const r = metres * scale.zoom;
        const label = feet ? 2 ** (k / 2) : metres;
        const shown = `${+label.toFixed(label < 10 ? 1 : 0)}`;
        const whole = k === (feet ? 4 : 2);
        return (
          <g key={k}>
            <circle
              cx={cx}
              cy={cy}
              r={r}
              fill="none"
              className="stroke-quiet"
              opacity={whole ? 0.75 : 0.4}
              strokeDasharray={whole ? undefined : "2 6"}
            />
            {r > 26 && (
              <text x={cx + r * 0.2588} y={cy - r * 0.9659 - 2} className="fill-quiet text-[10px]">
                {shown}
                {feet ? " ft" : " m"}
              </text>
            )}
          </g>
        );
      })}
      {[
        [45, "45°"],
        [90, "90°"],
        [135, "135°"],
      ].map(([a, text]) =>
        [-1, 1].map((side) => {
          const angle = (Number(a) * Math.PI) / 180;
          const r = Math.min(
            (width / 2 - 26) / Math.max(Math.sin(angle), 0.01),
            (height / 2 - 14) / Math.max(Math.abs(Math.cos(angle)), 0.01),
          );
          return (
            <text
              key={`${a}${side}`}
              x={cx + side * r * Math.sin(angle)}
              y={cy + r * Math.cos(angle) - 4}
              textAnchor={side < 0 ? "start" : "end"}
              className="fill-quiet text-[10px]"
            >
              {text}
            </text>
          );
        }),
      )}
    </g>
  );
});
