import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, got, type Schemas } from "../../app/api";
import { useWords } from "../../app/preferences";
import { NumberField } from "../../parts/NumberField";
import { Sheet } from "../../parts/Sheet";
import { useDesk } from "../store";
import { Circuits } from "./Circuits";

export type Work = Schemas["Work"];
const TABS = ["Power", "To pack", "Rigging", "Mind"];

/** The set-up as work: what hangs on what, what is packed, who does what when, what can hurt. */
export function WorkSheet({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Sheet open={open} close={close} title="Pack and power" wide="stage">
      {open && <Body />}
    </Sheet>
  );
}

function Body() {
  const setup = useDesk((d) => d.record!.id),
    draft = useDesk((d) => d.draft!);
  const [hands, setHands] = useState(2),
    [minutes, setMinutes] = useState(60);
  const work = useQuery({
    queryKey: ["work", setup, draft, hands, minutes],
    queryFn: ({ signal }) =>
      got<Work>(
        api.POST("/api/setups/{pk}/work", {
          params: { path: { pk: setup } },
          body: { document: draft, hands, minutes },
          signal,
        }),
      ),
    placeholderData: (before) => before,
  });
  if (work.error && !work.data)
    return (
      <p role="alert" className="text-fault">
        {work.error.message}
      </p>
    );
  if (!work.data) return <p className="text-quiet">Counting…</p>;
  return (
    <div className="grid max-h-[75vh] min-h-[60vh] grid-rows-[auto_1fr] gap-2">
      {work.error && (
        <p role="alert" className="text-fault">
          {work.error.message}
        </p>
      )}
      <TabGroup className="contents">
        <TabList className="flex items-end gap-2 border-b border-line">
          {TABS.map((name) => (
            <Tab
              key={name}
              className="h-10 border-b-2 border-transparent px-3 text-quiet data-selected:border-lamp data-selected:text-paper"
            >
              {name}
              {count(name, work.data)}
            </Tab>
          ))}
          <span className="flex-1" />
          <div className="w-36 pb-1">
            <NumberField
              label="Lamps must last"
              unit="min"
              value={minutes}
              step={15}
              min={0}
              max={2880}
              onChange={(m) => setMinutes(Math.round(m))}
            />
          </div>
          <div className="w-32 pb-1">
            <NumberField
              label="Hands that rig"
              unit="people"
              value={hands}
              step={1}
              min={1}
              max={30}
              onChange={(h) => setHands(Math.round(h))}
            />
          </div>
        </TabList>
        <TabPanels className="min-h-0 overflow-y-auto">
          <TabPanel>
            <Circuits power={work.data.power} />
          </TabPanel>
          <TabPanel>
            <ToPack work={work.data} />
          </TabPanel>
          <TabPanel>
            <Rigging rigging={work.data.rigging} />
          </TabPanel>
          <TabPanel>
            <Mind cautions={work.data.cautions} />
          </TabPanel>
        </TabPanels>
      </TabGroup>
    </div>
  );
}

function count(tab: string, work: Work) {
  const number =
    tab === "To pack"
      ? work.short.length
      : tab === "Mind"
        ? work.cautions.length
        : tab === "Power"
          ? work.power.faults.length
          : 0;
  if (!number) return null;
  const what = tab === "To pack" ? "short" : "to mind";
  return (
    <span className="pl-1.5 text-xs text-fault">
      {number} <span className={tab === "To pack" ? "" : "sr-only"}>{what}</span>
    </span>
  );
}

/** Everything that is packed, and what of it the kit has not. */
function ToPack({ work }: { work: Work }) {
  const words = useWords(),
    production = useDesk((d) => d.record!.production.id);
  return (
    <div className="grid gap-3 pt-2">
      <p className="text-quiet">
        About {work.weight.toFixed(0)} kg.{" "}
        {!work.kept && (
          <>
            The production keeps no <Link to={`/productions/${production}/kit`}>kit</Link> yet: list
            it, and what is short is told here.
          </>
        )}
        {work.kept && !work.short.length && "The kit has all of it."}
      </p>
      {work.short.length > 0 && (
        <ul aria-label="Short" className="rounded border border-fault px-3 py-2 text-fault">
          {work.short.map((s) => (
            <li key={s.words}>{words(s.words)}</li>
          ))}
        </ul>
      )}
      <table className="w-full text-sm">
        <tbody>
          {work.needs.map((n) => (
            <tr key={`${n.kind} ${n.key} ${n.name}`} className="border-t border-line">
              <td className="w-12 py-1.5 pr-3 text-right text-base font-semibold">{n.count}</td>
              <th scope="row" className="py-1.5 text-left font-normal">
                {words(n.name)}
              </th>
              <td className="py-1.5 text-quiet">{n.of.join(", ")}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {!work.needs.length && <p className="text-quiet">Nothing has to be brought.</p>}
    </div>
  );
}

/** Tasks in time, a row each: a bar from when somebody begins to when it is done. */
export function Rigging({ rigging }: { rigging: Schemas["Rigging"] }) {
  const all = Math.max(rigging.minutes, 1);
  return (
    <div className="grid gap-2 pt-2">
      <p className="text-base">
        {rigging.words}{" "}
        <span className="text-quiet">Typical minutes; your own are set with the day.</span>
      </p>
      <ol aria-label="Tasks" className="grid gap-1">
        {rigging.tasks.map((t) => (
          <li key={t.task.key} className="grid grid-cols-[15rem_1fr_4rem] items-center gap-3">
            <span className="truncate text-sm">{t.task.name}</span>
            <span className="relative h-5 rounded-sm bg-ink">
              <span
                className={`absolute inset-y-0.5 rounded-sm ${t.task.hands > 1 ? "bg-lamp" : "bg-lamp/55"}`}
                style={{
                  left: `${(100 * t.begin) / all}%`,
                  width: `max(3px, ${(100 * (t.end - t.begin)) / all}%)`,
                }}
              />
            </span>
            <span className="text-right text-xs text-quiet">
              {t.begin.toFixed(0)}–{t.end.toFixed(0)} min
            </span>
          </li>
        ))}
      </ol>
      <p className="text-xs text-quiet">Full amber: two pairs of hands.</p>
    </div>
  );
}

/** What can hurt somebody or stop the work, each with what it follows from. */
export function Mind({ cautions }: { cautions: readonly Schemas["Caution"][] }) {
  const words = useWords();
  if (!cautions.length)
    return (
      <p className="pt-3 text-quiet">
        Nothing was found to be told of. That does not make it safe: local codes and licensed people
        decide.
      </p>
    );
  return (
    <ul aria-label="To be minded" className="grid gap-1 pt-2">
      <li className="text-quiet">
        What was found, with what it follows from. Local codes and licensed people decide.
      </li>
      {cautions.map((c) => (
        <li
          key={c.kind + c.about + c.words}
          className="grid grid-cols-[7rem_1fr] gap-3 border-t border-line py-1.5"
        >
          <span className="font-serif text-lamp italic">{c.kind}</span>
          <span>
            {words(c.words)} <span className="text-quiet">({words(c.follows)})</span>
          </span>
        </li>
      ))}
    </ul>
  );
}
