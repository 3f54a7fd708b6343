import { useState } from "react";
import type { Attachment, Constants, Inspection, Unit } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Slider } from "../../parts/Slider";
import { rigMove } from "../grip/gripping";
import { useLength, useLight, useWords } from "../../app/preferences";
import { act, chooseGrip, move, settle, useDesk, withUnit } from "../store";

type Hung = Unit["attachments"][number];
const NONE = "-";

const withHung = (id: string, change: (hung: Hung[]) => Hung[]) =>
  withUnit(id, (u) => ({ attachments: change(u.attachments) }));

/**
 * The way of the light from lamp to face, stage by stage; what hangs on the head and stands before
 * it is changed here.
 */
export function SourceBuilder({
  unit,
  constants,
  disabled,
}: {
  unit: Unit;
  constants: Constants;
  disabled: boolean;
}) {
  const inspection = useDesk((d) => (d.inspection?.id === unit.id ? d.inspection : null));
  const busy = useDesk((d) => d.inspecting),
    inWords = useWords();
  const head = constants.heads.find((h) => h.key === unit.head);
  const fits = constants.attachments.filter((a) => head && a.fits.includes(head.group));
  return (
    <section
      aria-label="Way of the light"
      aria-busy={busy}
      className="group grid gap-1.5 border-t border-line pt-2"
    >
      <h3 className="flex items-baseline justify-between font-serif text-lamp italic">
        Way of the light, at full{" "}
        {busy && (
          <span className="text-xs text-quiet not-italic" role="status">
            working it out…
          </span>
        )}
      </h3>
      {inspection?.faults.map((f) => (
        <p
          key={f}
          role="alert"
          className="rounded border border-fault p-2 text-xs text-fault group-aria-busy:opacity-50"
        >
          {inWords(f)}
        </p>
      ))}
      {inspection && <Stages inspection={inspection} />}
      {unit.attachments.map((hung, at) => (
        <HungRow
          key={`${at}${hung.key}`}
          unit={unit}
          hung={hung}
          at={at}
          kind={constants.attachments.find((a) => a.key === hung.key)}
          disabled={disabled}
        />
      ))}
      {!disabled && (
        <div className="grid grid-cols-2 gap-1.5">
          <Choice
            label="Hang on"
            value={NONE}
            options={[
              { value: NONE, label: "attachment…" },
              ...fits.map((a) => ({ value: a.key, label: a.name, note: a.group })),
            ]}
            onChange={(key) =>
              key !== NONE &&
              act(
                withHung(unit.id, (h) => [...h, { key, settings: {} }]),
                `${unit.name}: ${constants.attachments.find((a) => a.key === key)!.name} on`,
              )
            }
          />
          <Choice
            label="In one move"
            value={NONE}
            options={[
              { value: NONE, label: "rig it…" },
              ...constants.moves.map((m) => ({ value: m.key, label: m.name })),
            ]}
            onChange={(key) => key !== NONE && void rigMove(unit.id, key)}
          />
        </div>
      )}
      <MoveCaution constants={constants} unit={unit} />
      {inspection && <Figures inspection={inspection} />}
    </section>
  );
}

/** The caution of what stands in the light's way belongs where it was chosen. */
function MoveCaution({ constants, unit }: { constants: Constants; unit: Unit }) {
  const grip = useDesk((d) => d.draft!.grip),
    inspection = useDesk((d) => d.inspection);
  const onWay = inspection?.id === unit.id ? inspection.grip : [];
  const cautions = new Set(
    unit.attachments
      .map((h) => constants.attachments.find((a) => a.key === h.key)?.caution)
      .filter((c): c is string => !!c),
  );
  for (const kind of ["frame", "board", "mirror"] as const) {
    const move = { frame: "cloth", board: "bounce-board", mirror: "mirror" }[kind];
    if (grip.some((g) => g.kind === kind && onWay.includes(g.id)))
      cautions.add(constants.moves.find((m) => m.key === move)?.caution ?? "");
  }
  return (
    <>
      {[...cautions].filter(Boolean).map((c) => (
        <p key={c} className="text-xs text-quiet">
          <b className="text-fault">Mind:</b> {c}
        </p>
      ))}
    </>
  );
}

function Stages({ inspection }: { inspection: Inspection }) {
  const light = useLight();
  const grip = useDesk((d) => d.draft!.grip);
  const FC = 10.7639104;
  return (
    <table className="w-full text-xs group-aria-busy:opacity-50">
      <thead className="sr-only">
        <tr>
          <th>Stage</th>
          <th>Level</th>
          <th>Stops against the stage before</th>
        </tr>
      </thead>
      <tbody>
        {inspection.stages.map((s, at) => {
          const piece = grip.find((g) => s.name === `On ${g.name}`);
          return (
            <tr key={at} className={`border-t border-line ${s.kind === "face" ? "font-bold" : ""}`}>
              <th scope="row" className="py-1 text-left font-normal">
                {piece ? (
                  <button
                    type="button"
                    className="min-h-6 text-left underline decoration-quiet underline-offset-2"
                    onClick={() => chooseGrip(piece.id)}
                  >
                    {s.name}
                  </button>
                ) : (
                  s.name
                )}
                {s.note && <span className="text-quiet">, {s.note}</span>}
              </th>
              <td className="px-1 text-right whitespace-nowrap">{light.text(s.lux, s.lux / FC)}</td>
              <td className="w-10 text-right text-quiet">{s.words}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function HungRow({
  unit,
  hung,
  at,
  kind,
  disabled,
}: {
  unit: Unit;
  hung: Hung;
  at: number;
  kind: Attachment | undefined;
  disabled: boolean;
}) {
  const [open, setOpen] = useState(false);
  const name = kind?.name ?? hung.key;
  const put = (values: Record<string, number>) => {
    const rounded = Object.fromEntries(
      Object.entries(values).map(([key, v]) => [key, Math.round(v * 1000) / 1000]),
    );
    move(
      withHung(unit.id, (all) =>
        all.map((h, k) => (k === at ? { ...h, settings: { ...h.settings, ...rounded } } : h)),
      ),
    );
  };
  const done = () => settle(`${unit.name}: ${name} set`);
  return (
    <div className="rounded border border-line bg-ink/40">
      <div className="flex items-center">
        <button
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          className="min-h-10 flex-1 px-2 text-left"
        >
          {name}
          {kind && kind.settings.length > 0 && (
            <span className="text-xs text-quiet"> {open ? "close" : "set…"}</span>
          )}
        </button>
        {at > 0 && (
          <Button
            look="bare"
            className="text-xs"
            disabled={disabled}
            aria-label={`${name} nearer to the lamp`}
            onClick={() =>
              act(
                withHung(unit.id, (h) =>
                  h.map((one, k) => (k === at - 1 ? h[at]! : k === at ? h[at - 1]! : one)),
                ),
                `${unit.name}: ${name} nearer to the lamp`,
              )
            }
          >
            nearer
          </Button>
        )}
        <Button
          look="bare"
          disabled={disabled}
          aria-label={`Take ${name} off`}
          onClick={() =>
            act(
              withHung(unit.id, (h) => h.filter((_, k) => k !== at)),
              `${unit.name}: ${name} off`,
            )
          }
        >
          off
        </Button>
      </div>
      {open && kind && (
        <div className="grid gap-1 p-1.5 pt-0">
          {kind.presets.length > 0 && (
            <Presets
              kind={kind}
              settings={hung.settings ?? {}}
              disabled={disabled}
              onTake={(values) => {
                put(values);
                done();
              }}
            />
          )}
          {kind.settings.map((s) => {
            const value = hung.settings?.[s.key] ?? s.default;
            if (s.choices.length > 0)
              return (
                <Choice
                  key={s.key}
                  label={s.name}
                  value={String(Math.round(value))}
                  disabled={disabled}
                  options={s.choices.map((p, k) => ({ value: String(k), label: p }))}
                  onChange={(v) => {
                    put({ [s.key]: Number(v) });
                    done();
                  }}
                />
              );
            const whole = s.unit === "⅛",
              step = whole ? 1 : (s.high - s.low) / 20;
            const text = whole
              ? `${Math.round(value)}${s.unit}`
              : `${value.toFixed(s.high - s.low > 10 ? 0 : 2)}${s.unit ? ` ${s.unit}` : ""}`;
            return (
              <Slider
                key={s.key}
                label={s.name}
                value={value}
                min={s.low}
                max={s.high}
                step={step}
                fine={whole ? 1 : step / 5}
                disabled={disabled}
                text={text}
                onChange={(v) => put({ [s.key]: whole ? Math.round(v) : v })}
                onDone={done}
              />
            );
          })}
        </div>
      )}
    </div>
  );
}

/** Common sizes in one choice; a size of one's own is set beside it. */
function Presets({
  kind,
  settings,
  disabled,
  onTake,
}: {
  kind: Attachment;
  settings: Record<string, number>;
  disabled: boolean;
  onTake: (values: Record<string, number>) => void;
}) {
  const now = (key: string) => settings[key] ?? kind.settings.find((s) => s.key === key)?.default;
  const own = kind.presets.findIndex(([, values]) =>
    Object.entries(values).every(([key, v]) => Math.abs((now(key) ?? NaN) - v) < 5e-4),
  );
  return (
    <Choice
      label="Common sizes"
      value={String(own)}
      disabled={disabled}
      options={[
        ...(own < 0 ? [{ value: "-1", label: "as set below" }] : []),
        ...kind.presets.map(([name], k) => ({ value: String(k), label: name })),
      ]}
      onChange={(k) => {
        const preset = kind.presets[Number(k)];
        if (preset) onTake(preset[1]);
      }}
    />
  );
}

const signed = (n: number) => `${n > 0.005 ? "+" : n < -0.005 ? "−" : ""}${Math.abs(n).toFixed(2)}`;

/** What the way makes of the light, measured. */
function Figures({ inspection: i }: { inspection: Inspection }) {
  const length = useLength();
  const light = useLight();
  const rows: [string, string][] = [
    ["On the face", `${light.text(i.lux, i.footcandles)}, ${i.stop_words}`],
    ["By way of", i.ways.map((w) => `${w.name} ${Math.round(w.share * 100)} %`).join(", ")],
    ...(i.cost
      ? [
          [
            "Costs",
            `${i.cost.words} stops against the lamp straight over the same ${length.text(i.cost.path)}`,
          ] as [string, string],
        ]
      : []),
    [
      "Seen from the face",
      i.size.degrees < 0.2
        ? "a point"
        : `${i.size.degrees.toFixed(0)}° wide: a window of ${length.text(i.size.width)} × ${length.text(i.size.height)} at ${length.text(i.size.distance)}; half of its light comes from within ${i.size.half.toFixed(0)}°, nine tenths from within ${i.size.most.toFixed(0)}°`,
    ],
    [
      "Shadow edge",
      `${(i.shadow.cheek * 1000).toFixed(0)} mm on the cheek${i.shadow.backdrop === null ? "" : `, ${length.text(i.shadow.backdrop)} on what is behind`}`,
    ],
    ["Wraps", `${i.shadow.wrap.toFixed(0)}° past the edge of shade`],
    [
      "Covers",
      `${length.text(i.coverage.widths.half, 1)} within ½ stop, ${length.text(i.coverage.widths.one, 1)} within 1, ${length.text(i.coverage.widths.one_and_half, 1)} within 1½`,
    ],
    [
      "12 ft wall",
      i.coverage.falloff === null
        ? "dark"
        : i.coverage.falloff > 10
          ? "not covered"
          : `falls off ${i.coverage.falloff.toFixed(1)} stops over it`,
    ],
    ["Backdrop", i.spill ? `${i.spill.words} stops against the face` : "no spill"],
    [
      "White at the face",
      `${Math.round(i.white.kelvin / 10) * 10} K, green ${signed(Math.abs(i.white.green) < 0.02 ? 0 : i.white.green)}`,
    ],
  ];
  return (
    <dl
      className="grid grid-cols-[6.2rem_1fr] gap-x-2 gap-y-0.5 text-xs group-aria-busy:opacity-50"
      aria-label="Measured"
    >
      {rows.map(([what, text]) => [
        <dt key={what} className="text-quiet">
          {what}
        </dt>,
        <dd key={`${what}=`}>{text}</dd>,
      ])}
    </dl>
  );
}
