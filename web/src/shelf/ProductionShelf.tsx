import { Menu, MenuButton, MenuItems } from "@headlessui/react";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, type Production } from "../app/api";
import { AskName, Confirm } from "../parts/Ask";
import { Button } from "../parts/Button";
import { Item } from "../parts/Item";
import { Members } from "./Members";
import { SceneRow } from "./SceneRow";
import { useShelfChange } from "./changes";

type Open = "scene" | "rename" | "members" | "delete" | null;

/** What a production keeps besides its scenes. */
const ROOMS = [
  ["trials", "Trials"],
  ["stills", "Stills"],
  ["kit", "Kit"],
  ["days", "Days"],
] as const;

export function ProductionShelf({ production }: { production: Production }) {
  const [open, setOpen] = useState<Open>(null);
  const change = useShelfChange();
  const navigate = useNavigate();
  const path = { params: { path: { pk: production.id } } };
  const mayEdit = production.role !== "viewer";
  const close = () => setOpen(null);
  return (
    <section aria-label={production.title} className="mb-8">
      <div className="mb-2 flex items-center gap-3">
        <h2 className="font-serif text-2xl">{production.title}</h2>
        <span className="text-quiet">
          {production.role}
          {production.members.length > 1 && ` · ${production.members.length} people`}
        </span>
        <span className="flex-1" />
        {ROOMS.map(([room, name]) => (
          <Link
            key={room}
            to={`/productions/${production.id}/${room}`}
            className="inline-flex min-h-10 items-center rounded px-3 hover:bg-raised"
          >
            {name}
          </Link>
        ))}
        {mayEdit && <Button onClick={() => setOpen("scene")}>New scene</Button>}
        <Menu>
          <MenuButton as={Button} look="bare" aria-label={`More about ${production.title}`}>
            ⋯
          </MenuButton>
          <MenuItems
            anchor="bottom end"
            className="z-20 min-w-48 rounded border border-line bg-panel py-1 shadow-xl"
          >
            <Item onClick={() => setOpen("members")}>People</Item>
            {mayEdit && <Item onClick={() => setOpen("rename")}>Rename</Item>}
            {production.role === "owner" && <Item onClick={() => setOpen("delete")}>Delete</Item>}
          </MenuItems>
        </Menu>
      </div>
      {production.scenes.length === 0 && (
        <p className="rounded border border-dashed border-line p-6 text-quiet">
          No scenes yet{mayEdit && ": a scene holds the set-ups that must cut together"}.
        </p>
      )}
      {production.scenes.map((scene) => (
        <SceneRow
          key={scene.id}
          scene={scene}
          scenes={production.scenes}
          mayEdit={mayEdit}
          open={(id) => void navigate(`/setups/${id}`)}
        />
      ))}
      {open === "scene" && (
        <AskName
          title="New scene"
          label="Title"
          action="Add it"
          close={close}
          done={(title) =>
            change(api.POST("/api/productions/{pk}/scenes", { ...path, body: { title } }))
          }
        />
      )}
      {open === "rename" && (
        <AskName
          title="Rename production"
          label="Title"
          action="Rename"
          start={production.title}
          close={close}
          done={(title) => change(api.PATCH("/api/productions/{pk}", { ...path, body: { title } }))}
        />
      )}
      {open === "members" && <Members production={production} close={close} />}
      {open === "delete" && (
        <Confirm
          title={`Delete “${production.title}”?`}
          action="Delete for good"
          close={close}
          done={() => change(api.DELETE("/api/productions/{pk}", path))}
        >
          Its scenes, set-ups and all their revisions go with it. This cannot be undone.
        </Confirm>
      )}
    </section>
  );
}
