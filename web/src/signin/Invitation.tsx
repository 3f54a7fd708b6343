import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { useNavigate, useParams } from "react-router";
import { api, got, type Problem, type Schemas } from "../app/api";
import { useSession } from "../app/session";
import { Blank } from "../parts/Blank";
import { Button } from "../parts/Button";
import { TextField } from "../parts/TextField";

/** Somebody followed an invitation: they join as who they are, or as somebody new. */
export function Invitation() {
  const token = useParams().token!,
    path = { token };
  const session = useSession().data;
  const queries = useQueryClient(),
    navigate = useNavigate();
  const invited = useQuery({
    queryKey: ["invitation", token],
    queryFn: () =>
      got<Schemas["InvitedOut"]>(api.GET("/api/invitations/{token}", { params: { path } })),
  });
  const [username, setUsername] = useState(""),
    [password, setPassword] = useState("");
  const [fault, setFault] = useState<Problem | null>(null),
    [busy, setBusy] = useState(false);
  if (invited.isError) return <Blank>{invited.error.message}</Blank>;
  if (!invited.data || !session) return <Blank>Reading the invitation…</Blank>;
  const known = session.username !== null;
  async function join(event: FormEvent) {
    event.preventDefault();
    setBusy(true);
    setFault(null);
    try {
      const body = known ? {} : { username, password };
      await api.POST("/api/invitations/{token}", { params: { path }, body });
      await queries.invalidateQueries();
      void navigate("/");
    } catch (error) {
      setFault(error as Problem);
      setBusy(false);
    }
  }
  const at = (place: string) => (fault?.path === place ? fault.message : undefined);
  const { by, production, role } = invited.data;
  return (
    <main className="grid h-full place-items-center p-6">
      <form
        onSubmit={(event) => void join(event)}
        className="grid w-full max-w-sm gap-4 rounded-lg border border-line bg-panel p-7"
      >
        <h1 className="font-serif text-2xl text-lamp italic">{production}</h1>
        <p className="text-quiet">
          {by} asks you to join as {role}.
        </p>
        {known ? (
          <p>You are signed in as {session.username}.</p>
        ) : (
          <>
            <TextField
              label="Choose a name"
              value={username}
              onChange={setUsername}
              autoComplete="username"
              fault={at("username")}
              autoFocus
              required
            />
            <TextField
              label="Choose a password"
              type="password"
              value={password}
              onChange={setPassword}
              autoComplete="new-password"
              fault={at("password")}
              required
            />
          </>
        )}
        {fault && !fault.path && (
          <p role="alert" className="text-fault">
            {fault.message}
          </p>
        )}
        <Button look="lamp" type="submit" disabled={busy}>
          Join
        </Button>
      </form>
    </main>
  );
}
