import { memo, useCallback, useEffect, useRef } from "react";
import {
  Label,
  Field,
  Listbox,
  ListboxButton,
  ListboxOption,
  ListboxOptions,
} from "@headlessui/react";

export type Option<T> = { value: T; label: string; note?: string };
type Props<T> = {
  label: string;
  value: T;
  options: Option<T>[];
  onChange: (value: T) => void;
  disabled?: boolean;
  hideLabel?: boolean;
};

/** A labelled list to choose one of. */
export function Choice<T extends string | number>({ onChange, ...shown }: Props<T>) {
  const latest = useRef(onChange);
  useEffect(() => {
    latest.current = onChange;
  });
  const take = useCallback((value: T) => latest.current(value), []);
  return (
    <Drawn
      {...(shown as Omit<Props<string | number>, "onChange">)}
      onChange={take as (value: string | number) => void}
    />
  );
}

const same = (a: Props<string | number>, b: Props<string | number>) =>
  a.label === b.label &&
  a.value === b.value &&
  a.disabled === b.disabled &&
  a.hideLabel === b.hideLabel &&
  a.options.length === b.options.length &&
  a.options.every(
    (o, k) =>
      o.value === b.options[k]!.value &&
      o.label === b.options[k]!.label &&
      o.note === b.options[k]!.note,
  );

/**
 * Drawn again only when it shows something else: five of these took a quarter of the time from a
 * dimmer's key to the painted frame.
 */
const Drawn = memo(function Drawn({
  label,
  value,
  options,
  onChange,
  disabled,
  hideLabel,
}: Props<string | number>) {
  const chosen = options.find((o) => o.value === value);
  return (
    <Field disabled={disabled} className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-0.5">
      <Label className={hideLabel ? "sr-only" : "text-xs text-quiet"}>{label}</Label>
      <Listbox value={value} onChange={onChange}>
        <ListboxButton className="flex h-10 w-full items-center justify-between gap-2 rounded border border-line bg-ink px-2.5 text-left hover:bg-raised">
          <span className="truncate">{chosen?.label ?? String(value)}</span>
          <svg
            aria-hidden
            width="10"
            height="10"
            viewBox="0 0 10 10"
            className="shrink-0 text-quiet"
          >
            <path d="M1 3h8L5 8z" fill="currentColor" />
          </svg>
        </ListboxButton>
        <ListboxOptions
          anchor="bottom start"
          className="z-40 max-h-80! min-w-(--button-width) overflow-auto rounded border border-line bg-panel py-1 shadow-xl [--anchor-gap:4px]"
        >
          {options.map((option) => (
            <ListboxOption
              key={option.value}
              value={option.value}
              className="flex min-h-10 cursor-pointer items-center justify-between gap-4 px-3 data-focus:bg-raised data-selected:text-lamp"
            >
              <span>{option.label}</span>
              {option.note && <span className="text-xs text-quiet">{option.note}</span>}
            </ListboxOption>
          ))}
        </ListboxOptions>
      </Listbox>
    </Field>
  );
}, same);
