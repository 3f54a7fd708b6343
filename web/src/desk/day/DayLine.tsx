import { clock, minuteOf } from "../../app/clock";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { api, got, type Constants, type Schemas } from "../../app/api";
import { usePreferences } from "../../app/preferences";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { Sheet } from "../../parts/Sheet";
import { act, mayEdit, move, setDesk, settle, useDesk } from "../store";
import { atMinute, curveOf, DAY, STEP, stop, type Day, type Site } from "./day";

const W = 1000,
  H = 56;
/** How a span of the day is drawn: the higher the row, the nearer to the person. */
const ROWS: Record<string, { y: number; className: string }> = {
  window: { y: 46, className: "fill-quiet" },
  backdrop: { y: 50, className: "fill-lamp/50" },
  piece: { y: 50, className: "fill-lamp/30" },
  person: { y: 54, className: "fill-lamp" },
};

/** How often a hand has changed what the sky follows from. */
let waited = 0;

const put = (change: Partial<Site>, words: string) => {
  waited++;
  act((d) => ({ ...d, site: { ...d.site!, ...change } }), words);
};

/** The day under the frame: the hour is dragged, and sun, sky, patches and readings follow. */
export function DayLine({ constants }: { constants: Constants }) {
  const setup = useDesk((d) => d.record!.id),
    site = useDesk((d) => d.draft!.site ?? null),
    stored = useDesk((d) => d.stored!),
    indoors = useDesk((d) => !d.draft!.room.outdoors && d.draft!.openings.length === 0);
  const editable = useDesk(mayEdit);
  const [placing, setPlacing] = useState(false);
  // All that the day follows from; where sun and sky stand is what follows.
  const { site: kept, openings, room, furniture, figures, cameras } = stored;
  const key = JSON.stringify([kept, openings, room, furniture, figures[0], cameras[0]]);
  const day = useQuery({
    queryKey: ["day", setup, key],
    enabled: !!kept,
    queryFn: ({ signal }) =>
      got<Day>(
        api.POST("/api/setups/{pk}/day", {
          params: { path: { pk: setup } },
          body: { document: null, step: usePreferences.getState().step },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    staleTime: Infinity,
  });
  // Another place, day or weather brings its own sun and sky, once they are known.
  const asked = useRef(waited);
  const current = JSON.stringify(kept) === JSON.stringify(site);
  useEffect(() => {
    // What is here may still be the day before the change.
    if (!day.data || day.isPlaceholderData || !current) return;
    if (asked.current === waited || !site) return;
    asked.current = waited;
    act(atMinute(day.data, site.minute), `Sun and sky at ${clock(stop(site.minute))}`);
  }, [day.data, day.isPlaceholderData, current, site]);
  const drawn = site && day.data?.instants.find((i) => i.minute === stop(site.minute))?.patches;
  useEffect(() => setDesk({ sunPatches: drawn ?? [] }), [drawn]);
  useEffect(() => () => setDesk({ sunPatches: [] }), []);
  function place(name: string) {
    const at = constants.places.find((p) => p.name === name);
    if (!at) return;
    const { latitude, longitude, zone } = at;
    if (site) return put({ name, latitude, longitude, zone, measured: null }, `Place: ${name}`);
    waited++;
    const today = new Date().toISOString().slice(0, 10);
    act(
      (d) => ({
        ...d,
        site: {
          name,
          latitude,
          longitude,
          zone,
          date: today,
          minute: 720,
          weather: "clear",
          turned: 0,
          measured: null,
        },
      }),
      `Place: ${name}`,
    );
  }
  return (
    <div
      role="group"
      aria-label="Day"
      className="flex shrink-0 items-stretch gap-2 border-y border-line px-2 py-1"
    >
      <div className="grid w-40 shrink-0 content-start gap-1 text-xs">
        <Choice
          label="Place"
          hideLabel
          value={site?.name ?? ""}
          disabled={!editable}
          options={[
            ...(site && constants.places.some((p) => p.name === site.name)
              ? []
              : [{ value: site?.name ?? "", label: site?.name ?? "where on the earth?" }]),
            ...constants.places.map((p) => ({ value: p.name, label: p.name })),
          ]}
          onChange={place}
        />
        {site && (
          <Button look="bare" className="text-xs" onClick={() => setPlacing(true)}>
            {site.date}, {constants.weathers[site.weather]}
          </Button>
        )}
      </div>
      <div className="min-w-0 flex-1">
        {!site && (
          <p className="text-sm text-quiet">
            Choose where on the earth the place is: then the hour can be dragged, and the sun goes
            where it goes.
          </p>
        )}
        {site && day.data && <Line site={site} day={day.data} editable={editable} />}
        {site && !day.data && (
          <p role={day.error ? "alert" : "status"} className="late text-sm text-quiet">
            {day.error?.message ?? "Working the day out…"}
          </p>
        )}
        {site && indoors && (
          <p className="text-xs text-quiet">No daylight comes in here: there is no window.</p>
        )}
      </div>
      {placing && site && (
        <Sheet open close={() => setPlacing(false)} title="Place and day" wide>
          <PlaceAndDay site={site} constants={constants} editable={editable} />
          <div className="flex justify-end pt-3">
            <Button look="lamp" onClick={() => setPlacing(false)}>
              Done
            </Button>
          </div>
        </Sheet>
      )}
    </div>
  );
}

function Line({ site, day, editable }: { site: Site; day: Day; editable: boolean }) {
  const bar = useRef<HTMLDivElement>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const instant = day.instants.find((i) => i.minute === stop(site.minute))!;
  const go = (minute: number) => editable && move(atMinute(day, minute));
  const rest = () => settle(`The hour: ${clock(stop(site.minute))}`);
  const at = (event: PointerEvent) => {
    const box = bar.current!.getBoundingClientRect();
    return stop(((event.clientX - box.left) / box.width) * DAY);
  };
  function pressed(event: KeyboardEvent) {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP, PageDown: -60, PageUp: 60 }[event.key];
    if (!by) return;
    event.preventDefault();
    go(site.minute + by);
  }
  const now = day.moments.filter((m) => m.begin <= site.minute && site.minute < m.end);
  const others = day.moments.filter((m) => !now.includes(m));
  const high = instant.elevation;
  const words = `${clock(stop(site.minute))}, sun ${
    high > 0 ? `${high.toFixed(0)}° high` : `${(-high).toFixed(0)}° under the horizon`
  }`;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-0.5">
      <div
        ref={bar}
        role="slider"
        tabIndex={0}
        aria-label="Hour of the day"
        aria-valuemin={0}
        aria-valuemax={DAY - STEP}
        aria-valuenow={stop(site.minute)}
        aria-valuetext={words}
        aria-disabled={!editable}
        className="relative touch-none rounded border border-line"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          go(at(e));
        }}
        onPointerMove={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && go(at(e))}
        onPointerUp={rest}
        onKeyDown={pressed}
        onKeyUp={rest}
      >
        <svg
          aria-hidden
          viewBox={`0 0 ${W} ${H}`}
          preserveAspectRatio="none"
          className="block h-14 w-full"
        >
          {day.sunrise !== null && day.sunset !== null && day.sunrise! < day.sunset! && (
            <rect
              x={(day.sunrise! / DAY) * W}
              width={((day.sunset! - day.sunrise!) / DAY) * W}
              height={H}
              className="fill-raised"
            />
          )}
          {Array.from({ length: 23 }, (_, k) => (
            <line
              key={k}
              x1={((k + 1) / 24) * W}
              x2={((k + 1) / 24) * W}
              y1={k % 6 === 5 ? 0 : H - 6}
              y2={H}
              className="stroke-line"
              vectorEffect="non-scaling-stroke"
            />
          ))}
          <line
            x1={0}
            x2={W}
            y1={H / 2}
            y2={H / 2}
            className="stroke-line"
            vectorEffect="non-scaling-stroke"
          />
          <polyline
            points={curveOf(day, W, H)}
            fill="none"
            className="stroke-paper"
            vectorEffect="non-scaling-stroke"
          />
          {day.moments.map((m) => {
            const row = ROWS[m.kind];
            return (
              row && (
                <rect
                  key={`${m.kind} ${m.what} ${m.begin}`}
                  x={(m.begin / DAY) * W}
                  width={((m.end - m.begin) / DAY) * W}
                  y={row.y - 3}
                  height={3}
                  className={row.className}
                />
              )
            );
          })}
        </svg>
        <span
          aria-hidden
          className="pointer-events-none absolute inset-y-0 w-0.5 -translate-x-1/2 bg-lamp"
          style={{ left: `${(100 * stop(site.minute)) / DAY}%` }}
        />
      </div>
      <div className="flex items-baseline gap-3 text-xs">
        <label className="flex items-baseline gap-1">
          <span className="sr-only">The hour</span>
          <input
            aria-label="The hour, typed"
            disabled={!editable}
            className="w-12 rounded border border-line bg-ink px-1 text-sm font-bold"
            value={typed ?? clock(stop(site.minute))}
            onChange={(e) => setTyped(e.target.value)}
            onFocus={(e) => e.target.select()}
            onBlur={() => setTyped(null)}
            onKeyDown={(e) => {
              if (e.key === "Escape") setTyped(null);
              const minute = e.key === "Enter" && typed !== null ? minuteOf(typed) : null;
              if (minute === null) return;
              act(atMinute(day, minute), `The hour: ${clock(stop(minute))}`);
              setTyped(null);
            }}
          />
        </label>
        <span className="shrink-0">
          {high > 0 ? `sun ${high.toFixed(0)}° high` : `sun ${(-high).toFixed(0)}° under`},{" "}
          <span className="text-quiet">{day.words}</span>
        </span>
        <ul
          aria-label="What the day does"
          className="flex max-h-9 min-w-0 flex-1 flex-wrap gap-x-3 overflow-y-auto"
        >
          {now.map((m) => (
            <li key={m.words} className="text-lamp">
              {m.words}
            </li>
          ))}
          {others.map((m) => (
            <li key={m.words} className="text-quiet">
              {m.words}
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}

function PlaceAndDay({
  site,
  constants,
  editable,
}: {
  site: Site;
  constants: Constants;
  editable: boolean;
}) {
  const number = { disabled: !editable };
  return (
    <div className="grid grid-cols-2 gap-3">
      <label className="grid gap-0.5 text-xs text-quiet">
        Day
        <input
          type="date"
          disabled={!editable}
          min="1950-01-01"
          max="2100-12-31"
          className="h-10 rounded border border-line bg-ink px-2 text-sm text-paper"
          value={site.date}
          onChange={(e) =>
            e.target.value && put({ date: e.target.value }, `Day: ${e.target.value}`)
          }
        />
      </label>
      <Choice
        label="Weather"
        value={site.weather}
        disabled={!editable}
        options={Object.entries(constants.weathers).map(([value, label]) => ({
          value: value as Site["weather"],
          label,
        }))}
        onChange={(weather) => put({ weather }, `Weather: ${constants.weathers[weather]}`)}
      />
      <NumberField
        label="Latitude, north +"
        unit="°"
        digits={2}
        value={site.latitude}
        step={0.1}
        min={-90}
        max={90}
        onChange={(latitude) => put({ latitude }, "Latitude")}
        {...number}
      />
      <NumberField
        label="Longitude, east +"
        unit="°"
        digits={2}
        value={site.longitude}
        step={0.1}
        min={-180}
        max={180}
        onChange={(longitude) => put({ longitude }, "Longitude")}
        {...number}
      />
      <Choice
        label="Time zone"
        value={site.zone}
        disabled={!editable}
        options={[...new Set([site.zone, ...constants.places.map((p) => p.zone)])]
          .sort()
          .map((zone) => ({ value: zone, label: zone.replaceAll("_", " ") }))}
        onChange={(zone) => put({ zone }, `Time zone: ${zone}`)}
      />
      <NumberField
        label="Plan's north, clockwise of true"
        unit="°"
        value={site.turned}
        step={5}
        min={-360}
        max={360}
        onChange={(turned) => put({ turned }, "North on the plan")}
        {...number}
      />
      <Measured site={site} editable={editable} />
      <p className="col-span-2 text-xs text-quiet">
        Levels and whites are those of a model for such weather; a meter on level ground in the open
        goes before it. Clouds come and go: look at the sky.
      </p>
    </div>
  );
}

function Measured({ site, editable }: { site: Site; editable: boolean }) {
  const measured: Schemas["MeasuredDay"] | null = site.measured ?? null;
  return (
    <>
      <label className="flex h-10 items-center gap-2 self-end">
        <input
          type="checkbox"
          className="size-4 accent-lamp"
          disabled={!editable}
          checked={measured !== null}
          onChange={(e) =>
            put(
              { measured: e.target.checked ? { lux: 50000, minute: site.minute } : null },
              e.target.checked ? "The day as measured" : "The day as the model has it",
            )
          }
        />
        measured in the open{measured && ` at ${clock(measured.minute)}`}
      </label>
      {measured && (
        <NumberField
          label="On level ground, sun and sky"
          unit="lx"
          value={measured.lux}
          step={1000}
          min={1}
          max={200000}
          disabled={!editable}
          onChange={(lux) => put({ measured: { lux, minute: site.minute } }, "The day as measured")}
        />
      )}
    </>
  );
}
