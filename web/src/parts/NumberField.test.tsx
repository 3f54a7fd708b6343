// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, expect, test, vi } from "vitest";
import { NumberField } from "./NumberField";

afterEach(cleanup);

function Distance({ took = () => {} }: { took?: (v: number) => void }) {
  const [value, setValue] = useState(2);
  return (
    <NumberField
      label="Distance"
      unit="m"
      digits={2}
      value={value}
      step={0.1}
      min={0.2}
      max={12}
      onChange={(v) => {
        setValue(v);
        took(v);
      }}
    />
  );
}
const field = () => screen.getByLabelText("Distance") as HTMLInputElement;
const type = (text: string, end: "Enter" | "leave" | "Escape") => {
  fireEvent.change(field(), { target: { value: text } });
  if (end === "leave") fireEvent.blur(field());
  else fireEvent.keyDown(field(), { key: end });
};

test("what is typed is taken on Enter or on leaving, and held in its range", () => {
  render(<Distance />);
  type("3,5", "Enter");
  expect(field().value).toBe("3.50");
  type("99", "leave");
  expect(field().value).toBe("12.00");
});

test("what is no number, and what is given up, changes nothing", () => {
  const took = vi.fn();
  render(<Distance took={took} />);
  type("far", "Enter");
  type("7", "Escape");
  expect(field().value).toBe("2.00");
  type("2.00", "leave");
  expect(took).not.toHaveBeenCalled();
});

test("arrows nudge by a step, with Shift by a tenth, and drop what was typed", () => {
  render(<Distance />);
  fireEvent.change(field(), { target: { value: "9" } });
  fireEvent.keyDown(field(), { key: "ArrowUp" });
  expect(field().value).toBe("2.10");
  fireEvent.keyDown(field(), { key: "ArrowDown", shiftKey: true });
  expect(field().value).toBe("2.09");
});
