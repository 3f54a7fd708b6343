// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test } from "vitest";
import { usePreferences } from "../../app/preferences";
import { AddLine, MOST, over, WaveLines } from "./WaveLines";

afterEach(cleanup);
beforeEach(() => usePreferences.setState({ lines: [] }));

test("a level has over it what lies higher, and nothing lies over the top", () => {
  const sums = [10, 20, 30, 40, 0];
  expect(over(sums, 0)).toBeCloseTo(0.9);
  expect(over(sums, 50)).toBeCloseTo(0.4);
  expect(over(sums, 100)).toBe(0);
  expect(over([0, 0], 10)).toBe(0);
});

test("a line is put, carried by keys within the picture, and put away", () => {
  render(
    <>
      <WaveLines sums={[1, 1, 1, 1, 1]} />
      <AddLine />
    </>,
  );
  fireEvent.click(screen.getByRole("button", { name: "Add a line" }));
  const line = screen.getByRole("slider", { name: "Line 1" });
  expect(line.getAttribute("aria-valuenow")).toBe("60");
  expect(line.textContent).toBe("60 %, 40 over");
  fireEvent.keyDown(line, { key: "ArrowUp" });
  fireEvent.keyDown(line, { key: "ArrowDown", shiftKey: true });
  expect(usePreferences.getState().lines).toEqual([56]);
  for (let k = 0; k < 12; k++) fireEvent.keyDown(line, { key: "ArrowDown", shiftKey: true });
  expect(usePreferences.getState().lines).toEqual([0]);
  fireEvent.keyDown(line, { key: "Delete" });
  expect(screen.queryByRole("slider")).toBeNull();
});

test("there are no more lines than can be told apart, and none twice", () => {
  render(<AddLine />);
  const add = screen.getByRole("button", { name: "Add a line" });
  for (let k = 0; k < MOST + 2; k++) fireEvent.click(add);
  const { lines } = usePreferences.getState();
  expect(lines.length).toBe(MOST);
  expect(new Set(lines).size).toBe(MOST);
  expect(add.hasAttribute("disabled")).toBe(true);
});
