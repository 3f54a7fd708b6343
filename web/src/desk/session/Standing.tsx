import { useLine } from "./line";
import { mayEdit, useDesk } from "../store";

/** In a word: whether what the hand did is kept. */
export function Standing() {
  const kind = useDesk((d) => d.standing.kind),
    unsent = useDesk((d) => d.unsent);
  // A gesture that the hand has not ended yet is not kept either.
  const inHand = useDesk((d) => d.draft !== d.settled);
  const line = useLine((l) => l.line.state);
  const editable = useDesk(mayEdit);
  const [word, tone] = !editable
    ? ["you look, others light", "text-quiet"]
    : kind === "refused"
      ? ["not kept", "text-fault"]
      : kind === "conflict"
        ? ["somebody was quicker", "text-fault"]
        : unsent && line !== "up"
          ? [`${unsent} not sent yet`, "text-fault"]
          : line === "down"
            ? ["not connected", "text-fault"]
            : unsent || inHand
              ? ["keeping…", "text-quiet"]
              : ["kept", "text-quiet"];
  return (
    <span role="status" className={`truncate text-xs ${tone}`}>
      {word}
    </span>
  );
}
