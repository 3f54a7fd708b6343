import type { Constants, Figure } from "../../app/api";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Slider } from "../../parts/Slider";
import { move, settle, withFigure } from "../store";
import { SurfaceFields } from "./SurfaceFields";

type Surface = NonNullable<Figure["garment"]>;
type Named = { label: string; surface: Surface };

/** Clothes and hair that are tried most, by what they reflect. */
const GARMENTS: Named[] = [
  { label: "black", surface: { reflectance: 0.03, colour: [1, 1, 1] } },
  { label: "dark blue", surface: { reflectance: 0.05, colour: [0.45, 0.65, 1] } },
  { label: "grey", surface: { reflectance: 0.16, colour: [1, 1, 1] } },
  { label: "rust", surface: { reflectance: 0.14, colour: [1, 0.38, 0.2] } },
  { label: "green", surface: { reflectance: 0.15, colour: [0.55, 1, 0.6] } },
  { label: "pale blue", surface: { reflectance: 0.5, colour: [0.8, 0.9, 1] } },
  { label: "white", surface: { reflectance: 0.78, colour: [1, 1, 1] } },
];
const HAIRS: Named[] = [
  { label: "black", surface: { reflectance: 0.012, colour: [1, 0.9, 0.85] } },
  { label: "dark brown", surface: { reflectance: 0.04, colour: [1, 0.68, 0.5] } },
  { label: "red", surface: { reflectance: 0.11, colour: [1, 0.42, 0.2] } },
  { label: "fair", surface: { reflectance: 0.32, colour: [1, 0.78, 0.5] } },
  { label: "grey", surface: { reflectance: 0.22, colour: [1, 0.98, 0.95] } },
  { label: "white", surface: { reflectance: 0.55, colour: [1, 0.99, 0.96] } },
];
const CUTS: { value: Figure["cut"]; label: string; note?: string }[] = [
  { value: "grown", label: "strands", note: "light plays on them" },
  { value: "moulded", label: "one smooth body", note: "quicker" },
  { value: "none", label: "none" },
];
const BEARDS: { value: Figure["beard"]; label: string }[] = [
  { value: "none", label: "none" },
  { value: "short", label: "short" },
  { value: "full", label: "full" },
];
const HATS: { value: Figure["hat"]; label: string }[] = [
  { value: "none", label: "none" },
  { value: "knit", label: "knitted cap" },
  { value: "brim", label: "felt with a brim" },
];
const CLOTHS: { value: Figure["cloth"]; label: string; note?: string }[] = [
  { value: "plain", label: "smooth and even" },
  { value: "cotton", label: "cotton shirt", note: "folds, a collar" },
  { value: "wool", label: "knitted wool", note: "rows, glows at the edge" },
  { value: "silk", label: "silk", note: "shines" },
];
/** Skin to begin with when it is first changed: about the middle of what there is. */
const SKIN = 0.25;

const alike = (a: Surface, b: Surface) =>
  Math.abs(a.reflectance - b.reflectance) < 1e-3 &&
  a.colour.every((c, k) => Math.abs(c - b.colour[k]!) < 1e-3);

/** The head against the chest; skin, hair and what is worn. */
export function LookFields({
  figure,
  constants,
  disabled,
  set,
}: {
  figure: Figure;
  constants: Constants;
  disabled: boolean;
  set: (change: Partial<Figure>, words: string) => void;
}) {
  const put = (change: Partial<Figure>) => move(withFigure(figure.id, () => change));
  const slid = (words: string) => () => settle(`${figure.name}: ${words}`);
  const { head_turn: turn, head_tilt: tilt, skin, undertone } = figure;
  return (
    <div className="col-span-2 grid grid-cols-2 gap-2 border-t border-line pt-2 [&>*:nth-child(-n+4)]:col-span-2">
      <Slider
        label="Head"
        value={turn}
        min={-60}
        max={60}
        step={5}
        fine={1}
        disabled={disabled}
        text={
          Math.abs(turn) < 0.5
            ? "straight"
            : `${Math.abs(turn).toFixed(0)}° to ${turn > 0 ? "own left" : "own right"}`
        }
        onChange={(v) => put({ head_turn: Math.round(v) })}
        onDone={slid("head turned")}
      />
      <Slider
        label="Chin"
        value={tilt}
        min={-30}
        max={30}
        step={5}
        fine={1}
        disabled={disabled}
        text={
          Math.abs(tilt) < 0.5
            ? "level"
            : `${Math.abs(tilt).toFixed(0)}° ${tilt > 0 ? "up" : "down"}`
        }
        onChange={(v) => put({ head_tilt: Math.round(v) })}
        onDone={slid("head tilted")}
      />
      <Slider
        label="Skin"
        value={skin ?? SKIN}
        min={0.04}
        max={0.65}
        step={0.02}
        fine={0.01}
        disabled={disabled}
        text={skin === null || skin === undefined ? "as they are" : `${(100 * skin).toFixed(0)} %`}
        typed={(v) => v / 100}
        onChange={(v) => put({ skin: Math.round(v * 100) / 100 })}
        onDone={slid("skin")}
      />
      <Slider
        label="Undertone"
        value={undertone}
        min={-1}
        max={1}
        step={0.25}
        fine={0.05}
        disabled={disabled || skin === null || skin === undefined}
        text={undertone < -0.1 ? "rosy" : undertone > 0.1 ? "golden" : "between"}
        onChange={(v) => put({ undertone: Math.round(v * 20) / 20 })}
        onDone={slid("undertone")}
      />
      <Wear
        label="Hair"
        value={figure.hair ?? null}
        options={HAIRS}
        disabled={disabled}
        onChange={(hair, words) => set({ hair }, `hair ${words}`)}
      />
      <Choice
        label="Hair is"
        value={figure.cut}
        options={CUTS}
        disabled={disabled}
        onChange={(cut) => set({ cut }, `hair ${cut}`)}
      />
      <Choice
        label="Beard"
        value={figure.beard}
        options={BEARDS}
        disabled={disabled}
        onChange={(beard) => set({ beard }, beard === "none" ? "no beard" : `${beard} beard`)}
      />
      <Choice
        label="Hat"
        value={figure.hat}
        options={HATS}
        disabled={disabled}
        onChange={(hat) =>
          set({ hat }, hat === "none" ? "no hat" : HATS.find((h) => h.value === hat)!.label)
        }
      />
      {figure.hat !== "none" && (
        <Wear
          label="Hat's cloth"
          value={figure.hat_cloth ?? null}
          options={GARMENTS}
          disabled={disabled}
          onChange={(hat_cloth, words) => set({ hat_cloth }, `hat ${words}`)}
        />
      )}
      <Wear
        label="Wears"
        value={figure.garment ?? null}
        options={GARMENTS}
        disabled={disabled}
        onChange={(garment, words) => set({ garment }, `wears ${words}`)}
      />
      {figure.garment && (
        <div className="col-span-2">
          <SurfaceFields
            title="Cloth of it"
            surface={figure.garment}
            materials={constants.materials}
            disabled={disabled}
            onChange={(garment, words) => set({ garment }, `wears ${words}`)}
          />
        </div>
      )}
      <Choice
        label="Kind of cloth"
        value={figure.cloth}
        options={CLOTHS}
        disabled={disabled}
        onChange={(cloth) => set({ cloth }, CLOTHS.find((c) => c.value === cloth)!.label)}
      />
      <Wear
        label="Jacket over it"
        none="none"
        value={figure.jacket ?? null}
        options={GARMENTS}
        disabled={disabled}
        onChange={(jacket, words) => set({ jacket }, `jacket ${words}`)}
      />
      {(skin !== null && skin !== undefined) ||
      figure.hair ||
      figure.garment ||
      figure.jacket ||
      figure.cloth !== "plain" ||
      figure.cut !== "grown" ||
      figure.beard !== "none" ||
      figure.hat !== "none" ? (
        <Button
          look="bare"
          disabled={disabled}
          onClick={() =>
            set(
              {
                skin: null,
                undertone: 0,
                hair: null,
                cut: "grown",
                beard: "none",
                hat: "none",
                hat_cloth: null,
                garment: null,
                cloth: "plain",
                jacket: null,
              },
              "as built",
            )
          }
        >
          All as they came
        </Button>
      ) : null}
    </div>
  );
}

function Wear({
  label,
  none = "as they came",
  value,
  options,
  disabled,
  onChange,
}: {
  label: string;
  /** What no tone of one's own is called. */
  none?: string;
  value: Surface | null;
  options: Named[];
  disabled: boolean;
  onChange: (surface: Surface | null, words: string) => void;
}) {
  const named = value && options.find((o) => alike(o.surface, value));
  return (
    <Choice
      label={label}
      value={!value ? "-" : (named?.label ?? "own")}
      disabled={disabled}
      options={[
        { value: "-", label: none },
        ...(value && !named ? [{ value: "own", label: "a tone of its own" }] : []),
        ...options.map((o) => ({
          value: o.label,
          label: o.label,
          note: `${Math.round(o.surface.reflectance * 100)} %`,
        })),
      ]}
      onChange={(to) => {
        const found = options.find((o) => o.label === to);
        if (found) onChange(found.surface, found.label);
        else if (to === "-") onChange(null, none);
      }}
    />
  );
}
