import { useState } from "react";
import { Link } from "react-router";
import { useShallow } from "zustand/react/shallow";
import { AccountMenu } from "../parts/AccountMenu";
import { Button } from "../parts/Button";
import { KeyHelp } from "./KeyHelp";
import { PreferencesMenu } from "./PreferencesMenu";
import { finishNudge } from "./units/gestures";
import { Standing } from "./session/Standing";
import { redo, undo } from "./session/session";
import { mayEdit, setDesk, useDesk } from "./store";
import { shutterWords } from "./camera/cameraWords";
import { ndWords, stopName } from "./camera/settings";

export function TopBar() {
  const { record, unsent, title, state, camera } = useDesk(
    useShallow((d) => ({
      record: d.record,
      unsent: d.unsent,
      title: d.draft!.title,
      state: d.draft!.states.find((s) => s.id === d.draft!.state)?.name,
      camera: d.draft!.cameras[0]!,
    })),
  );
  const editable = useDesk(mayEdit);
  const [help, setHelp] = useState(false);
  return (
    <header className="flex h-12 shrink-0 items-center gap-2 border-b border-line pr-2 pl-4">
      <Link
        to="/"
        className="font-serif text-lg text-lamp italic"
        aria-label="Inkwell Moth, to the shelf"
      >
        Inkwell Moth
      </Link>
      <nav aria-label="Place" className="min-w-0 flex-1 truncate pl-2 text-quiet">
        {record!.production.title}{" "}
        <span className="max-[1199px]:hidden">/ {record!.scene.title}</span> /{" "}
        <span className="text-paper">
          {title}
          {state && `, ${state}`}
        </span>
      </nav>
      <Standing />
      <Link
        to={`/setups/${record!.id}/history`}
        className="inline-flex h-10 items-center rounded px-2 text-xs text-quiet hover:bg-raised"
      >
        History
      </Link>
      {editable && (
        <>
          <Button
            look="bare"
            aria-label={`Undo ${record!.undo ?? ""}`}
            title={record!.undo ? `Undo: ${record!.undo}` : "Nothing to undo"}
            disabled={!record!.undo && !unsent}
            onClick={() => {
              finishNudge();
              undo();
            }}
          >
            <Turn />
          </Button>
          <Button
            look="bare"
            aria-label={`Redo ${record!.redo ?? ""}`}
            title={record!.redo ? `Redo: ${record!.redo}` : "Nothing to redo"}
            disabled={!record!.redo}
            onClick={() => redo()}
          >
            <Turn flip />
          </Button>
        </>
      )}
      <Button
        look="bare"
        className="gap-3 max-[1199px]:gap-2"
        aria-label="Camera settings"
        onClick={() => setDesk({ panel: "camera" })}
      >
        <b>{stopName(camera.t_stop)}</b>
        <span>
          EI <b>{camera.iso}</b>
        </span>
        <b>{shutterWords(camera)}</b>
        <span className="max-[1199px]:hidden">{camera.fps} fps</span>
        <span>{camera.white_balance} K</span>
        {camera.nd > 0 && <span>{ndWords(camera.nd)}</span>}
      </Button>
      <PreferencesMenu />
      <Button look="bare" aria-label="Keyboard help" onClick={() => setHelp(true)}>
        ?
      </Button>
      <AccountMenu />
      <KeyHelp open={help} close={() => setHelp(false)} />
    </header>
  );
}

function Turn({ flip }: { flip?: boolean }) {
  return (
    <svg
      aria-hidden
      width="18"
      height="18"
      viewBox="0 0 18 18"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.8"
      style={flip ? { transform: "scaleX(-1)" } : undefined}
    >
      <path d="M3 8c4-5 11-3 12 4M3 8l.6-5M3 8l5 .4" />
    </svg>
  );
}
