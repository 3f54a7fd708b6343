import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { Button } from "../parts/Button";
import { usePreferences } from "../app/preferences";

const ROWS = [
  [
    "length",
    "Lengths",
    [
      ["m", "metres"],
      ["ft", "feet"],
    ],
  ],
  [
    "light",
    "Light",
    [
      ["fc", "foot-candles"],
      ["lx", "lux"],
    ],
  ],
  [
    "step",
    "Stops in",
    [
      ["third", "thirds"],
      ["tenth", "tenths"],
    ],
  ],
] as const;

/** How numbers are shown. */
export function PreferencesMenu() {
  const now = usePreferences();
  return (
    <Popover>
      <PopoverButton as={Button} look="bare" aria-label="Units of measure">
        {now.length} · {now.light}
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-40 grid gap-3 rounded border border-line bg-panel p-4 shadow-xl"
      >
        {ROWS.map(([key, label, choices]) => (
          <fieldset key={key} className="grid grid-cols-[5rem_auto] items-center gap-2">
            <legend className="sr-only">{label}</legend>
            <span aria-hidden className="text-quiet">
              {label}
            </span>
            <div className="flex gap-1">
              {choices.map(([value, words]) => (
                <Button
                  key={value}
                  pressed={now[key] === value}
                  onClick={() => usePreferences.setState({ [key]: value })}
                >
                  {words}
                </Button>
              ))}
            </div>
          </fieldset>
        ))}
      </PopoverPanel>
    </Popover>
  );
}
