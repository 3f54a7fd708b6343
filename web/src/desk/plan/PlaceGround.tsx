import { memo } from "react";
import type { Document } from "../../app/api";
import { FOOT } from "../../app/units";
import { wallsOf } from "../place/walls";
import { useLength } from "../../app/preferences";
import type { PlanScale } from "./planScale";
import { RoomShape } from "./RoomShape";

type Props = {
  room: Document["room"];
  openings: Document["openings"];
  scale: PlanScale;
  width: number;
  height: number;
};

/** Walls shorter than this on the screen do not say their length [px]. */
const SAID = 34;

/** The still part of the plan of the place: north up, walls with their lengths, a grid. */
export const PlaceGround = memo(function PlaceGround({
  room,
  openings,
  scale,
  width,
  height,
}: Props) {
  const length = useLength();
  const step = length.unit === "ft" ? 2 * FOOT : 0.5;
  const [west, north] = scale.toFloor(0, 0),
    [east, south] = scale.toFloor(width, height);
  const lines = (from: number, to: number) => {
    const first = Math.ceil(from / step);
    return [...Array(Math.max(0, Math.min(200, Math.floor(to / step) - first + 1))).keys()].map(
      (k) => (k + first) * step,
    );
  };
  return (
    <g pointerEvents="none">
      <g className="stroke-line" opacity={0.45} strokeWidth={0.6} aria-hidden>
        {lines(west, east).map((x) => {
          const [sx] = scale.toScreen([x, 0]);
          return <line key={`x${x}`} x1={sx} x2={sx} y1={0} y2={height} />;
        })}
        {lines(south, north).map((y) => {
          const [, sy] = scale.toScreen([0, y]);
          return <line key={`y${y}`} x1={0} x2={width} y1={sy} y2={sy} />;
        })}
      </g>
      <RoomShape room={room} openings={openings} scale={scale} />
      {!room.outdoors &&
        wallsOf(room).map((wall) => {
          if (wall.length * scale.zoom < SAID) return null;
          const [x, y] = scale.toScreen([
            (wall.from[0] + wall.to[0]) / 2,
            (wall.from[1] + wall.to[1]) / 2,
          ]);
          // Outside the wall: north is up on the screen.
          return (
            <text
              key={wall.at}
              x={x - wall.inward[0] * 20}
              y={y + wall.inward[1] * 13 + 4}
              textAnchor="middle"
              className="fill-quiet text-[11px]"
            >
              {length.text(wall.length, 2)}
            </text>
          );
        })}
      <g transform={`translate(${width - 22} 26)`} role="img" aria-label="North is up">
        <path d="M0 12V-8M-5 -2L0 -9L5 -2" className="fill-none stroke-quiet" />
        <text y={24} textAnchor="middle" className="fill-quiet text-[11px]">
          north
        </text>
      </g>
    </g>
  );
});
