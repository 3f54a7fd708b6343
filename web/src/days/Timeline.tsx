import { clock } from "../app/clock";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { Button } from "../parts/Button";
import { inOrder, type Asked, type Day, type Shot, type Slot } from "./day";

/** The hand moves by so much [min]. */
const STEP = 5;
/** After so long without a press a gesture of keys is done [ms]. */
const PAUSE = 500;
type Props = {
  day: Day;
  mayEdit: boolean;
  /** Whether it is being put in order. */
  busy: boolean;
  chosen: number | null;
  choose: (setup: number) => void;
  /** A shot's time fixed by the hand, or let go. */
  lock: (setup: number, at: number | null) => void;
};

/** The day from left to right: a row a set-up, its sun, its rigging, its shooting; meals across. */
export function Timeline({ day, mayEdit, busy, chosen, choose, lock }: Props) {
  const { asked, plan } = day;
  const ends = [asked.end, ...(plan?.slots.map((s) => s.end) ?? [])];
  const low = 60 * Math.floor(asked.begin / 60),
    high = 60 * Math.ceil(Math.max(...ends) / 60);
  const at = (minute: number) => `${(100 * (minute - low)) / (high - low)}%`;
  const hours = Array.from({ length: (high - low) / 60 + 1 }, (_, k) => low + 60 * k);
  const slots = new Map(plan?.slots.map((s) => [Number(s.key), s]));
  return (
    <section aria-label="The day in time">
      <div className="ml-56 flex">
        <div className="relative mr-24 h-9 flex-1 text-xs text-quiet">
          {hours.map((hour) => (
            <span key={hour} className="absolute -translate-x-1/2" style={{ left: at(hour) }}>
              {clock(hour)}
            </span>
          ))}
          {plan?.meals.map((m) => (
            <span
              key={m.name + m.begin}
              className="absolute top-4 truncate text-center text-lamp"
              style={{ left: at(m.begin), width: `${(100 * (m.end - m.begin)) / (high - low)}%` }}
            >
              {m.name}
            </span>
          ))}
        </div>
      </div>
      <ol className="relative grid">
        {inOrder(day).map((shot) => (
          <Row
            key={shot.setup}
            shot={shot}
            slot={slots.get(shot.setup)}
            title={day.setups.find((s) => s.id === shot.setup)?.title ?? "gone"}
            asked={asked}
            hours={hours}
            span={[low, high]}
            meals={plan?.meals ?? []}
            mayEdit={mayEdit}
            busy={busy}
            chosen={chosen === shot.setup}
            choose={() => choose(shot.setup)}
            lock={(minute) => lock(shot.setup, minute)}
          />
        ))}
      </ol>
    </section>
  );
}

type RowProps = {
  shot: Shot;
  slot: Slot | undefined;
  title: string;
  asked: Asked;
  hours: number[];
  span: [number, number];
  meals: readonly { name: string; begin: number; end: number }[];
  mayEdit: boolean;
  busy: boolean;
  chosen: boolean;
  choose: () => void;
  lock: (minute: number | null) => void;
};

/** Where a set-up is carried: from where on the screen (0 by keys), and to which minute. */
type Held = { from: number; begin: number; inHand: boolean };

function Row({
  shot,
  slot,
  title,
  hours,
  span: [low, high],
  meals,
  mayEdit,
  busy,
  chosen,
  choose,
  lock,
}: RowProps) {
  const bar = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState<Held | null>(null);
  const waiting = useRef(0);
  // What the hand has carried stands where it was let go until the day is in order again; what is
  // still in hand then is of a gesture that came after.
  const [wasBusy, setWasBusy] = useState(busy);
  if (wasBusy !== busy) {
    setWasBusy(busy);
    if (!busy && !held?.inHand) setHeld(null);
  }
  const left = (minute: number) => `${(100 * (minute - low)) / (high - low)}%`,
    wide = (minutes: number) => `${(100 * minutes) / (high - low)}%`;
  const begin = held?.begin ?? slot?.begin ?? 0;
  const minutes = slot ? slot.end - slot.begin : 0;
  const within = (minute: number) =>
    Math.min(high - minutes, Math.max(low, STEP * Math.round(minute / STEP)));

  function down(event: PointerEvent<HTMLElement>) {
    if (!mayEdit || !slot || event.button) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setHeld({ from: event.clientX, begin: slot.begin, inHand: true });
  }
  function drag(event: PointerEvent) {
    if (!held?.from || !slot) return;
    const by = ((event.clientX - held.from) / bar.current!.clientWidth) * (high - low);
    setHeld({ ...held, begin: within(slot.begin + by) });
  }
  function up() {
    if (held && slot && held.begin !== slot.begin) letGo(held.begin);
    else setHeld(null);
  }
  function letGo(begin: number) {
    setHeld({ from: 0, begin, inHand: false });
    lock(begin);
  }
  /** Presses that follow each other quickly are one gesture. */
  function key(event: KeyboardEvent) {
    if (!mayEdit || !slot) return;
    const way = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (!way) return;
    event.preventDefault();
    const begin = within((held?.begin ?? slot.begin) + way * STEP * (event.shiftKey ? 6 : 1));
    setHeld({ from: 0, begin, inHand: true });
    clearTimeout(waiting.current);
    waiting.current = window.setTimeout(() => letGo(begin), PAUSE);
  }
  return (
    <li
      aria-label={title}
      className={`grid grid-cols-[14rem_1fr_6rem] items-stretch border-t border-line ${chosen ? "bg-panel" : ""}`}
    >
      <button
        type="button"
        onClick={choose}
        aria-pressed={chosen}
        className="min-h-12 px-2 py-1 text-left hover:bg-raised"
      >
        <span className={`block truncate ${chosen ? "text-lamp" : ""}`}>{title}</span>
        <span className="block truncate text-xs text-quiet">
          {slot ? `${clock(begin)}–${clock(begin + minutes)}` : `${shot.minutes} min`}
          {shot.room && ` · ${shot.room}`}
        </span>
      </button>
      <div ref={bar} className="relative">
        {hours.map((hour) => (
          <span
            key={hour}
            className="absolute inset-y-0 w-px bg-line/60"
            style={{ left: left(hour) }}
          />
        ))}
        {shot.windows.map(([from, to]) => (
          <span
            key={from}
            title={`${shot.why || "may be shot"} ${clock(from!)} to ${clock(to!)}`}
            className="absolute top-0 h-1.5 rounded-b-sm bg-paper/70"
            style={{ left: left(from!), width: wide(to! - from!) }}
          />
        ))}
        {meals.map((m) => (
          <span
            key={m.name + m.begin}
            title={`${m.name} ${clock(m.begin)} to ${clock(m.end)}`}
            className="absolute inset-y-0 border-x border-dashed border-quiet/60 bg-ink/70"
            style={{ left: left(m.begin), width: wide(m.end - m.begin) }}
          />
        ))}
        {slot && (
          <>
            {!held &&
              slot.rigging.map(([from, to]) => (
                <span
                  key={from}
                  title={`${slot.rig} min to rig`}
                  className="absolute top-4 bottom-2 rounded-l border border-lamp/50"
                  style={{ left: left(from!), width: wide(to! - from!) }}
                />
              ))}
            <button
              type="button"
              aria-label={`${title}: shot ${clock(begin)} to ${clock(begin + minutes)}`}
              onPointerDown={down}
              onPointerMove={drag}
              onPointerUp={up}
              onPointerCancel={() => setHeld(null)}
              onKeyDown={key}
              className={`absolute top-3 bottom-1 touch-none overflow-hidden rounded px-1 text-left text-xs text-ink ${slot.broken.length ? "bg-fault" : "bg-lamp"} ${mayEdit ? "cursor-ew-resize!" : ""}`}
              style={{ left: left(begin), width: wide(minutes) }}
            />
          </>
        )}
      </div>
      <div className="flex items-center justify-end pr-1">
        {slot && (
          <Button
            look="bare"
            className="text-xs"
            disabled={!mayEdit}
            pressed={shot.locked !== null && shot.locked !== undefined}
            aria-label={`Fix the time of ${title}`}
            onClick={() => lock(shot.locked == null ? slot.begin : null)}
          >
            {shot.locked == null ? "fix" : `at ${clock(shot.locked)}`}
          </Button>
        )}
      </div>
    </li>
  );
}
