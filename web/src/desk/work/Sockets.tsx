import { Button } from "../../parts/Button";
import { NumberField } from "../../parts/NumberField";
import { cornersOf } from "../place/walls";
import { act, useDesk } from "../store";
import { withCircuit, type Circuit } from "./feeding";

/** Where its sockets are on the plan: from them the cables are reckoned. */
export function Sockets({ circuit: c, editable }: { circuit: Circuit; editable: boolean }) {
  const room = useDesk((d) => d.draft!.room);
  const put = (sockets: Circuit["sockets"]) =>
    act(withCircuit(c.id, { sockets }), `sockets of ${c.name}`);
  /** Beside the last one, or in a corner of the room: from there it is carried on the plan. */
  const another = (): [number, number] => {
    const last = c.sockets.at(-1);
    return last ? [last[0] + 0.5, last[1]] : cornersOf(room)[0]!;
  };
  return (
    <div className="flex flex-wrap items-end gap-2 pt-1 text-sm text-quiet">
      {c.sockets.map((s, at) => (
        <span key={at} className="flex items-end gap-1">
          {([0, 1] as const).map((axis) => (
            <span key={axis} className="w-32">
              <NumberField
                label={`Socket ${at + 1} of ${c.name}, ${axis ? "north" : "east"}`}
                hideLabel
                unit={axis ? "m north" : "m east"}
                digits={1}
                value={s[axis]!}
                step={0.5}
                min={-200}
                max={200}
                disabled={!editable}
                onChange={(v) =>
                  put(c.sockets.map((o, k) => (k === at ? (axis ? [o[0], v] : [v, o[1]]) : o)))
                }
              />
            </span>
          ))}
          <Button
            look="bare"
            disabled={!editable}
            aria-label={`Take socket ${at + 1} of ${c.name} away`}
            onClick={() => put(c.sockets.filter((_, k) => k !== at))}
          >
            ×
          </Button>
        </span>
      ))}
      {editable && c.sockets.length < 12 && (
        <Button look="bare" className="text-xs" onClick={() => put([...c.sockets, another()])}>
          {c.sockets.length ? "Another socket" : "Put a socket on the plan"}
        </Button>
      )}
    </div>
  );
}
