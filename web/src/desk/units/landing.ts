/** Where the chosen unit's beam lands, and putting it somewhere. */
import { useEffect } from "react";
import { useShallow } from "zustand/react/shallow";
import {
  api,
  got,
  type Document,
  type Grip,
  type Landing,
  type Point,
  type Schemas,
  type Unit,
} from "../../app/api";
import { usePreferences } from "../../app/preferences";
import { halfWay, isAt } from "../place/aiming";
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

const round = (p: Point): Point => p.map((c) => Math.round(c * 1e4) / 1e4) as Point;

/** Whether a piece of grip mirrors a beam on as a beam. */
export const throwsBeams = ({ kind }: Grip) => kind === "mirror" || kind === "reflector";

/** The mirror that a unit is aimed at and by which it is thrown, if there is one. */
export const throwerOf = ({ grip }: Document, unit: Unit) =>
  grip.find((g) => throwsBeams(g) && isAt(unit.aim, g.position));

/**
 * Turn what is in hand so that its patch lies at a place: a unit, a mirror that the unit lights, or
 * the one by which it is thrown.
 */
export function putPatch(target: Point) {
  const { draft, panel, chosen, chosenGrip } = readDesk();
  const unit = draft?.units.find((u) => u.id === chosen);
  if (!draft || !unit) return;
  const inHand = draft.grip.find((g) => g.id === chosenGrip);
  const glass = panel === "grip" && inHand ? inHand : throwerOf(draft, unit);
  if (glass) {
    // Straight behind it, as the lamp sees it, no turn throws the beam.
    const aim = halfWay(glass.position, unit.position, target);
    if (aim)
      act(
        withGrip(glass.id, () => ({ aim })),
        `${glass.name} turned: ${unit.name}'s patch put there`,
      );
    else
      setDesk({ fault: { text: `${glass.name} throws nothing straight on behind it.`, path: "" } });
  } else
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
