import { useState } from "react";
import type { Constants } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { choosePiece, mayEdit, useDesk } from "../store";
import { bringPiece } from "./bringing";
import { ModelSheet } from "./models/ModelSheet";
import { PieceInHand } from "./PieceInHand";

const NONE = "-";

/** Tables, chairs, shelves and the like: brought in, placed, resized, painted, stacked. */
export function FurniturePanel({ constants }: { constants: Constants }) {
  const furniture = useDesk((d) => d.draft!.furniture);
  const chosen = useDesk((d) => d.chosenPiece);
  const editable = useDesk(mayEdit);
  const item = furniture.find((f) => f.id === chosen);
  const full = furniture.length >= 60;
  const [models, setModels] = useState(false);
  return (
    <div className="grid gap-2">
      <div className="grid grid-cols-2 gap-1.5">
        <Choice
          label="Piece in hand"
          value={item?.id ?? NONE}
          options={[
            ...(item ? [] : [{ value: NONE, label: furniture.length ? "choose…" : "none yet" }]),
            ...furniture.map((f) => ({
              value: f.id,
              label: f.name,
              note: f.locked ? "locked" : undefined,
            })),
          ]}
          onChange={(id) => id !== NONE && choosePiece(id)}
        />
        <Choice
          label="Bring in furniture"
          value={NONE}
          disabled={!editable || full}
          options={[
            { value: NONE, label: full ? "60 pieces: no more" : "a piece…" },
            ...constants.pieces.map((p) => ({ value: p.key, label: p.name, note: p.group })),
          ]}
          onChange={(key) => {
            const kind = constants.pieces.find((p) => p.key === key);
            if (kind) bringPiece(kind, constants.heads);
          }}
        />
      </div>
      <Button className="justify-self-end" onClick={() => setModels(true)}>
        Scans and models…
      </Button>
      {models && <ModelSheet close={() => setModels(false)} />}
      {item ? (
        <PieceInHand key={item.id} item={item} constants={constants} disabled={!editable} />
      ) : (
        <p className="py-2 text-quiet">
          {furniture.length
            ? "Press a piece on the plan, or choose one here."
            : "The place is empty. Bring a piece in: it comes to stand where the lens sees it."}
        </p>
      )}
    </div>
  );
}
