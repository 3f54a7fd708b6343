import { useEffect } from "react";
import { holdAtFrame } from "./marking";
import { setDesk, useDesk } from "../store";
import { putPatchAtFrame } from "../units/landing";

/** The set-up's own marks in the frame, each with how far from the camera's stop it is. */
export function OwnMarks() {
  const look = useDesk((d) => d.look);
  const shown = useDesk((d) => d.panel === "meter" && d.meter === "marks");
  if (!look || !shown) return null;
  return look.readings.marks
    .filter((mark) => mark.id.startsWith("mark:") && look.pins[mark.id])
    .map((mark) => {
      const [x, y] = look.pins[mark.id]!;
      return (
        <div
          key={mark.id}
          aria-hidden
          className="pointer-events-none absolute text-xs text-paper"
          style={{ left: `${x * 100}%`, top: `${y * 100}%` }}
        >
          <span className="absolute -top-1 -left-1 size-2 rotate-45 border border-lamp" />
          <span className="absolute -top-2 left-2 rounded bg-ink/65 px-1 whitespace-nowrap">
            {mark.against_words || "dark"}
          </span>
        </div>
      );
    });
}

/** Takes the next press on the frame as the place of a mark. */
export function Pointing() {
  const pointing = useDesk((d) => d.pointing);
  useEffect(() => {
    if (!pointing) return;
    const leave = (event: KeyboardEvent) => {
      if (event.key === "Escape") setDesk({ pointing: false });
    };
    window.addEventListener("keydown", leave);
    return () => window.removeEventListener("keydown", leave);
  }, [pointing]);
  if (!pointing) return null;
  return (
    <button
      type="button"
      aria-label={pointing === "patch" ? "Put the patch here" : "Hold the meter here"}
      className="absolute inset-0 cursor-crosshair"
      onClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        // Pressed by key there is no pointer: the middle of the frame is meant.
        const byKey = event.detail === 0;
        const x = byKey ? 0.5 : (event.clientX - box.left) / box.width,
          y = byKey ? 0.5 : (event.clientY - box.top) / box.height;
        void (pointing === "patch" ? putPatchAtFrame(x, y) : holdAtFrame(x, y));
      }}
    />
  );
}
