import type { Constants, Furniture } from "../../../app/api";
import { Choice } from "../../../parts/Choice";
import { SurfaceFields } from "../SurfaceFields";

/** What a model is of: the colours of its file, or one paint over all of it. */
export function ScanPaint({
  item,
  constants,
  disabled,
  onChange,
}: {
  item: Furniture;
  constants: Constants;
  disabled: boolean;
  onChange: (second: Furniture["second"], words: string) => void;
}) {
  return (
    <>
      <Choice
        label="Its colours"
        value={item.second ? "paint" : "own"}
        disabled={disabled}
        options={[
          { value: "own", label: "as its file has them" },
          { value: "paint", label: "one paint over all" },
        ]}
        onChange={(v) =>
          v === "own"
            ? onChange(null, "its own colours")
            : onChange({ reflectance: 0.5, colour: [1, 1, 1] }, "painted over")
        }
      />
      {item.second && (
        <SurfaceFields
          title="Painted with"
          surface={item.second}
          materials={constants.materials}
          disabled={disabled}
          onChange={onChange}
        />
      )}
    </>
  );
}
