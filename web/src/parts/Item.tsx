import { MenuItem } from "@headlessui/react";

/** A line of a menu. */
export function Item({ onClick, children }: { onClick: () => void; children: string }) {
  return (
    <MenuItem>
      <button
        type="button"
        onClick={onClick}
        className="block min-h-10 w-full px-3 text-left data-focus:bg-raised"
      >
        {children}
      </button>
    </MenuItem>
  );
}
