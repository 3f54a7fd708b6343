import { Button } from "../parts/Button";
import { Sheet } from "../parts/Sheet";

const KEYS: [string, string][] = [
  ["1 … 9", "choose a unit"],
  ["← →", "round the face by 5° (Shift 1°)"],
  ["↑ ↓", "out or in by a third of a ring, ⅓ stop (Shift a quarter of that)"],
  ["Page up / down", "higher or lower by 10 cm (Shift 1 cm)"],
  [". ,", "dimmer up or down ⅓ stop"],
  ["X", "switch the unit off or on"],
  ["A", "see it alone, see all again"],
  ["Z / Shift Z", "undo / redo (with Ctrl too)"],
  ["[ ]", "turn the chosen grip by 5° (Shift 1°)"],
  ["I", "instruments beside the frame"],
  ["V", "the picture: monitor, bands of stops, as recorded"],
  ["F", "freeze this frame to compare with"],
  ["C", "compare with a frozen frame, a state or a set-up"],
  ["L", "each light's part, in small frames"],
  ["P", "the plan: rings about the subject, or the place with north up"],
  ["O", "the order of work, or the units"],
  ["R", "the picture read: outline, face, eyes; or the units"],
  ["Delete", "strike the unit or the chosen grip"],
  ["?", "this list"],
];

export function KeyHelp({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Sheet open={open} close={close} title="Keys">
      <dl className="grid grid-cols-[8rem_1fr] gap-x-4 gap-y-1">
        {KEYS.map(([key, what]) => [
          <dt key={key} className="text-lamp">
            {key}
          </dt>,
          <dd key={what} className="text-quiet">
            {what}
          </dd>,
        ])}
      </dl>
      <p className="mt-4 text-quiet">
        On the plan, Shift while dragging keeps the unit on its spoke, Alt on its ring. In number
        fields, arrows step and Enter takes.
      </p>
      <div className="mt-4 flex justify-end">
        <Button onClick={close} autoFocus>
          Done
        </Button>
      </div>
    </Sheet>
  );
}
