/** Windows cut and bricked up. */
import type { Opening } from "../../app/api";
import { act, readDesk } from "../store";
import { wallsOf, type Wall } from "./walls";

const round = (v: number) => Math.round(v * 1e3) / 1e3;

/** Cut a window in the middle of a wall, or of the east one, of the usual size where that fits. */
export function cutWindow(wall?: Wall) {
  const room = readDesk().draft?.room;
  if (!room) return;
  const walls = wallsOf(room),
    own = wall ?? walls.find((w) => w.key === "east") ?? walls[0]!;
  act((d) => {
    const ids = new Set(d.openings.map((o) => o.id));
    let n = 1;
    while (ids.has(`w${n}`)) n++;
    const made: Opening = {
      id: `w${n}`,
      name: `Window ${n}`,
      wall: own.key,
      along: round(own.length / 2),
      up: round(Math.min(1.5, d.room.height / 2)),
      size: [
        round(Math.max(0.05, Math.min(1.2, own.length - 0.2))),
        round(Math.min(1.2, d.room.height - 0.4)),
      ],
      cover: "clear",
      blinds: false,
      slat_pitch: 0.1,
      slat_angle: 30,
    };
    return { ...d, openings: [...d.openings, made] };
  }, "window cut");
}
