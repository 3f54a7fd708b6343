import { Menu, MenuButton, MenuItems } from "@headlessui/react";
import { useRef, useState } from "react";
import { api, got, importSetup, type Schemas, type SetupRecord } from "../app/api";
import { AskName, Confirm } from "../parts/Ask";
import { Button } from "../parts/Button";
import { Item } from "../parts/Item";
import { SetupCard } from "./SetupCard";
import { useShelfChange } from "./changes";

type Props = {
  scene: Schemas["SceneOut"];
  /** All scenes of the production, in order. */
  scenes: Schemas["SceneOut"][];
  mayEdit: boolean;
  open: (setup: number) => void;
};

/** A scene: its set-ups in order. */
export function SceneRow({ scene, scenes, mayEdit, open }: Props) {
  const at = scenes.findIndex((s) => s.id === scene.id);
  const change = useShelfChange();
  const file = useRef<HTMLInputElement>(null);
  const [asking, setAsking] = useState<"setup" | "rename" | "delete" | null>(null);
  const [fault, setFault] = useState("");
  const path = { params: { path: { pk: scene.id } } };
  const close = () => setAsking(null);
  const place = (before: number | null) =>
    change(api.PUT("/api/scenes/{pk}/place", { ...path, body: { before } }));
  async function bring(picked: File | undefined) {
    if (!picked) return;
    setFault("");
    try {
      await change(importSetup(scene.id, picked));
    } catch (error) {
      const { message, path: place } = error as Error & { path?: string };
      setFault(`${picked.name} was not brought in. ${place ? `${place}: ` : ""}${message}`);
    }
  }
  return (
    <div className="mb-4 rounded-lg border border-line bg-panel p-3">
      <div className="mb-2 flex items-center gap-2">
        <h3 className="flex-1 text-base">{scene.title}</h3>
        {mayEdit && <Button onClick={() => setAsking("setup")}>New set-up</Button>}
        {mayEdit && (
          <Menu>
            <MenuButton as={Button} look="bare" aria-label={`More about ${scene.title}`}>
              ⋯
            </MenuButton>
            <MenuItems
              anchor="bottom end"
              className="z-20 min-w-48 rounded border border-line bg-panel py-1 shadow-xl"
            >
              <Item onClick={() => file.current?.click()}>Bring in a file…</Item>
              <Item onClick={() => setAsking("rename")}>Rename</Item>
              <Item onClick={() => void change(api.POST("/api/scenes/{pk}/duplicate", path))}>
                Duplicate
              </Item>
              {at > 0 && <Item onClick={() => void place(scenes[at - 1]!.id)}>Move up</Item>}
              {at < scenes.length - 1 && (
                <Item onClick={() => void place(scenes[at + 2]?.id ?? null)}>Move down</Item>
              )}
              <Item onClick={() => setAsking("delete")}>Delete</Item>
            </MenuItems>
          </Menu>
        )}
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          className="hidden"
          aria-label={`Set-up file for ${scene.title}`}
          onChange={(e) => {
            void bring(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
      </div>
      {fault && (
        <p role="alert" className="mb-2 text-fault">
          {fault}
        </p>
      )}
      {scene.setups.length === 0 && <p className="text-quiet">No set-ups yet.</p>}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(240px,1fr))] gap-3">
        {scene.setups.map((setup) => (
          <SetupCard
            key={setup.id}
            setup={setup}
            order={scene.setups.map((s) => s.id)}
            scene={scene}
            scenes={scenes}
            mayEdit={mayEdit}
          />
        ))}
      </ul>
      {asking === "setup" && (
        <AskName
          title="New set-up"
          label="Title"
          action="Open the desk"
          close={close}
          done={async (title) =>
            open(
              (
                await change(
                  got<SetupRecord>(
                    api.POST("/api/scenes/{pk}/setups", { ...path, body: { title } }),
                  ),
                )
              ).id,
            )
          }
        />
      )}
      {asking === "rename" && (
        <AskName
          title="Rename scene"
          label="Title"
          action="Rename"
          start={scene.title}
          close={close}
          done={(title) => change(api.PATCH("/api/scenes/{pk}", { ...path, body: { title } }))}
        />
      )}
      {asking === "delete" && (
        <Confirm
          title={`Delete “${scene.title}”?`}
          action="Delete for good"
          close={close}
          done={() => change(api.DELETE("/api/scenes/{pk}", path))}
        >
          Its {scene.setups.length} set-ups and all their revisions go with it. This cannot be
          undone.
        </Confirm>
      )}
    </div>
  );
}
