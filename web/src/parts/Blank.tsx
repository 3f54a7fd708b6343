import type { ReactNode } from "react";
import { Link } from "react-router";
import { Button } from "./Button";

/** A page with nothing but a sentence: waiting, missing, failed. */
export function Blank({ children, retry }: { children: ReactNode; retry?: () => void }) {
  return (
    <main
      className="grid h-full place-content-center justify-items-center gap-4 p-6 text-center text-quiet"
      role="status"
    >
      <p className="max-w-md">{children}</p>
      <div className="flex gap-2">
        {retry && <Button onClick={retry}>Try again</Button>}
        <Link className="rounded px-3 py-2.5 underline" to="/">
          To the shelf
        </Link>
      </div>
    </main>
  );
}
