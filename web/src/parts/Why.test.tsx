// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { Why } from "./Why";

afterEach(cleanup);

test("a reason is given by key or button, never an empty one, and left by Escape", () => {
  const give = vi.fn(),
    leave = vi.fn();
  render(<Why label="Why it is skipped" doIt="Skip it" give={give} leave={leave} />);
  const field = screen.getByLabelText("Why it is skipped"),
    button = screen.getByRole("button", { name: "Skip it" }) as HTMLButtonElement;
  fireEvent.change(field, { target: { value: "   " } });
  fireEvent.keyDown(field, { key: "Enter" });
  expect(button.disabled).toBe(true);
  expect(give).not.toHaveBeenCalled();
  fireEvent.change(field, { target: { value: " no back light here " } });
  fireEvent.keyDown(field, { key: "Enter" });
  expect(give).toHaveBeenCalledWith("no back light here");
  fireEvent.click(button);
  expect(give).toHaveBeenCalledTimes(2);
  fireEvent.keyDown(field, { key: "Escape" });
  fireEvent.click(screen.getByRole("button", { name: "Leave" }));
  expect(leave).toHaveBeenCalledTimes(2);
});
