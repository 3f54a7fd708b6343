import { useState, type FormEvent, type ReactNode } from "react";
import { Button } from "./Button";
import { Ending } from "./Ending";
import { Sheet } from "./Sheet";
import { TextField } from "./TextField";

type AskName = {
  title: string;
  label: string;
  action: string;
  start?: string;
  done: (text: string) => Promise<unknown>;
  close: () => void;
};

/** Ask for one line of text, say why it was refused, and keep what was typed. */
export function AskName({ title, label, action, start = "", done, close }: AskName) {
  const [text, setText] = useState(start);
  const [fault, setFault] = useState("");
  const [busy, setBusy] = useState(false);
  async function submit(event: FormEvent) {
    event.preventDefault();
    if (!text.trim()) return setFault("Give it a name.");
    setBusy(true);
    try {
      await done(text.trim());
      close();
    } catch (error) {
      setFault((error as Error).message);
      setBusy(false);
    }
  }
  return (
    <Sheet open close={close} title={title}>
      <form onSubmit={(e) => void submit(e)} className="grid gap-4">
        <TextField
          label={label}
          value={text}
          onChange={setText}
          fault={fault}
          autoFocus
          maxLength={80}
        />
        <Ending close={close} action={action} disabled={busy} />
      </form>
    </Sheet>
  );
}

type Confirm = {
  title: string;
  action: string;
  children: ReactNode;
  done: () => Promise<unknown>;
  close: () => void;
};

/** Ask before something is gone for good. */
export function Confirm({ title, action, children, done, close }: Confirm) {
  const [fault, setFault] = useState("");
  return (
    <Sheet open close={close} title={title}>
      <div className="grid gap-4">
        <div className="text-quiet">{children}</div>
        {fault && (
          <p role="alert" className="text-fault">
            {fault}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button look="bare" onClick={close} autoFocus>
            Keep it
          </Button>
          <Button
            look="fault"
            onClick={() => void done().then(close, (e: Error) => setFault(e.message))}
          >
            {action}
          </Button>
        </div>
      </div>
    </Sheet>
  );
}
