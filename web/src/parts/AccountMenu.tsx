import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useState, type FormEvent } from "react";
import { Problem } from "../app/api";
import { useChangePassword, useSession, useSignOut } from "../app/session";
import { Button } from "./Button";
import { Sheet } from "./Sheet";
import { TextField } from "./TextField";

export function AccountMenu() {
  const session = useSession().data;
  const signOut = useSignOut();
  const [changing, setChanging] = useState(false);
  const row = "block min-h-10 w-full px-3 py-2.5 text-left data-focus:bg-raised";
  return (
    <>
      <Menu>
        <MenuButton as={Button} look="bare">
          {session?.username}
        </MenuButton>
        <MenuItems
          anchor="bottom end"
          className="z-20 min-w-48 rounded border border-line bg-panel py-1 shadow-xl"
        >
          <MenuItem>
            <button type="button" className={row} onClick={() => setChanging(true)}>
              Change password
            </button>
          </MenuItem>
          {session?.staff && (
            <MenuItem>
              <a className={row} href="/admin/">
                Records office
              </a>
            </MenuItem>
          )}
          <MenuItem>
            <button type="button" className={row} onClick={() => signOut.mutate()}>
              Sign out
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
      {changing && <ChangePassword close={() => setChanging(false)} />}
    </>
  );
}

function ChangePassword({ close }: { close: () => void }) {
  const change = useChangePassword();
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const fault = (at: string) =>
    change.error instanceof Problem && change.error.path === at ? change.error.message : undefined;
  function submit(event: FormEvent) {
    event.preventDefault();
    change.mutate({ old, new: fresh }, { onSuccess: close });
  }
  return (
    <Sheet open close={close} title="Change password">
      <form onSubmit={submit} className="grid gap-4">
        <TextField
          label="Present password"
          type="password"
          autoComplete="current-password"
          value={old}
          onChange={setOld}
          fault={fault("old")}
          autoFocus
        />
        <TextField
          label="New password"
          type="password"
          autoComplete="new-password"
          value={fresh}
          onChange={setFresh}
          fault={fault("new") ?? (fault("old") ? undefined : change.error?.message)}
        />
        <div className="flex justify-end gap-2">
          <Button look="bare" onClick={close}>
            Cancel
          </Button>
          <Button look="lamp" type="submit">
            Change it
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
