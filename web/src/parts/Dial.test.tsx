// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { Dial } from "./Dial";

afterEach(cleanup);

function drawn() {
  const took = vi.fn();
  render(
    <Dial
      label="Frames a second"
      value={25}
      options={[24, 25, 50].map((value) => ({ value, label: `${value} fps` }))}
      read={(text) => {
        const fps = parseFloat(text);
        return fps >= 1 && fps <= 240 ? fps : null;
      }}
      nameOf={(fps) => `${fps} fps`}
      hint="A number from 1 to 240"
      onChange={took}
    />,
  );
  return { took, field: screen.getByRole("combobox") as HTMLInputElement };
}
const typed = (field: HTMLInputElement, text: string) => {
  field.focus();
  fireEvent.change(field, { target: { value: text } });
};

test.each([
  ["33.3", 33.3],
  ["24 fps", 24],
  ["5", 5],
])("%s that is typed is taken with Enter", async (text, value) => {
  const { took, field } = drawn();
  expect(field.value).toBe("25 fps");
  typed(field, text);
  fireEvent.keyDown(field, { key: "Enter" });
  expect(took).toHaveBeenCalledExactlyOnceWith(value);
  // The desk's keys are not typed into it.
  await waitFor(() => expect(document.activeElement).toBe(screen.getByRole("button")));
});

test("what cannot be read is said, and nothing is taken", () => {
  const { took, field } = drawn();
  for (const text of ["abc", "0.5", "500"]) {
    typed(field, text);
    expect(screen.getByText("A number from 1 to 240")).toBeTruthy();
    fireEvent.keyDown(field, { key: "Enter" });
  }
  expect(took).not.toHaveBeenCalled();
});
