import { useDesk } from "../store";
import { wallBehind } from "./walls";

/** The wall that the picture has behind its subject. */
export function useWallBehind() {
  const room = useDesk((d) => d.draft?.room);
  const lens = useDesk((d) => d.draft?.cameras[0]?.position);
  const face = useDesk((d) => d.look?.anchor);
  return room && lens && face ? (wallBehind(room, face, lens)?.wall ?? null) : null;
}
