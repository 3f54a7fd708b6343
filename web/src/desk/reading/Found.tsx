import { Button } from "../../parts/Button";
import { setDesk, useDesk } from "../store";
import { dashOf, type Reading } from "./reading";

/** How a reading was found: a press draws it on the frame, and here stand the lines' words. */
export function Found({ reading: r }: { reading: Reading }) {
  const drawn = useDesk((d) => d.drawn);
  return (
    <>
      <Button look="bare" pressed={drawn} onClick={() => setDesk({ drawn: !drawn })}>
        {drawn ? "Take the lines off" : "Draw how it was found"}
      </Button>
      {drawn && (
        <ul aria-label="How it was found" className="grid gap-1">
          {r.drawn.map(({ words }, k) => (
            <li key={words} className="flex items-center gap-2">
              <svg width="34" height="6" viewBox="0 0 68 12" aria-hidden className="shrink-0">
                <path
                  d="M4 6H64"
                  className="stroke-paper"
                  strokeWidth="5"
                  strokeLinecap="round"
                  strokeDasharray={dashOf(k)}
                />
              </svg>
              <span>{words}</span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
