import { Button } from "./Button";

type Props = {
  /** What was refused, and why. */
  fault?: string;
  close: () => void;
  leave?: string;
  action: string;
  disabled?: boolean;
  /** What the press does; without it the form around is submitted. */
  done?: () => void;
};

/** The end of a dialog: what was refused, the way out, the way on. */
export function Ending({ fault, close, leave = "Cancel", action, disabled, done }: Props) {
  return (
    <>
      {fault && (
        <p role="alert" className="text-fault">
          {fault}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button look="bare" onClick={close}>
          {leave}
        </Button>
        <Button
          look="lamp"
          disabled={disabled}
          {...(done ? { onClick: done } : { type: "submit" as const })}
        >
          {action}
        </Button>
      </div>
    </>
  );
}
