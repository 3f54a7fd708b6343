import type { Schemas } from "../app/api";
import { Choice } from "../parts/Choice";
import { NumberField } from "../parts/NumberField";
import { TextField } from "../parts/TextField";
import { H2, Known, type Panel } from "./panel";

type Record_ = Schemas["Record"];
const CURVES: { value: Record_["curve"]; label: string }[] = [
  { value: "unknown", label: "graded, curve not known" },
  { value: "srgb", label: "sRGB, as displays show it" },
  { value: "bt709", label: "BT.709 from a camera" },
  { value: "hlg", label: "BT.2100 HLG" },
  { value: "acescct", label: "ACEScct" },
  { value: "log", label: "a log curve by three facts" },
  { value: "linear", label: "linear" },
];
const WIDTHS = [
  { value: 36, label: "full frame, 36 mm" },
  { value: 24.9, label: "super 35, 24.9 mm" },
  { value: 17.3, label: "four thirds, 17.3 mm" },
  { value: 13.2, label: "one inch, 13.2 mm" },
];

/** How the still was recorded, as far as anybody knows. */
export function RecordPanel({ draft, read, edit, editable }: Panel) {
  const { record } = draft;
  const put = (change: Partial<Record_>) =>
    edit((d) => ({ ...d, record: { ...d.record, ...change } }));
  const log = record.log;
  return (
    <div className="grid gap-2">
      <TextField
        label="Name of the still"
        value={draft.title}
        maxLength={80}
        disabled={!editable}
        onChange={(title) => title.trim() && edit((d) => ({ ...d, title }))}
      />
      <Choice
        label="Curve"
        value={record.curve}
        disabled={!editable}
        options={CURVES}
        onChange={(curve) => put({ curve })}
      />
      {record.curve === "log" && (
        <div className="grid grid-cols-3 gap-2">
          <NumberField
            label="Middle grey"
            unit="%"
            value={100 * log.grey}
            step={1}
            min={10}
            max={80}
            disabled={!editable}
            onChange={(grey) => put({ log: { ...log, grey: grey / 100 } })}
          />
          <NumberField
            label="Over it"
            unit="stops"
            digits={1}
            value={log.over}
            step={0.5}
            min={1}
            max={12}
            disabled={!editable}
            onChange={(over) => put({ log: { ...log, over } })}
          />
          <NumberField
            label="Under it"
            unit="stops"
            digits={1}
            value={log.under}
            step={0.5}
            min={2}
            max={16}
            disabled={!editable}
            onChange={(under) => put({ log: { ...log, under } })}
          />
        </div>
      )}
      <Known
        label="White of the camera"
        unit="K"
        value={record.white ?? null}
        otherwise={5600}
        step={100}
        min={2000}
        max={10000}
        disabled={!editable}
        onChange={(white) => put({ white })}
      />
      <Choice
        label="Sensor, as wide as the picture"
        value={WIDTHS.some((w) => w.value === record.sensor_width) ? record.sensor_width : 0}
        disabled={!editable}
        options={[...WIDTHS, { value: 0, label: `${record.sensor_width.toFixed(1)} mm` }].filter(
          (w, k, all) =>
            w.value !== 0 || !all.slice(0, k).some((o) => o.value === record.sensor_width),
        )}
        onChange={(width) => width && put({ sensor_width: width })}
      />
      <Known
        label="Lens"
        unit="mm"
        value={record.focal_length ?? null}
        otherwise={50}
        step={1}
        min={4}
        max={1200}
        disabled={!editable}
        onChange={(focal_length) => put({ focal_length })}
      />
      <Known
        label="Stop of the lens"
        unit="T"
        digits={1}
        value={record.t_stop ?? null}
        otherwise={2.8}
        step={0.5}
        min={0.5}
        max={90}
        disabled={!editable}
        onChange={(t_stop) => put({ t_stop })}
      />
      <Choice
        label="It shows"
        value={record.taken}
        disabled={!editable}
        options={[
          { value: "camera" as const, label: "a person before a camera" },
          { value: "desk" as const, label: "a figure of this desk" },
        ]}
        onChange={(taken) => put({ taken })}
      />
      {!!read?.unknown.length && (
        <section aria-label="What it cannot tell">
          <H2>What it cannot tell</H2>
          <ul className="grid gap-1 text-sm text-quiet">
            {read.unknown.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
