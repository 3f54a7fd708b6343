import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, got, type Problem, type Schemas, type SetupRecord } from "../app/api";
import { AccountMenu } from "../parts/AccountMenu";
import { Blank } from "../parts/Blank";
import { Button } from "../parts/Button";
import { Picture } from "../parts/Picture";

type Revision = Schemas["RevisionOut"];
const WHEN = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });

/** What was done to a set-up, gesture by gesture: to look at, and to bring back. */
export function History() {
  const id = Number(useParams().id),
    path = { pk: id };
  const record = useQuery({
    queryKey: ["record", id],
    queryFn: () => got<SetupRecord>(api.GET("/api/setups/{pk}", { params: { path } })),
    gcTime: 0,
  });
  const pages = useInfiniteQuery({
    queryKey: ["revisions", id],
    initialPageParam: null as number | null,
    queryFn: ({ pageParam }) =>
      got<Revision[]>(
        api.GET("/api/setups/{pk}/revisions", { params: { path, query: { before: pageParam } } }),
      ),
    getNextPageParam: (last) => ((last.at(-1)?.number ?? 1) > 1 ? last.at(-1)!.number : undefined),
    gcTime: 0,
  });
  const [picked, setPicked] = useState<number | null>(null);
  const failed = record.error ?? pages.error;
  if (failed)
    return (
      <Blank retry={() => void Promise.all([record.refetch(), pages.refetch()])}>
        {failed.message}
      </Blank>
    );
  if (!record.data || !pages.data) return <Blank>Turning back the pages…</Blank>;
  const rows = pages.data.pages.flat();
  const shown = rows.find((r) => r.number === picked) ?? rows.find((r) => r.current) ?? rows[0]!;
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-12 shrink-0 items-center gap-3 border-b border-line pr-2 pl-4">
        <Link to="/" className="font-serif text-lg text-lamp italic">
          Inkwell Moth
        </Link>
        <h1 className="min-w-0 flex-1 truncate text-base font-normal text-quiet">
          History of <span className="text-paper">{record.data.document.title}</span>
        </h1>
        <Link
          to={`/setups/${id}`}
          className="inline-flex h-10 items-center rounded border border-line px-4 hover:bg-raised"
        >
          Back to the desk
        </Link>
        <AccountMenu />
      </header>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,420px)_minmax(0,1fr)]">
        <div className="min-h-0 overflow-y-auto border-r border-line p-2">
          <ol aria-label="Revisions, newest first">
            {rows.map((row) => (
              <li key={row.number}>
                <Row row={row} chosen={row === shown} choose={() => setPicked(row.number)} />
              </li>
            ))}
          </ol>
          {pages.hasNextPage && (
            <Button
              className="mt-2 w-full"
              disabled={pages.isFetchingNextPage}
              onClick={() => void pages.fetchNextPage()}
            >
              Earlier ones
            </Button>
          )}
        </div>
        <Shown key={shown.number} row={shown} record={record.data} />
      </div>
    </div>
  );
}

function Row({ row, chosen, choose }: { row: Revision; chosen: boolean; choose: () => void }) {
  return (
    <button
      type="button"
      aria-current={chosen}
      onClick={choose}
      className={`grid min-h-12 w-full grid-cols-[36px_minmax(0,1fr)] items-baseline rounded border px-2 py-1.5 text-left ${chosen ? "border-lamp bg-raised" : "border-transparent hover:bg-panel"}`}
    >
      <span className="text-xs text-quiet">{row.number}</span>
      <span className="truncate">
        {row.gesture}
        {row.current && <b className="pl-2 text-lamp">stands now</b>}
      </span>
      <span />
      <span className="truncate text-xs text-quiet">
        {row.author ?? "somebody who left"}, {WHEN.format(new Date(row.created))}
        {row.branch && ", kept beside"}
      </span>
    </button>
  );
}

function Shown({ row, record }: { row: Revision; record: SetupRecord }) {
  const navigate = useNavigate();
  const [fault, setFault] = useState(""),
    [busy, setBusy] = useState(false);
  async function bringBack() {
    setBusy(true);
    setFault("");
    try {
      await api.POST("/api/setups/{pk}/bring-back", {
        params: { path: { pk: record.id } },
        body: {
          revision: row.number,
          base_version: record.version,
          key: crypto.randomUUID?.() ?? "",
        },
      });
      void navigate(`/setups/${record.id}`);
    } catch (error) {
      setFault((error as Problem).message);
      setBusy(false);
    }
  }
  return (
    <section aria-label={`Revision ${row.number}`} className="min-h-0 overflow-y-auto p-5">
      <Picture
        src={`/api/setups/${record.id}/revisions/${row.number}/picture.png?large=true`}
        alt={`The frame after: ${row.gesture}`}
        className="aspect-video w-full max-w-3xl"
      />
      <h2 className="mt-4 font-serif text-xl italic">{row.gesture}</h2>
      <p className="mt-1 text-quiet">
        {row.author ?? "Somebody who left"}, {WHEN.format(new Date(row.created))}
        {row.parent !== null && <>, made from revision {row.parent}</>}.
        {row.branch && " Undo does not lead here: somebody else’s work was taken instead."}
      </p>
      {record.role !== "viewer" && !row.current && (
        <div className="mt-4">
          <Button look="lamp" disabled={busy} onClick={() => void bringBack()}>
            Bring it back
          </Button>
          <p className="mt-2 text-xs text-quiet">
            It goes on top as a revision of its own; undo takes it away again.
          </p>
        </div>
      )}
      {fault && (
        <p role="alert" className="mt-3 text-fault">
          {fault}
        </p>
      )}
    </section>
  );
}
