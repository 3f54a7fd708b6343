import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";
import type { ReactNode } from "react";

type Props = {
  open: boolean;
  close: () => void;
  title: string;
  children: ReactNode;
  wide?: boolean | "card" | "stage";
};

/** A dialog over the page. */
export function Sheet({ open, close, title, children, wide }: Props) {
  return (
    <Dialog open={open} onClose={close} className="relative z-30">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center overflow-auto p-4">
        <DialogPanel
          className={`w-full ${wide === "stage" ? "max-w-6xl" : wide === "card" ? "max-w-4xl" : wide ? "max-w-2xl" : "max-w-md"} rounded-lg border border-line bg-panel p-5`}
        >
          <DialogTitle className="mb-3 font-serif text-xl text-lamp italic">{title}</DialogTitle>
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
