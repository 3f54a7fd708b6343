import { useState } from "react";
import { api, got, type Grip, type Schemas } from "../../app/api";
import { Button } from "../../parts/Button";
import { act, readDesk, useDesk, withGrip } from "../store";

/** A reflector aimed from the sun: now, and what it has to be turned to as the sun goes on. */
export function SunAims({ piece, disabled }: { piece: Grip; disabled: boolean }) {
  const up = useDesk((d) => d.draft!.sky.on && !!d.draft!.sky.sun?.on);
  const [later, setLater] = useState<Schemas["SunAim"][]>([]),
    [fault, setFault] = useState("");
  if (!up) return null;
  async function aim() {
    setFault("");
    const { record, draft } = readDesk();
    try {
      const [now, ...rest] = await got<Schemas["SunAim"][]>(
        api.POST("/api/setups/{pk}/sun-aims", {
          params: { path: { pk: record!.id } },
          body: { document: draft, grip: piece.id },
        }),
      );
      act(
        withGrip(piece.id, () => ({ aim: now!.aim })),
        `${piece.name} aimed from the sun, ${now!.words}`,
      );
      setLater(rest);
    } catch (error) {
      setFault((error as Error).message);
    }
  }
  return (
    <div className="grid gap-1">
      <Button disabled={disabled} onClick={() => void aim()}>
        Aim it from the sun
      </Button>
      {fault && (
        <p role="alert" className="text-fault">
          {fault}
        </p>
      )}
      {later.length > 0 && (
        <details className="text-xs text-quiet">
          <summary className="min-h-8 cursor-pointer content-center">Turn it again</summary>
          <ul aria-label="Turn it again">
            {later.map((l) => (
              <li key={l.minute}>{l.words}</li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
