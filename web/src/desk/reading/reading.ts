/** What the picture does: taken up, set aside as meant. */
import type { Judged } from "../../app/api";
import { act, readDesk, setDesk } from "../store";

export type Reading = Judged["readings"][number];

/** What is not as it is usually wanted, and nobody has said that it is meant. */
export const isOpen = (r: Reading) => r.verdict !== "well" && !r.meant;

/** How many there are to look at, in words. */
export function summary(readings: readonly Reading[]) {
  const faults = readings.filter((r) => isOpen(r) && r.verdict === "fault").length,
    minded = readings.filter((r) => isOpen(r) && r.verdict === "mind").length,
    meant = readings.filter((r) => r.meant).length;
  const parts = [
    faults && `${faults} in the way`,
    minded && `${minded} to look at`,
    meant && `${meant} meant so`,
  ].filter(Boolean);
  return parts.length ? `${parts.join(", ")}.` : "Nothing in the way.";
}

export const take = (key: string) =>
  setDesk({ reading: readDesk().reading === key ? null : key, drawn: false });

/** Dashes of the lines that show how a reading was found, in the frame and beside their words. */
export const DASHES = [undefined, "2 9", "14 9", "14 7 2 7"] as const;
export const dashOf = (at: number) => DASHES[at % DASHES.length];

export function meanIt(reading: Reading, reason: string) {
  if (!reason.trim()) return;
  act(
    (d) => ({
      ...d,
      meant: [
        ...(d.meant ?? []).filter((m) => m.reading !== reading.key),
        { reading: reading.key, reason: reason.trim() },
      ],
    }),
    `${reading.name} ${reading.word}: meant so`,
  );
}

export function unmeant(reading: Reading) {
  act(
    (d) => ({ ...d, meant: (d.meant ?? []).filter((m) => m.reading !== reading.key) }),
    `${reading.name}: no longer meant`,
  );
}
