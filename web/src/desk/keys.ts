import { useEffect } from "react";
import { toggleOn, unitKey, finishNudge } from "./units/gestures";
import { redo, undo } from "./session/session";
import { strike } from "./units/rigging";
import { gripKey, strikeGrip } from "./grip/gripping";
import { pieceKey, strikePiece } from "./place/furnishing";
import { freezeWhenWhole } from "./compare/frozen";
import { usePreferences } from "../app/preferences";
import { choose, mayEdit, readDesk, setDesk } from "./store";

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.matches(
    "input, textarea, [role=slider], [role=option], [role=listbox], [role=menu], [role=menuitem]",
  ) ||
    !!target.closest("[role=dialog]"));

/** Keys of the whole desk; fields, lists and dialogs keep their own. */
export function useDeskKeys() {
  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (typing(event.target) || event.altKey || event.defaultPrevented) return;
      const desk = readDesk();
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      if (key === "z" && mayEdit(desk)) {
        event.preventDefault();
        finishNudge();
        return event.shiftKey ? redo() : undo();
      }
      if (event.ctrlKey || event.metaKey) return;
      const piece =
        desk.panel === "grip" ? desk.draft?.grip.find((g) => g.id === desk.chosenGrip) : undefined;
      if (piece && mayEdit(desk)) {
        if (key === "Delete") return strikeGrip(piece.id);
        if (gripKey(piece, event)) return event.preventDefault();
      }
      const item =
        desk.panel === "room" && desk.place === "furniture"
          ? desk.draft?.furniture.find((f) => f.id === desk.chosenPiece)
          : undefined;
      if (item && mayEdit(desk)) {
        if (key === "Delete") return strikePiece(item.id);
        if (pieceKey(item, event)) return event.preventDefault();
      }
      const unit = desk.draft?.units.find((u) => u.id === desk.chosen);
      const at = Number(key);
      if (at >= 1 && at <= 9) {
        const picked = desk.draft?.units[at - 1];
        if (picked) choose(picked.id);
      } else if (key === "?")
        document.querySelector<HTMLElement>("[aria-label='Keyboard help']")?.click();
      else if (key === "f") freezeWhenWhole();
      else if (key === "c")
        document.querySelector<HTMLElement>("[aria-label='Compare frames']")?.click();
      else if (key === "l") usePreferences.setState(({ parts }) => ({ parts: !parts }));
      else if (key === "o") setDesk({ column: desk.column === "order" ? "units" : "order" });
      else if (key === "p")
        usePreferences.setState(({ plan }) => ({ plan: plan === "rings" ? "place" : "rings" }));
      else if (key === "r") setDesk({ column: desk.column === "reading" ? "units" : "reading" });
      else if (key === "i")
        usePreferences.setState(({ instruments }) => ({ instruments: !instruments }));
      else if (key === "v")
        usePreferences.setState(({ picture }) => ({
          picture: picture === "monitor" ? "bands" : picture === "bands" ? "recorded" : "monitor",
        }));
      else if (unit && key === "a") setDesk({ solo: desk.solo === unit.id ? null : unit.id });
      else if (unit && mayEdit(desk) && key === "x") toggleOn(unit.id);
      else if (unit && mayEdit(desk) && key === "Delete") strike(unit.id);
      else if (unit && mayEdit(desk) && unitKey(unit.id, unit.name, event)) event.preventDefault();
    }
    addEventListener("keydown", press);
    // A page that is left half a second after a key: the gesture ends now.
    addEventListener("pagehide", finishNudge);
    return () => {
      removeEventListener("keydown", press);
      removeEventListener("pagehide", finishNudge);
      finishNudge();
    };
  }, []);
}
