import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useParams } from "react-router";
import { api, got, type Constants, type Schemas } from "../app/api";
import { useConstants } from "../app/constants";
import { Confirm } from "../parts/Ask";
import { Blank } from "../parts/Blank";
import { Button } from "../parts/Button";
import { PageHead } from "../parts/PageHead";
import { GearSheet } from "./GearSheet";
import { OwnHead } from "./OwnHead";
import { told, type GearLine, type Kind } from "./gear";

/** What a production owns or hires. */
export function KitPage() {
  const id = Number(useParams().id);
  const queries = useQueryClient();
  const constants = useConstants();
  const kit = useQuery({
    queryKey: ["kit", id],
    queryFn: () =>
      got<Schemas["KitOut"]>(
        api.GET("/api/productions/{pk}/kit", { params: { path: { pk: id } } }),
      ),
  });
  const [open, setOpen] = useState<GearLine | "new" | null>(null),
    [reading, setReading] = useState(false),
    [leaving, setLeaving] = useState<GearLine | null>(null),
    [typed, setTyped] = useState("");
  const failed = kit.error ?? constants.error;
  if (failed) return <Blank retry={() => void kit.refetch()}>{failed.message}</Blank>;
  if (!kit.data || !constants.data) return <Blank>Opening the cases…</Blank>;
  const again = () => queries.invalidateQueries({ queryKey: ["kit", id] });
  const mayEdit = kit.data.role !== "viewer";
  const sought = typed.trim().toLowerCase();
  const gear = kit.data.gear.filter((g) => g.name.toLowerCase().includes(sought));
  return (
    <div className="flex h-full flex-col">
      <PageHead what="Kit of" of={kit.data.title} to="/">
        <a
          href={`/api/productions/${id}/kit.csv`}
          download
          className="inline-flex min-h-10 items-center rounded px-3 hover:bg-raised"
        >
          Table
        </a>
        {mayEdit && <TakeTable production={id} done={again} />}
        {mayEdit && <Button onClick={() => setReading(true)}>A head by three readings</Button>}
        {mayEdit && (
          <Button look="lamp" onClick={() => setOpen("new")}>
            Add a line
          </Button>
        )}
      </PageHead>
      <main className="mx-auto w-full max-w-5xl flex-1 overflow-y-auto p-6">
        {kit.data.gear.length === 0 ? (
          <p className="rounded border border-dashed border-line p-6 text-quiet">
            No kit yet. List what is owned or hired, with how many of each: set-ups and days then
            tell what is short, and heads of the kit can stand in for others. A table (CSV) can be
            taken in whole.
          </p>
        ) : (
          <>
            <div className="mb-4 flex items-center gap-4">
              <input
                aria-label="Look for a name"
                placeholder="Look for a name"
                value={typed}
                onChange={(e) => setTyped(e.target.value)}
                className="h-10 w-64 rounded border border-line bg-ink px-3"
              />
              <p className="text-quiet">{sums(kit.data.gear)}</p>
            </div>
            {(Object.keys(constants.data.gear) as Kind[]).map((kind) => (
              <Group
                key={kind}
                name={constants.data.gear[kind]!}
                lines={gear.filter((g) => g.kind === kind)}
                constants={constants.data}
                mayEdit={mayEdit}
                open={setOpen}
                leave={setLeaving}
              />
            ))}
            {gear.length === 0 && <p className="text-quiet">Nothing of that name.</p>}
          </>
        )}
      </main>
      {open && (
        <GearSheet
          production={id}
          line={open === "new" ? null : open}
          constants={constants.data}
          close={() => setOpen(null)}
          done={again}
        />
      )}
      {reading && (
        <OwnHead
          production={id}
          heads={constants.data.heads}
          close={() => setReading(false)}
          done={again}
        />
      )}
      {leaving && (
        <Confirm
          title={`Take ${leaving.name} out?`}
          action="Take it out"
          close={() => setLeaving(null)}
          done={async () => {
            await api.DELETE("/api/kit/{pk}", { params: { path: { pk: leaving.id } } });
            await again();
          }}
        >
          Set-ups that use it stay as they are; they will say that it is short.
        </Confirm>
      )}
    </div>
  );
}

function sums(gear: GearLine[]) {
  const pieces = gear.reduce((sum, g) => sum + g.count, 0),
    price = gear.reduce((sum, g) => sum + g.count * g.price, 0);
  const money = price ? `, ${Math.round(price).toLocaleString("en-GB")} a day for all of it` : "";
  return `${pieces.toLocaleString("en-GB")} pieces in ${gear.length} lines${money}`;
}

type Group = {
  name: string;
  lines: GearLine[];
  constants: Constants;
  mayEdit: boolean;
  open: (line: GearLine) => void;
  leave: (line: GearLine) => void;
};

function Group({ name, lines, constants, mayEdit, open, leave }: Group) {
  if (!lines.length) return null;
  return (
    <section aria-label={name} className="mb-6">
      <h2 className="mb-1 font-serif text-base text-lamp italic">{name}</h2>
      <table className="w-full">
        <thead className="text-left text-xs text-quiet">
          <tr>
            <th className="w-14 pb-1 text-right font-normal">count</th>
            <th className="w-72 pb-1 pl-4 font-normal">name</th>
            <th className="pb-1 pl-4 font-normal">what it is</th>
            <th className="w-24 pb-1 text-right font-normal">a day</th>
            <th className="w-40" />
          </tr>
        </thead>
        <tbody>
          {lines.map((g) => (
            <tr key={g.id} className="border-t border-line">
              <td className="h-10 text-right font-semibold">{g.count}</td>
              <th scope="row" className="pl-4 text-left font-normal">
                {g.name}
              </th>
              <td className="pl-4 text-sm text-quiet">{told(g, constants)}</td>
              <td className="text-right">{g.price ? g.price.toLocaleString("en-GB") : "–"}</td>
              <td className="text-right">
                {mayEdit && (
                  <>
                    <Button look="bare" aria-label={`Change ${g.name}`} onClick={() => open(g)}>
                      Change
                    </Button>
                    <Button look="bare" aria-label={`Take ${g.name} out`} onClick={() => leave(g)}>
                      Out
                    </Button>
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** Lines from a CSV file, added to the kit: all of them, or none and why. */
function TakeTable({ production, done }: { production: number; done: () => Promise<void> }) {
  const file = useRef<HTMLInputElement>(null);
  const [fault, setFault] = useState("");
  async function take(chosen: File) {
    setFault("");
    try {
      if (chosen.size > 1_000_000) throw new Error("A kit's table is under a megabyte.");
      const body = { text: await chosen.text(), mode: "add" as const };
      await api.POST("/api/productions/{pk}/kit/table", {
        params: { path: { pk: production } },
        body,
      });
      await done();
    } catch (error) {
      setFault((error as Error).message);
    }
    file.current!.value = "";
  }
  return (
    <>
      <input
        ref={file}
        type="file"
        accept=".csv,text/csv"
        aria-label="Table of a kit"
        className="hidden"
        onChange={(e) => e.target.files?.[0] && void take(e.target.files[0])}
      />
      <Button onClick={() => file.current!.click()}>Take a table in</Button>
      {fault && (
        <Confirm
          title="Nothing was taken"
          action="Choose another"
          close={() => setFault("")}
          done={() => {
            file.current!.click();
            return Promise.resolve();
          }}
        >
          <p role="alert">{fault}</p>
        </Confirm>
      )}
    </>
  );
}
