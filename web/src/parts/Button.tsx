import type { ButtonHTMLAttributes } from "react";

const LOOK = {
  plain: "border border-line bg-panel hover:bg-raised",
  lamp: "bg-lamp font-semibold text-ink hover:brightness-110",
  bare: "hover:bg-raised",
  fault: "border border-fault text-fault hover:bg-raised",
};

type Props = ButtonHTMLAttributes<HTMLButtonElement> & {
  look?: keyof typeof LOOK;
  pressed?: boolean;
};

/** A button big enough for a finger. */
export function Button({ look = "plain", pressed, className = "", ...rest }: Props) {
  const state = pressed ? "bg-lamp! text-ink font-semibold" : "";
  return (
    <button
      type="button"
      aria-pressed={pressed}
      className={`inline-flex min-h-10 min-w-10 items-center justify-center gap-2 rounded px-3 transition-colors disabled:opacity-40 ${LOOK[look]} ${state} ${className}`}
      {...rest}
    />
  );
}
