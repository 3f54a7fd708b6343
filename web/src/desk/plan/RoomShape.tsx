import type { Document } from "../../app/api";
import { boundsOf, cornersOf, onWall } from "../place/walls";
import type { PlanScale } from "./planScale";

/** Walls and windows from above. */
export function RoomShape({
  room,
  openings,
  scale,
}: {
  room: Document["room"];
  openings: Document["openings"];
  scale: PlanScale;
}) {
  const corners = cornersOf(room)
    .map((p) => scale.toScreen(p).join(","))
    .join(" ");
  const { low, high } = boundsOf(room);
  const within = (...at: [number, number]) =>
    at.map((v, k) => Math.min(Math.max(v, low[k]!), high[k]!)) as [number, number];
  return (
    <>
      {!room.outdoors && (
        <polygon points={corners} className="fill-panel/60 stroke-quiet" strokeWidth="2" />
      )}
      {!room.outdoors &&
        room.gaps.map(({ low: [w, s], high: [e, n] }, k) => (
          <polygon
            key={k}
            points={[
              [w, s],
              [e, s],
              [e, n],
              [w, n],
            ]
              .map(([x, y]) => within(x!, y!))
              .map((p) => scale.toScreen(p).join(","))
              .join(" ")}
            role="img"
            aria-label="Gap in the ceiling"
            fill="none"
            className="stroke-quiet"
            strokeDasharray="2 6"
          />
        ))}
      {!room.outdoors &&
        openings.map((o) => {
          const ends = [o.along - o.size[0]! / 2, o.along + o.size[0]! / 2];
          const above = o.wall === "ceiling";
          const [from, to] = (
            above ? ends.map((v) => [v, o.up] as const) : onWall(room, o.wall, ends)
          ).map((p) => scale.toScreen(p));
          return (
            from &&
            to && (
              <line
                key={o.id}
                x1={from[0]}
                y1={from[1]}
                x2={to[0]}
                y2={to[1]}
                className={o.cover === "blackout" ? "stroke-line" : "stroke-[#9db4d6]"}
                strokeWidth="5"
                strokeDasharray={above ? "6 4" : undefined}
              />
            )
          );
        })}
    </>
  );
}
