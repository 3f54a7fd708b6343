import { Menu, MenuButton, MenuItems } from "@headlessui/react";
import { useState } from "react";
import { Link } from "react-router";
import { api, got, type Schemas, type SetupRecord } from "../app/api";
import { AskName, Confirm } from "../parts/Ask";
import { Button } from "../parts/Button";
import { Ending } from "../parts/Ending";
import { Choice } from "../parts/Choice";
import { Item } from "../parts/Item";
import { Picture } from "../parts/Picture";
import { Sheet } from "../parts/Sheet";
import { useShelfChange } from "./changes";

type Scene = Schemas["SceneOut"];
type Props = {
  setup: Schemas["SetupCard"];
  /** Ids of the set-ups of its scene, in order. */
  order: number[];
  scene: Scene;
  scenes: Scene[];
  mayEdit: boolean;
};

const counted = (units: number) =>
  units === 0 ? "no units yet" : units === 1 ? "1 unit" : `${units} units`;

/** One set-up on the shelf, with the light that is on it. */
export function SetupCard({ setup, order, scene, scenes, mayEdit }: Props) {
  const change = useShelfChange();
  const [asking, setAsking] = useState<"delete" | "rename" | "move" | null>(null);
  const path = { params: { path: { pk: setup.id } } },
    at = order.indexOf(setup.id);
  const close = () => setAsking(null);
  const place = (body: Schemas["PlaceIn"]) =>
    change(api.PUT("/api/setups/{pk}/place", { ...path, body }));
  async function rename(title: string) {
    const record = await got<SetupRecord>(api.GET("/api/setups/{pk}", path));
    const body = {
      document: { ...record.document, title },
      base_version: record.version,
      gesture: "renamed",
      key: "",
    };
    await change(api.PUT("/api/setups/{pk}", { ...path, body }));
  }
  return (
    <li className="relative overflow-hidden rounded border border-line bg-ink">
      <Link to={`/setups/${setup.id}`} className="block hover:bg-raised focus-visible:bg-raised">
        <Picture
          src={`/api/setups/${setup.id}/thumbnail.png?version=${setup.version}`}
          alt=""
          className="aspect-video w-full"
        />
        <span className="block truncate px-3 pt-2">{setup.title}</span>
        <span className="block px-3 pb-2 text-xs text-quiet">{counted(setup.units)}</span>
      </Link>
      <div className="absolute right-1 bottom-1">
        <Menu>
          <MenuButton as={Button} look="bare" aria-label={`More about ${setup.title}`}>
            ⋯
          </MenuButton>
          <MenuItems
            anchor="bottom end"
            className="z-20 min-w-40 rounded border border-line bg-panel py-1 shadow-xl"
          >
            {mayEdit && <Item onClick={() => setAsking("rename")}>Rename</Item>}
            {mayEdit && (
              <Item onClick={() => void change(api.POST("/api/setups/{pk}/duplicate", path))}>
                Duplicate
              </Item>
            )}
            {mayEdit && at > 0 && (
              <Item onClick={() => void place({ scene: scene.id, before: order[at - 1]! })}>
                Earlier in the scene
              </Item>
            )}
            {mayEdit && at < order.length - 1 && (
              <Item onClick={() => void place({ scene: scene.id, before: order[at + 2] ?? null })}>
                Later in the scene
              </Item>
            )}
            {mayEdit && scenes.length > 1 && (
              <Item onClick={() => setAsking("move")}>To another scene…</Item>
            )}
            <Item
              onClick={() => {
                window.location.href = `/api/setups/${setup.id}/export`;
              }}
            >
              Save as a file
            </Item>
            <Item
              onClick={() => {
                window.location.href = `/api/setups/${setup.id}/model`;
              }}
            >
              Save as a model (GLB)
            </Item>
            {mayEdit && <Item onClick={() => setAsking("delete")}>Delete</Item>}
          </MenuItems>
        </Menu>
      </div>
      {asking === "rename" && (
        <AskName
          title="Rename set-up"
          label="Title"
          action="Rename"
          start={setup.title}
          close={close}
          done={rename}
        />
      )}
      {asking === "move" && (
        <MoveTo
          scenes={scenes.filter((s) => s.id !== scene.id)}
          close={close}
          done={(to) => place({ scene: to })}
        />
      )}
      {asking === "delete" && (
        <Confirm
          title={`Delete “${setup.title}”?`}
          action="Delete for good"
          close={close}
          done={() => change(api.DELETE("/api/setups/{pk}", path))}
        >
          All its revisions go with it. Save it as a file first if you may want it back.
        </Confirm>
      )}
    </li>
  );
}

type MoveProps = { scenes: Scene[]; close: () => void; done: (to: number) => Promise<unknown> };

function MoveTo({ scenes, close, done }: MoveProps) {
  const [to, setTo] = useState(scenes[0]!.id);
  const [fault, setFault] = useState("");
  return (
    <Sheet open close={close} title="To another scene">
      <div className="grid gap-4">
        <Choice
          label="Scene"
          value={to}
          options={scenes.map((s) => ({ value: s.id, label: s.title }))}
          onChange={setTo}
        />
        <Ending
          fault={fault}
          close={close}
          action="Move it"
          done={() => void done(to).then(close, (e: Error) => setFault(e.message))}
        />
      </div>
    </Sheet>
  );
}
