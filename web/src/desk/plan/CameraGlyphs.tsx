import type { PointerEvent } from "react";
import type { Camera, Look, Point } from "../../app/api";
import { through } from "../place/people";
import { act, setDesk } from "../store";
import type { PlanScale } from "./planScale";

/** How far the lens is from the face, and the face from what is behind it. */
export function cameraWords(look: Look, length: (m: number) => string) {
  const { behind } = look;
  return behind
    ? `Camera: behind the face ${length(behind.distance)} to ${behind.name}, a point there is ${(100 * behind.blur).toFixed(1)} % of the frame wide`
    : "Camera: behind the face there is only sky";
}

/** The camera that is looked through, and what it sees. */
export function CameraGlyph({
  scale,
  at,
  aim,
  spread,
  onPointerDown,
}: {
  scale: PlanScale;
  at: Point;
  aim: Point;
  spread: number;
  onPointerDown: (e: PointerEvent<SVGGElement>) => void;
}) {
  const [x, y] = scale.toScreen(at),
    [ax, ay] = scale.toScreen(aim);
  const turn = (Math.atan2(ay - y, ax - x) * 180) / Math.PI + 90;
  return (
    <g
      transform={`translate(${x} ${y}) rotate(${turn})`}
      onPointerDown={onPointerDown}
      className="cursor-grab"
      role="button"
      tabIndex={0}
      aria-label="Camera on the plan"
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") setDesk({ panel: "camera" });
      }}
    >
      <circle r="20" fill="transparent" />
      <path
        d={`M0 0L${-900 * spread} -900M0 0L${900 * spread} -900`}
        className="stroke-line"
        pointerEvents="none"
      />
      <path
        d="M-9 0h18v11h-18zM0 0l-5 -7h10z"
        className="fill-ink stroke-paper"
        strokeWidth="1.5"
      />
    </g>
  );
}

/** Another camera of the set-up, and what it sees; a press looks through it. */
export function OtherCamera({
  camera,
  spread,
  scale,
}: {
  camera: Camera;
  spread: number;
  scale: PlanScale;
}) {
  const [x, y] = scale.toScreen(camera.position),
    [ax, ay] = scale.toScreen(camera.aim);
  const turn = (Math.atan2(ay - y, ax - x) * 180) / Math.PI + 90,
    look = () => act(through(camera.id), `Through ${camera.name}`);
  return (
    <g
      transform={`translate(${x} ${y}) rotate(${turn})`}
      className="cursor-pointer opacity-60"
      role="button"
      tabIndex={0}
      aria-label={`Look through ${camera.name}`}
      onClick={look}
      onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && look()}
    >
      <circle r="20" fill="transparent" />
      <path
        d={`M0 0L${-900 * spread} -900M0 0L${900 * spread} -900`}
        className="stroke-line"
        strokeDasharray="3 6"
        pointerEvents="none"
      />
      <path d="M-7 0h14v9h-14zM0 0l-4 -6h8z" className="fill-ink stroke-quiet" />
      <title>{camera.name}</title>
    </g>
  );
}

/** How many times its own length the line through the eyes and what they rest on goes on. */
const FAR = 40;

/** Where the eyes rest. */
export function Eyeline({ face, to, scale }: { face: Point; to: Point; scale: PlanScale }) {
  const [x, y] = scale.toScreen(face),
    [ex, ey] = scale.toScreen(to);
  return (
    <g pointerEvents="none" role="img" aria-label="Eyeline and the line not to be crossed">
      <line
        x1={x + FAR * (x - ex)}
        y1={y + FAR * (y - ey)}
        x2={ex + FAR * (ex - x)}
        y2={ey + FAR * (ey - y)}
        className="stroke-paper"
        strokeDasharray="1 7"
        opacity={0.45}
      />
      <line
        x1={x}
        y1={y}
        x2={ex}
        y2={ey}
        className="stroke-paper"
        strokeDasharray="2 5"
        opacity={0.8}
      />
      <path d={`M${ex - 7} ${ey}q7 -7 14 0q-7 7 -14 0z`} className="fill-ink stroke-paper" />
      <circle cx={ex} cy={ey} r="1.8" className="fill-paper" />
    </g>
  );
}
