import { useDesk } from "../store";
import { isOpen, take, type Reading } from "./reading";

const WIDE = 1600,
  HIGH = 900;

/** What is read, on the frame: quiet lines along what is in the way; all of the one in hand. */
export function ReadingMarks() {
  const shown = useDesk((d) => d.column === "reading");
  const readings = useDesk((d) => d.judged?.readings);
  const stale = useDesk((d) => d.inspecting);
  const chosen = useDesk((d) => d.reading);
  if (!shown || !readings) return null;
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      preserveAspectRatio="none"
      className={`pointer-events-none absolute inset-0 h-full w-full ${stale ? "opacity-30" : ""}`}
      role="group"
      aria-label="Readings on the frame"
    >
      {readings
        .filter((r) => r.path.length && (isOpen(r) || r.key === chosen))
        .map((r) => (
          <Mark key={r.key} reading={r} chosen={r.key === chosen} />
        ))}
    </svg>
  );
}

function Mark({ reading: r, chosen }: { reading: Reading; chosen: boolean }) {
  const points = r.path.map(([x, y]) => [x! * WIDE, y! * HIGH] as const);
  const colour = r.verdict === "fault" ? "stroke-fault" : "stroke-lamp";
  const [x, y] = points[0]!;
  return (
    <g
      className={`pointer-events-auto cursor-pointer fill-none ${r.verdict === "well" ? "stroke-calm" : colour}`}
      onClick={() => take(r.key)}
    >
      <title>{`${r.name}: ${r.word}`}</title>
      {points.length === 1 ? (
        <circle cx={x} cy={y} r={chosen ? 16 : 11} strokeWidth={3} />
      ) : (
        <>
          <path d={pathOf(points)} stroke="transparent" strokeWidth={26} />
          <path
            d={pathOf(points)}
            strokeWidth={chosen ? 6 : 3}
            strokeDasharray={
              r.verdict === "fault" ? "16 12" : r.verdict === "mind" ? "3 9" : undefined
            }
            strokeLinecap="round"
          />
        </>
      )}
    </g>
  );
}

/** A line along the places; where the next is far off, it begins anew. */
export function pathOf(points: readonly (readonly [number, number])[]) {
  return points
    .map(([x, y], k) => {
      const before = points[k - 1];
      const apart = before ? Math.hypot(x - before[0], y - before[1]) : Infinity;
      const far = points.length > 2 && apart > 60;
      return `${k === 0 || far ? "M" : "L"}${x.toFixed(0)} ${y.toFixed(0)}`;
    })
    .join("");
}
