import type { ReactNode } from "react";
import { Link } from "react-router";
import { AccountMenu } from "./AccountMenu";

type Props = {
  /** What the page is, before whose it is. */
  what: string;
  of: string;
  /** Where the name leads; nowhere without it. */
  to?: string;
  children?: ReactNode;
};

/** The head of a page beside the desk: whose it is, and what can be done there. */
export function PageHead({ what, of, to, children }: Props) {
  const name = <span className="text-paper">{of}</span>;
  return (
    <header className="flex h-12 shrink-0 items-center gap-3 border-b border-line pr-2 pl-4">
      <Link to="/" className="font-serif text-lg text-lamp italic">
        Inkwell Moth
      </Link>
      <h1 className="min-w-0 flex-1 truncate text-base font-normal text-quiet">
        {what} {to ? <Link to={to}>{name}</Link> : name}
      </h1>
      {children}
      <AccountMenu />
    </header>
  );
}
