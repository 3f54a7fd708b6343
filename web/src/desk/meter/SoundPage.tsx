import type { Point } from "../../app/api";
import { Button } from "../../parts/Button";
import { PlaceFields } from "../place/PlaceFields";
import { act, mayEdit, useDesk } from "../store";
import { frameOf } from "../units/gestures";

/** Where the microphone hangs, and which fans it hears. */
export function SoundPage() {
  const microphone = useDesk((d) => d.draft!.microphone);
  const readings = useDesk((d) => d.judged?.readings)?.filter((r) => r.kind === "sound");
  const editable = useDesk(mayEdit);
  const put = (to: Point | null, words: string) => act((d) => ({ ...d, microphone: to }), words);
  function overHead() {
    const frame = frameOf();
    if (!frame) return;
    const { face, lens } = frame,
      long = Math.hypot(lens[0] - face[0], lens[1] - face[1]) || 1,
      // An arm's length before the face and over it, as a boom holds it out of the frame.
      at = [0, 1].map((k) => +(face[k]! + (0.35 * (lens[k]! - face[k]!)) / long).toFixed(3));
    put([at[0]!, at[1]!, +(face[2] + 0.55).toFixed(3)], "microphone over the person");
  }
  return (
    <section aria-label="Sound" className="grid gap-2">
      {!microphone && (
        <p className="text-quiet">
          Hang the microphone, and the desk tells which fans it hears: by their class, by how far
          off they stand, by the walls between.
        </p>
      )}
      {microphone && (
        <div className="grid grid-cols-3 gap-2">
          <PlaceFields
            labels={["From west", "From south", "Over floor"]}
            place={microphone as Point}
            disabled={!editable}
            onChange={(to) => put(to, "microphone moved")}
          />
        </div>
      )}
      {editable && (
        <div className="grid grid-cols-2 gap-1.5">
          <Button onClick={overHead}>Over the person</Button>
          {microphone && (
            <Button look="bare" onClick={() => put(null, "microphone taken away")}>
              Take it away
            </Button>
          )}
        </div>
      )}
      {microphone && readings && (
        <ul aria-label="Fans at the microphone" className="grid gap-1 text-xs">
          {readings.length === 0 && <li className="text-quiet">No unit that is on runs a fan.</li>}
          {readings.map((r) => (
            <li key={r.key} className="border-t border-line pt-1">
              <b>{r.verdict === "well" ? "Quiet" : r.name}</b>: {r.word}, {r.words}.
            </li>
          ))}
        </ul>
      )}
      {microphone && (
        <p className="text-xs text-quiet">
          Levels are typical of a class of fan, not measured; listen before you roll.
        </p>
      )}
    </section>
  );
}
