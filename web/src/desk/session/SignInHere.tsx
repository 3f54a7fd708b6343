import { useState, type FormEvent } from "react";
import { currentUser, type Problem } from "../../app/api";
import { useLeave, useSignIn } from "../../app/session";
import { Button } from "../../parts/Button";
import { Sheet } from "../../parts/Sheet";
import { TextField } from "../../parts/TextField";
import { signedIn } from "./line";
import { useDesk } from "../store";

/** Nobody is signed in any more: sign in here, and what waits is sent. */
export function SignInHere() {
  const user = currentUser() ?? "",
    unsent = useDesk((d) => d.unsent);
  const [password, setPassword] = useState("");
  const signIn = useSignIn(),
    leave = useLeave();
  function submit(event: FormEvent) {
    event.preventDefault();
    signIn.mutate({ username: user, password }, { onSuccess: signedIn });
  }
  return (
    <Sheet open close={() => undefined} title="Sign in again">
      <form onSubmit={submit} className="grid gap-4">
        <p className="text-quiet">
          {user} is not signed in here any more.
          {unsent > 0 && ` ${unsent} edit${unsent > 1 ? "s wait" : " waits"} and will be sent.`}
        </p>
        <TextField
          label={`Password of ${user}`}
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={setPassword}
          fault={(signIn.error as Problem | null)?.message}
          autoFocus
        />
        <div className="flex justify-end gap-2">
          <Button look="bare" onClick={() => void leave()}>
            Leave; keep them here
          </Button>
          <Button look="lamp" type="submit" disabled={signIn.isPending}>
            Sign in
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
