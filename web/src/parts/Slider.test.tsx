// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, expect, test, vi } from "vitest";
import { Slider } from "./Slider";

afterEach(cleanup);

function Dimmer({ done = () => {}, disabled = false }) {
  const [value, setValue] = useState(0.5);
  return (
    <Slider
      label="Dimmer"
      value={value}
      min={0}
      max={1}
      step={0.1}
      fine={0.01}
      text={`${Math.round(100 * value)} %`}
      typed={(percent) => percent / 100}
      onChange={setValue}
      onDone={done}
      disabled={disabled}
    />
  );
}
const bar = () => screen.getByRole("slider", { name: "Dimmer" });
const shown = () => bar().getAttribute("aria-valuetext");

test("arrows move it, with Shift finely, and each is a gesture", async () => {
  const done = vi.fn();
  render(<Dimmer done={done} />);
  bar().focus();
  await userEvent.keyboard("{ArrowRight}");
  expect(shown()).toBe("60 %");
  await userEvent.keyboard("{Shift>}{ArrowLeft}{/Shift}");
  expect(shown()).toBe("59 %");
  await userEvent.keyboard("{End}{ArrowRight}");
  expect(shown()).toBe("100 %");
  expect(done).toHaveBeenCalledTimes(4);
});

test("a digit opens a field; Enter takes it, Escape does not, nonsense changes nothing", async () => {
  const done = vi.fn();
  render(<Dimmer done={done} />);
  bar().focus();
  await userEvent.keyboard("28{Enter}");
  expect(shown()).toBe("28 %");
  expect(done).toHaveBeenCalledTimes(1);
  await userEvent.keyboard("7{Escape}");
  expect(shown()).toBe("28 %");
  await userEvent.keyboard("{Enter}much{Enter}");
  expect(shown()).toBe("28 %");
  await userEvent.keyboard("900{Enter}");
  expect(shown()).toBe("100 %");
  expect(screen.queryByRole("textbox")).toBeNull();
});

test("a viewer's bar is no stop of the keyboard and takes nothing", () => {
  render(<Dimmer disabled />);
  expect(bar().tabIndex).toBe(-1);
  fireEvent.keyDown(bar(), { key: "ArrowRight" });
  fireEvent.doubleClick(bar());
  expect(shown()).toBe("50 %");
  expect(screen.queryByRole("textbox")).toBeNull();
});
