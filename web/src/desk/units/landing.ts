/** Where the chosen unit's beam lands, and putting it somewhere. */
import { useEffect } from "react";
import { useShallow } from "zustand/react/shallow";
import { api, got, type Landing, type Point, type Schemas } from "../../app/api";
import { usePreferences } from "../../app/preferences";
import { report } from "../session/line";
import { act, readDesk, setDesk, useDesk, withGrip, withUnit } from "../store";

let asking = false,
  again = false;

/** Ask where the beam lands: one question in flight, the newest draft next. */
async function ask() {
  if (asking) {
    again = true;
    return;
  }
  const { record, draft, stored, chosen } = readDesk();
  if (!record || !draft || !draft.units.some((u) => u.id === chosen))
    return setDesk({ landing: null });
  asking = true;
  try {
    const landing = await got<Landing>(
      api.POST("/api/setups/{pk}/landing", {
        params: { path: { pk: record.id } },
        body: { document: draft === stored ? null : draft, unit: chosen!, step: "third" },
      }),
    );
    if (usePreferences.getState().landing) setDesk({ landing });
  } catch {
    // What is wrong with the draft the look says.
    setDesk({ landing: null });
  } finally {
    asking = false;
    if (again) {
      again = false;
      void ask();
    }
  }
}

/** Keep the outline with the hand while it is shown. */
export function useLanding() {
  const shown = usePreferences((p) => p.landing);
  const { draft, chosen } = useDesk(useShallow((d) => ({ draft: d.draft, chosen: d.chosen })));
  useEffect(() => {
    if (shown) void ask();
    else if (readDesk().landing) setDesk({ landing: null });
  }, [shown, draft, chosen]);
}

const unit3 = (v: Point): Point => {
  const long = Math.hypot(...v) || 1e-9;
  return v.map((c) => c / long) as Point;
};
const minus = (a: readonly number[], b: readonly number[]) => a.map((c, k) => c - b[k]!) as Point;
const round = (p: Point): Point => p.map((c) => Math.round(c * 1e4) / 1e4) as Point;

/** The place that a mirror's front must face to throw a lamp's light to a target. */
export function turnedTo(mirror: Point, lamp: Point, target: Point): Point {
  const to = unit3(minus(lamp, mirror)),
    on = unit3(minus(target, mirror));
  return round(mirror.map((c, k) => c + to[k]! + on[k]!) as Point);
}

/** Aim what is in hand so that its patch lies at a place: a unit, or a mirror it lights. */
export function putPatch(target: Point) {
  const { draft, panel, chosen, chosenGrip } = readDesk();
  const unit = draft?.units.find((u) => u.id === chosen);
  if (!draft || !unit) return;
  const glass = draft.grip.find((g) => g.id === chosenGrip);
  if (panel === "grip" && glass)
    act(
      withGrip(glass.id, () => ({
        aim: turnedTo(glass.position as Point, unit.position as Point, target),
      })),
      `${glass.name} turned: ${unit.name}'s patch put there`,
    );
  else
    act(
      withUnit(unit.id, () => ({ aim: round(target) })),
      `${unit.name} aimed there`,
    );
  setDesk({ pointing: false });
}

/** The same for a place of the frame. */
export async function putPatchAtFrame(x: number, y: number) {
  const { record, draft, stored } = readDesk();
  if (!record || !draft) return;
  try {
    const found = await got<Schemas["Pointed"]>(
      api.POST("/api/setups/{pk}/point", {
        params: { path: { pk: record.id } },
        body: { document: draft === stored ? null : draft, x, y },
      }),
    );
    putPatch(found.position as Point);
  } catch (error) {
    report(error as never);
  }
}
