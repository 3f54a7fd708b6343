import { useId, type ReactNode } from "react";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { Sheet } from "../../parts/Sheet";
import { useDesk } from "../store";
import {
  ask,
  best,
  stopAsking,
  takeAnswer,
  useAsking,
  wish,
  type Found,
  type Wish,
} from "./asking";

const NAMES: Record<Wish["kind"], string> = {
  stop: "key side at the camera's stop",
  ratio: "key to fill",
  outline: "reads all round",
  pattern: "nose shadow",
  soft: "at least so soft",
  shadow: "no shadow on the backdrop",
  glare: "no glare in glasses",
  frame: "nothing in the frame",
};
const KINDS = Object.keys(NAMES) as Wish["kind"][];
const PATTERNS = ["flat", "butterfly", "loop", "closed triangle", "split"];
const FIRST: Partial<Record<Wish["kind"], Partial<Wish>>> = {
  ratio: { low: 2, high: 4 },
  soft: { low: 20 },
  pattern: { word: "loop" },
};

/** Wishes of the light, and the answers that the units at hand can give. */
export function AskFor({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Sheet
      open={open}
      close={() => {
        stopAsking();
        close();
      }}
      title="Ask for it"
      wide="stage"
    >
      {open && <Asking close={close} />}
    </Sheet>
  );
}

function Asking({ close }: { close: () => void }) {
  const { wishes, running, tried, of, found, fault, draft } = useAsking();
  const now = useDesk((d) => d.draft);
  const shown = draft === now ? best(found) : [];
  return (
    <div className="grid gap-3">
      <p className="text-quiet">
        The key is carried about where it stands, the dimmers follow. Each answer is read like any
        other picture.
      </p>
      <ul aria-label="Wishes" className="grid grid-cols-2 gap-x-6">
        {KINDS.map((kind) => (
          <WishRow key={kind} kind={kind} wish={wishes.find((w) => w.kind === kind)} />
        ))}
      </ul>
      <div className="flex min-h-10 items-center gap-3">
        {running ? (
          <>
            <progress
              aria-label="Places of the key looked at"
              className="h-1.5 w-64 accent-lamp"
              {...(of === null ? {} : { value: tried, max: of })}
            />
            <Button onClick={stopAsking}>Stop</Button>
          </>
        ) : (
          <Button look="lamp" disabled={!wishes.length} onClick={() => void ask()}>
            Look for it
          </Button>
        )}
        <span role="status" className={fault ? "text-fault" : "text-quiet"}>
          {fault || (draft !== null && said(tried, of, shown, wishes.length))}
        </span>
      </div>
      <ol aria-label="Answers" className="grid grid-cols-3 gap-3">
        {shown.map((one) => (
          <AnswerCard
            key={one.offer.words}
            one={one}
            take={() => {
              takeAnswer(one);
              close();
            }}
          />
        ))}
      </ol>
    </div>
  );
}

function said(tried: number, of: number | null, shown: Found[], wishes: number) {
  const most = Math.max(0, ...shown.map((f) => f.offer.wishes.filter((w) => w.met).length));
  const looked = of === null ? "Looking…" : `${tried} of ${of} places looked at.`;
  if (!shown.length) return looked;
  return `${looked} ${most === wishes ? "All wishes are met." : `At best ${most} of ${wishes} are met.`}`;
}

function WishRow({ kind, wish: own }: { kind: Wish["kind"]; wish: Wish | undefined }) {
  const id = useId();
  return (
    <li className="flex min-h-10 items-end gap-2 [&>input]:mb-2.5 [&>label]:mb-2.5">
      <input
        id={id}
        type="checkbox"
        className="size-5 accent-lamp"
        checked={own !== undefined}
        onChange={(e) => wish(kind, e.target.checked ? (FIRST[kind] ?? {}) : null)}
      />
      <label htmlFor={id} className="flex-1">
        {NAMES[kind]}
      </label>
      {own && <Fields kind={kind} own={own} />}
    </li>
  );
}

function Fields({ kind, own }: { kind: Wish["kind"]; own: Wish }): ReactNode {
  const number = (label: string, key: "low" | "high", unit: string, min: number, max: number) => (
    <div className="w-24">
      <NumberField
        label={label}
        unit={unit}
        digits={1}
        value={own[key] ?? min}
        min={min}
        max={max}
        step={unit === "°" ? 5 : 0.5}
        onChange={(v) => wish(kind, { [key]: v })}
      />
    </div>
  );
  if (kind === "ratio")
    return (
      <>
        {number("from", "low", ": 1", 1, 64)}
        {number("to", "high", ": 1", 1, 64)}
      </>
    );
  if (kind === "soft") return number("degrees", "low", "°", 1, 120);
  if (kind === "pattern")
    return (
      <div className="w-40">
        <Choice
          label="Nose shadow wished"
          hideLabel
          value={own.word ?? "loop"}
          options={PATTERNS.map((value) => ({ value, label: value }))}
          onChange={(word) => wish(kind, { word })}
        />
      </div>
    );
  return null;
}

function AnswerCard({ one, take }: { one: Found; take: () => void }) {
  const { offer, picture } = one;
  return (
    <li className="grid content-start gap-1.5 rounded border border-line p-2 text-sm">
      <img
        src={picture}
        alt={`the frame: ${offer.words}`}
        className="max-h-40 w-full rounded-sm object-contain"
      />
      <p className="font-semibold">{offer.words}</p>
      <ul>
        {offer.wishes.map((w) => (
          <li key={w.kind} className={w.met ? "text-calm" : "text-lamp"}>
            {w.met ? "met" : "not"}: {w.words}
          </li>
        ))}
      </ul>
      {offer.costs.length > 0 && (
        <p className="text-fault">
          In the way: {offer.costs.slice(0, 3).join("; ")}
          {offer.costs.length > 3 && ` and ${offer.costs.length - 3} more`}
        </p>
      )}
      <Button onClick={take}>Take it</Button>
    </li>
  );
}
