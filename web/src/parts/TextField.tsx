import { useId, type InputHTMLAttributes } from "react";

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, "onChange"> & {
  label: string;
  value: string;
  onChange: (text: string) => void;
  fault?: string;
  /** Among fields of numbers. */
  small?: boolean;
};

/** A labelled line of text with its fault beside it. */
export function TextField({ label, onChange, fault, small, ...rest }: Props) {
  const id = useId();
  return (
    <div className={`grid min-w-0 ${small ? "gap-0.5" : "gap-1"}`}>
      <label htmlFor={id} className={small ? "truncate text-xs text-quiet" : "text-quiet"}>
        {label}
      </label>
      <input
        id={id}
        aria-invalid={!!fault}
        aria-describedby={fault ? `${id}-fault` : undefined}
        className={`h-10 w-full min-w-0 rounded border bg-ink px-3 ${fault ? "border-fault" : "border-line"}`}
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
