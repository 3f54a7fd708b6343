// @vitest-environment happy-dom
import { fireEvent, render, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { filtersOf, NdFilters } from "./NdFilters";

test("densities become stops, each once and rising", () => {
  expect(filtersOf("0.9 0.3, 0.6;1.8 0.3")).toEqual([1, 2, 3, 6]);
  expect(filtersOf("  ")).toEqual([]);
  expect(filtersOf("0.3 x")).toBeNull();
  expect(filtersOf("-0.3")).toBeNull();
  expect(filtersOf("30")).toBeNull();
});

test("the line is taken on Enter, kept back while it is wrong, and given up on Escape", () => {
  const onChange = vi.fn();
  render(<NdFilters filters={[1]} disabled={false} onChange={onChange} />);
  const line = screen.getByLabelText("ND at hand, by density") as HTMLInputElement;
  expect(line.value).toBe("0.3");
  fireEvent.change(line, { target: { value: "0.3 0.6" } });
  fireEvent.keyDown(line, { key: "Enter" });
  expect(onChange).toHaveBeenLastCalledWith([1, 2]);
  fireEvent.change(line, { target: { value: "0.3 much" } });
  fireEvent.keyDown(line, { key: "Enter" });
  expect(onChange).toHaveBeenCalledTimes(1);
  expect(screen.getByRole("alert").textContent).toContain("Densities");
  fireEvent.keyDown(line, { key: "Escape" });
  expect(line.value).toBe("0.3");
});
