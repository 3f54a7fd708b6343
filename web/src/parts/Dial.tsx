import {
  Combobox,
  ComboboxButton,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Field,
  Label,
} from "@headlessui/react";
import { useRef, useState } from "react";
import type { Option } from "./Choice";

type Props<T> = {
  label: string;
  value: T;
  options: Option<T>[];
  /** What typed words stand for; null where they stand for nothing that can be set. */
  read: (text: string) => T | null;
  nameOf: (value: T) => string;
  /** What may be typed, said where nothing can be read. */
  hint: string;
  onChange: (value: T) => void;
  disabled?: boolean;
};

/** A labelled list of the usual values, into which any other can be typed. */
export function Dial<T extends string | number>({
  label,
  value,
  options,
  read,
  nameOf,
  hint,
  onChange,
  disabled,
}: Props<T>) {
  const [typed, setTyped] = useState("");
  const field = useRef<HTMLInputElement>(null),
    button = useRef<HTMLButtonElement>(null);
  function take(taken: T | null) {
    if (taken === null) return;
    if (taken !== value) onChange(taken);
    // Out of the text, once the list has gone: the next key is the desk's again.
    setTimeout(() => {
      if (document.activeElement === field.current) button.current?.focus();
    }, 50);
  }
  const own = typed.trim() ? read(typed) : null;
  // What is typed stands alone, to be taken with Enter.
  const shown = !typed.trim() ? options : own === null ? [] : [{ value: own, label: nameOf(own) }];
  return (
    <Field disabled={disabled} className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-0.5">
      <Label className="text-xs text-quiet">{label}</Label>
      <Combobox value={value} onChange={take} onClose={() => setTyped("")}>
        <div className="flex h-10 w-full items-center rounded border border-line bg-ink focus-within:border-lamp">
          <ComboboxInput
            ref={field}
            autoComplete="off"
            className="h-full w-full min-w-0 bg-transparent pl-2.5 outline-none"
            displayValue={nameOf}
            onChange={(event) => setTyped(event.target.value)}
            onFocus={(event) => event.target.select()}
          />
          <ComboboxButton
            ref={button}
            aria-label={`${label}: ${nameOf(value)}`}
            className="grid h-full shrink-0 place-items-center px-2.5 text-quiet hover:bg-raised"
          >
            <svg aria-hidden width="10" height="10" viewBox="0 0 10 10">
              <path d="M1 3h8L5 8z" fill="currentColor" />
            </svg>
          </ComboboxButton>
        </div>
        <ComboboxOptions
          anchor="bottom start"
          className="z-40 max-h-80! w-(--input-width) min-w-40 overflow-auto rounded border border-line bg-panel py-1 shadow-xl [--anchor-gap:4px]"
        >
          {shown.map((option) => (
            <ComboboxOption
              key={option.value}
              value={option.value}
              className="flex min-h-10 cursor-pointer items-center justify-between gap-4 px-3 data-focus:bg-raised data-selected:text-lamp"
            >
              <span>{option.label}</span>
            </ComboboxOption>
          ))}
          {!shown.length && <p className="px-3 py-2 text-xs text-quiet">{hint}</p>}
        </ComboboxOptions>
      </Combobox>
    </Field>
  );
}
