import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, got, type Production } from "../app/api";
import { AccountMenu } from "../parts/AccountMenu";
import { AskName } from "../parts/Ask";
import { Blank } from "../parts/Blank";
import { Button } from "../parts/Button";
import { ProductionShelf } from "./ProductionShelf";
import { useShelfChange } from "./changes";

/**
 * Everything you belong to: productions, their scenes, their set-ups with the light that is on
 * them.
 */
export function Shelf() {
  const productions = useQuery({
    queryKey: ["productions"],
    queryFn: () => got<Production[]>(api.GET("/api/productions")),
  });
  const change = useShelfChange();
  const [naming, setNaming] = useState(false);
  if (productions.isPending) return <Blank>Fetching the shelf…</Blank>;
  if (productions.isError)
    return <Blank retry={() => void productions.refetch()}>{productions.error.message}</Blank>;
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-12 shrink-0 items-center justify-between border-b border-line px-5">
        <h1 className="font-serif text-xl text-lamp italic">Inkwell Moth</h1>
        <div className="flex items-center gap-2">
          <Button onClick={() => setNaming(true)}>New production</Button>
          <AccountMenu />
        </div>
      </header>
      <main className="min-h-0 flex-1 overflow-auto px-5 py-4">
        {productions.data.length === 0 && (
          <div className="grid place-items-center gap-3 py-24 text-center text-quiet">
            <p className="max-w-sm">
              The shelf is empty. A production holds scenes; a scene holds set-ups, one for every
              time the camera moves.
            </p>
            <Button look="lamp" onClick={() => setNaming(true)}>
              Start a production
            </Button>
          </div>
        )}
        {productions.data.map((p) => (
          <ProductionShelf key={p.id} production={p} />
        ))}
      </main>
      {naming && (
        <AskName
          title="New production"
          label="Title"
          action="Start it"
          close={() => setNaming(false)}
          done={(title) => change(api.POST("/api/productions", { body: { title } }))}
        />
      )}
    </div>
  );
}
