import { useState, type FormEvent } from "react";
import { Navigate, useLocation } from "react-router";
import { useSession, useSignIn } from "../app/session";
import { Button } from "../parts/Button";
import { TextField } from "../parts/TextField";

/** The door: a lamp with its √2 rings, a name and a password. */
export function SignIn() {
  const session = useSession();
  const signIn = useSignIn();
  const from = (useLocation().state as { from?: string } | null)?.from ?? "/";
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  if (session.data?.username) return <Navigate to={from} replace />;
  function submit(event: FormEvent) {
    event.preventDefault();
    signIn.mutate({ username, password });
  }
  return (
    <main className="relative grid h-full place-items-center overflow-hidden p-6">
      <svg
        aria-hidden
        className="absolute inset-0 h-full w-full"
        viewBox="-640 -400 1280 800"
        preserveAspectRatio="xMidYMid slice"
      >
        <defs>
          <radialGradient id="pool">
            <stop offset="0" stopColor="#f0b04c" stopOpacity=".22" />
            <stop offset="1" stopColor="#f0b04c" stopOpacity="0" />
          </radialGradient>
        </defs>
        <circle r="520" fill="url(#pool)" />
        {[0, 1, 2, 3, 4, 5].map((k) => (
          <circle
            key={k}
            r={130 * 2 ** (k / 2)}
            fill="none"
            stroke="#31353f"
            strokeDasharray={k ? "2 7" : undefined}
          />
        ))}
      </svg>
      <form
        onSubmit={submit}
        className="relative grid w-full max-w-sm gap-4 rounded-lg border border-line bg-panel/95 p-7"
      >
        <div>
          <h1 className="font-serif text-3xl text-lamp italic">Inkwell Moth</h1>
          <p className="mt-1 text-quiet">A desk for lighting people: see it, meter it, keep it.</p>
        </div>
        <TextField
          label="Name"
          value={username}
          onChange={setUsername}
          autoComplete="username"
          autoFocus
          required
        />
        <TextField
          label="Password"
          type="password"
          value={password}
          onChange={setPassword}
          autoComplete="current-password"
          required
          fault={signIn.error?.message}
        />
        <Button look="lamp" type="submit" disabled={signIn.isPending}>
          Sign in
        </Button>
      </form>
    </main>
  );
}
