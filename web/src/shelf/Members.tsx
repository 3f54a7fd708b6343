import { useState } from "react";
import { api, got, type Production, type Schemas } from "../app/api";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { Sheet } from "../parts/Sheet";
import { TextField } from "../parts/TextField";
import { useShelfChange } from "./changes";

type Role = Schemas["MemberOut"]["role"];
const ROLES: { value: Role; label: string; note: string }[] = [
  { value: "owner", label: "owner", note: "decides who belongs" },
  { value: "editor", label: "editor", note: "lights" },
  { value: "viewer", label: "viewer", note: "looks" },
];

/** Who belongs to a production; owners change it. */
export function Members({ production, close }: { production: Production; close: () => void }) {
  const change = useShelfChange();
  const [username, setUsername] = useState("");
  const [role, setRole] = useState<Role>("editor");
  const [fault, setFault] = useState("");
  const owner = production.role === "owner";
  const pk = production.id;
  const run = (call: Promise<unknown>) => {
    setFault("");
    return change(call).catch((e: Error) => setFault(e.message));
  };
  const give = (name: string, as: Role) =>
    run(
      api.PUT("/api/productions/{pk}/members", {
        params: { path: { pk } },
        body: { username: name, role: as },
      }),
    );
  return (
    <Sheet open close={close} title="People">
      <ul className="grid gap-2">
        {production.members.map((m) => (
          <li key={m.username} className="flex items-center gap-2">
            <span className="flex-1">{m.username}</span>
            {owner ? (
              <>
                <div className="w-32">
                  <Choice
                    hideLabel
                    label={`Role of ${m.username}`}
                    value={m.role}
                    options={ROLES}
                    onChange={(as) => void give(m.username, as)}
                  />
                </div>
                <Button
                  look="bare"
                  aria-label={`Remove ${m.username}`}
                  onClick={() =>
                    void run(
                      api.DELETE("/api/productions/{pk}/members/{username}", {
                        params: { path: { pk, username: m.username } },
                      }),
                    )
                  }
                >
                  ✕
                </Button>
              </>
            ) : (
              <span className="text-quiet">{m.role}</span>
            )}
          </li>
        ))}
      </ul>
      {owner && (
        <form
          className="mt-4 flex items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            void give(username, role).then(() => setUsername(""));
          }}
        >
          <div className="flex-1">
            <TextField label="Add by name" value={username} onChange={setUsername} />
          </div>
          <div className="w-32">
            <Choice hideLabel label="Role" value={role} options={ROLES} onChange={setRole} />
          </div>
          <Button type="submit" disabled={!username}>
            Add
          </Button>
        </form>
      )}
      {owner && <Invite production={pk} role={role} />}
      {fault && (
        <p role="alert" className="mt-3 text-fault">
          {fault}
        </p>
      )}
      <div className="mt-5 flex justify-end">
        <Button onClick={close}>Done</Button>
      </div>
    </Sheet>
  );
}

/** A link for somebody who has no account yet: made here, handed over by whoever made it. */
function Invite({ production, role }: { production: number; role: Role }) {
  const [link, setLink] = useState(""),
    [fault, setFault] = useState("");
  async function make() {
    try {
      const { token } = await got<Schemas["InvitationOut"]>(
        api.POST("/api/productions/{pk}/invitations", {
          params: { path: { pk: production } },
          body: { role },
        }),
      );
      setLink(`${location.origin}/join/${token}`);
      setFault("");
    } catch (error) {
      setFault((error as Error).message);
    }
  }
  return (
    <div className="mt-4 grid gap-2 border-t border-line pt-4">
      <p className="text-quiet">
        Somebody without an account: hand over a link. It lets one person in as {role}, once, within
        two weeks.
      </p>
      {link ? (
        <TextField label="The link" value={link} onChange={() => undefined} readOnly />
      ) : (
        <Button onClick={() => void make()}>Make a link for one {role}</Button>
      )}
      {fault && (
        <p role="alert" className="text-fault">
          {fault}
        </p>
      )}
    </div>
  );
}
