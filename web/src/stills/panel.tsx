import type { Schemas } from "../app/api";
import { Button } from "../parts/Button";
import { NumberField } from "../parts/NumberField";
import type { Tool } from "./marks";
import type { Draft } from "./storing";

/** What every page of a still is given. */
export type Panel = {
  draft: Draft;
  read: Schemas["StillRead"] | null;
  stale: boolean;
  editable: boolean;
  tool: Tool | null;
  setTool: (tool: Tool | null) => void;
  edit: (change: (draft: Draft) => Draft) => void;
};

/** Buttons that put a tool into the hand. */
export function Tools({
  tools,
  done,
  tool,
  setTool,
}: {
  tools: Tool[];
  done: (tool: Tool) => boolean;
  tool: Tool | null;
  setTool: (tool: Tool | null) => void;
}) {
  return (
    <div className="flex flex-wrap gap-1">
      {tools.map((t) => (
        <Button
          key={t.id}
          pressed={tool?.id === t.id}
          className="text-xs"
          onClick={() => setTool(tool?.id === t.id ? null : t)}
        >
          {done(t) && <span aria-label="marked">✓</span>}
          {t.name}
        </Button>
      ))}
    </div>
  );
}

/** A number that may be unknown. */
export function Known({
  label,
  value,
  otherwise,
  onChange,
  disabled,
  ...field
}: {
  label: string;
  value: number | null;
  /** What it becomes when it is said to be known. */
  otherwise: number;
  unit: string;
  step: number;
  min: number;
  max: number;
  digits?: number;
  onChange: (value: number | null) => void;
  disabled?: boolean;
}) {
  return (
    <div className="grid grid-cols-[1fr_9rem] items-end gap-2">
      <label className="flex h-10 items-center gap-2">
        <input
          type="checkbox"
          className="size-4 accent-lamp"
          checked={value !== null}
          disabled={disabled}
          onChange={(e) => onChange(e.target.checked ? otherwise : null)}
        />
        {label}
      </label>
      {value === null ? (
        <p className="flex h-10 items-center text-quiet">not known</p>
      ) : (
        <NumberField
          label={label}
          hideLabel
          value={value}
          onChange={onChange}
          disabled={disabled}
          {...field}
        />
      )}
    </div>
  );
}

/** A figure with how far it may be off. */
export function Told({
  name,
  estimate,
  unit,
  digits = 0,
}: {
  name: string;
  estimate: Schemas["Estimate"] | null | undefined;
  unit: string;
  digits?: number;
}) {
  return (
    <tr className="border-t border-line">
      <th scope="row" className="py-1 text-left font-normal text-quiet">
        {name}
      </th>
      <td className="text-right whitespace-nowrap">
        {estimate ? (
          <>
            <b>
              {estimate.value.toFixed(digits).replace("-", "−")}
              {unit === "°" ? "°" : ` ${unit}`}
            </b>{" "}
            <span className="text-quiet">± {estimate.off.toFixed(digits)}</span>
          </>
        ) : (
          <span className="text-quiet">open</span>
        )}
      </td>
    </tr>
  );
}

export const H2 = ({ children }: { children: React.ReactNode }) => (
  <h2 className="pt-3 pb-1 font-serif text-base text-lamp italic">{children}</h2>
);
