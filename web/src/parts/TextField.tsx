import { useId, type InputHTMLAttributes } from "react";

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, "onChange"> & {
  label: string;
  value: string;
  onChange: (text: string) => void;
  fault?: string;
};

/** A labelled line of text with its fault beside it. */
export function TextField({ label, onChange, fault, ...rest }: Props) {
  const id = useId();
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="text-quiet">
        {label}
      </label>
      <input
        id={id}
        aria-invalid={!!fault}
        aria-describedby={fault ? `${id}-fault` : undefined}
        className={`h-10 rounded border bg-ink px-3 ${fault ? "border-fault" : "border-line"}`}
        onChange={(e) => onChange(e.target.value)}
        {...rest}
      />
      {fault && (
        <p id={`${id}-fault`} role="alert" className="text-fault">
          {fault}
        </p>
      )}
    </div>
  );
}
