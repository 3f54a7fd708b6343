import { useDesk } from "../store";
import { dashOf, isOpen, take, type Reading } from "./reading";

const WIDE = 1600,
  HIGH = 900;

/** What is read, on the frame: quiet lines along what is in the way; all of the one in hand. */
export function ReadingMarks() {
  const shown = useDesk((d) => d.column === "reading");
  const readings = useDesk((d) => d.judged?.readings);
  const stale = useDesk((d) => d.inspecting);
  const chosen = useDesk((d) => d.reading);
  const drawn = useDesk((d) => d.drawn);
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
      {drawn &&
        readings.filter((r) => r.key === chosen).map((r) => <HowFound key={r.key} reading={r} />)}
    </svg>
  );
}

/** The lines that show how a reading was found, on a dark rim that parts them from the frame. */
function HowFound({ reading: r }: { reading: Reading }) {
  return (
    <g className="fill-none" role="img" aria-label={`How ${r.name} was found`}>
      {r.drawn.map(({ words, path }, k) => {
        const points = path.map(([x, y]) => [x! * WIDE, y! * HIGH] as const);
        const ring = path.length > 3 && String(path[0]) === String(path[path.length - 1]);
        const d = ring ? `M${points.map((at) => at.join(" ")).join("L")}Z` : pathOf(points);
        const [x, y] = path[path.length - 1]!;
        return (
          <g key={words} strokeLinecap="round">
            <path d={d} className="stroke-ink" strokeWidth={8} strokeOpacity={0.7} />
            <path d={d} className="stroke-paper" strokeWidth={4} strokeDasharray={dashOf(k)} />
            {path.length === 2 && (
              <circle cx={x! * WIDE} cy={y! * HIGH} r={7} className="fill-paper stroke-ink" />
            )}
          </g>
        );
      })}
    </g>
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
