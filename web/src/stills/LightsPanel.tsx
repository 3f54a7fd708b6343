import { useState } from "react";
import type { Schemas } from "../app/api";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { handlesOf, lightOf, lightTools, ROLES, without, type Light } from "./marks";
import { H2, Known, Told, Tools, type Panel } from "./panel";

const NAMES: Record<Light["role"], string> = {
  key: "Key",
  fill: "Fill",
  edge: "Edge",
  background: "Background",
  "eye light": "Eye light",
  other: "Light",
};

/** The light taken apart: a row a light, each with what marks tell of it. */
export function LightsPanel(props: Panel) {
  const { draft, read, stale, edit, editable } = props;
  const { sources } = draft.marks;
  const [open, setOpen] = useState<string | null>(sources[0]?.id ?? null);
  function add(role: Light["role"]) {
    const taken = new Set(sources.map((s) => s.id));
    let id = role.replace(" ", "-");
    for (let k = 2; taken.has(id); k++) id = `${role.replace(" ", "-")}-${k}`;
    const name = sources.some((s) => s.name === NAMES[role])
      ? `${NAMES[role]} ${sources.length + 1}`
      : NAMES[role];
    edit((d) => ({
      ...d,
      marks: { ...d.marks, sources: [...d.marks.sources, lightOf(id, name, role)] },
    }));
    setOpen(id);
  }
  return (
    <div className={`grid gap-3 ${stale ? "opacity-60" : ""}`}>
      {sources.length === 0 && (
        <p className="text-sm text-quiet">
          Begin with the key: its glint in an eye, the shadow of the nose, and where it falls on the
          skin. Then the others, each by what the eye sees of it.
        </p>
      )}
      {!read?.framing && sources.length > 0 && (
        <p className="text-sm text-quiet">
          Mark the head on the page Camera first: from it the desk knows where eyes and nose are.
        </p>
      )}
      {sources.map((light) => (
        <Row
          key={light.id}
          {...props}
          light={light}
          found={read?.lights.find((l) => l.id === light.id) ?? null}
          open={open === light.id}
          toggle={() => setOpen(open === light.id ? null : light.id)}
        />
      ))}
      {editable && sources.length < 8 && (
        <Choice
          label="Add a light"
          value=""
          options={[
            { value: "", label: "choose its part…" },
            ...ROLES.map((r) => ({ value: r as string, label: NAMES[r] })),
          ]}
          onChange={(role) => role && add(role as Light["role"])}
        />
      )}
    </div>
  );
}

function Row({
  light,
  found,
  open,
  toggle,
  edit,
  editable,
  tool,
  setTool,
  draft,
}: Panel & {
  light: Light;
  found: Schemas["LightRead"] | null;
  open: boolean;
  toggle: () => void;
}) {
  const tools = lightTools(light.id);
  const own = handlesOf(draft.marks).filter((h) => h.group.startsWith(`${light.id} `));
  const put = (change: Partial<Light>) =>
    edit((d) => ({
      ...d,
      marks: {
        ...d.marks,
        sources: d.marks.sources.map((s) => (s.id === light.id ? { ...s, ...change } : s)),
      },
    }));
  const done = (id: string) => {
    const part = id.slice(light.id.length + 1);
    if (part.startsWith("glint")) return light.glints.some((g) => part.endsWith(g.eye));
    if (part === "nose") return light.shadows.some((s) => s.of === "nose_tip");
    if (part === "crown") return light.shadows.some((s) => s.of === "crown");
    if (part === "border") return !!light.border;
    return part === "upright" ? light.uprights.length > 0 : !!light.lit;
  };
  return (
    <section aria-label={light.name} className="rounded border border-line p-2">
      <button
        type="button"
        aria-expanded={open}
        className="flex min-h-8 w-full items-baseline justify-between gap-2 text-left"
        onClick={toggle}
      >
        <span className="font-serif text-base text-lamp italic">{light.name}</span>
        <span className="text-xs text-quiet">{light.role}</span>
      </button>
      <p className="text-sm">{found?.words ?? "Nothing of it is marked yet."}</p>
      {found?.doubts.map((words) => (
        <p key={words} className="pt-1 text-xs text-fault">
          {words}
        </p>
      ))}
      {open && (
        <>
          {editable && (
            <div className="pt-2">
              <Tools tools={tools} done={(t) => done(t.id)} tool={tool} setTool={setTool} />
            </div>
          )}
          {found && (
            <table className="mt-2 w-full text-sm">
              <tbody>
                <Told
                  name={`Off lens, camera ${(found.angle?.value ?? 0) < 0 ? "left" : "right"}`}
                  estimate={
                    found.angle && { value: Math.abs(found.angle.value), off: found.angle.off }
                  }
                  unit="°"
                />
                <Told name="Over the eyes" estimate={found.height} unit="°" />
                <Told name="Softness" estimate={found.softness} unit="°" />
                {light.role !== "key" && (
                  <Told
                    name="Against the key's side"
                    estimate={found.stops}
                    unit="stops"
                    digits={1}
                  />
                )}
                <Told name="White" estimate={found.kelvin} unit="K" />
                {!found.kelvin && light.role !== "key" && (
                  <Told name="White against the key" estimate={found.shift} unit="mired" />
                )}
              </tbody>
            </table>
          )}
          {editable && (
            <>
              <H2>Said by hand</H2>
              <Known
                label="Off lens, left is −"
                unit="°"
                value={light.angle ?? null}
                otherwise={Math.round(found?.angle?.value ?? 45)}
                step={5}
                min={-180}
                max={180}
                onChange={(angle) => put({ angle })}
              />
              <Known
                label="Over the eyes"
                unit="°"
                value={light.height ?? null}
                otherwise={Math.round(found?.height?.value ?? 30)}
                step={5}
                min={-90}
                max={90}
                onChange={(height) => put({ height })}
              />
              <Known
                label="Softness"
                unit="°"
                value={light.softness ?? null}
                otherwise={Math.round(found?.softness?.value ?? 20)}
                step={2}
                min={1}
                max={180}
                onChange={(softness) => put({ softness })}
              />
              <div className="flex justify-between pt-1">
                <Button
                  look="bare"
                  className="text-xs"
                  disabled={!own.length}
                  onClick={() =>
                    edit((d) => {
                      const groups = [...new Set(own.map((h) => h.group))].reverse();
                      return { ...d, marks: groups.reduce(without, d.marks) };
                    })
                  }
                >
                  Take its marks away
                </Button>
                <Button
                  look="bare"
                  className="text-xs"
                  onClick={() =>
                    edit((d) => ({
                      ...d,
                      marks: {
                        ...d.marks,
                        sources: d.marks.sources.filter((s) => s.id !== light.id),
                      },
                    }))
                  }
                >
                  Take the light away
                </Button>
              </div>
            </>
          )}
        </>
      )}
    </section>
  );
}
