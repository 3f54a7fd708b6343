// @vitest-environment happy-dom
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Picture } from "./Picture";

beforeEach(() => vi.useFakeTimers());
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});
const picture = () => screen.getByAltText("the frame");

test("a picture that does not come is asked for again, four times, each later", () => {
  render(<Picture src="/p.png" alt="the frame" />);
  for (const wait of [2000, 4000, 8000, 16000]) {
    fireEvent.error(picture());
    expect(screen.getByLabelText("No picture just now")).toBeTruthy();
    const before = picture();
    act(() => vi.advanceTimersByTime(wait - 1));
    expect(picture()).toBe(before);
    act(() => vi.advanceTimersByTime(1));
    expect(picture()).not.toBe(before);
    expect(screen.getByLabelText("The picture is being made")).toBeTruthy();
  }
  fireEvent.error(picture());
  act(() => vi.advanceTimersByTime(1e6));
  expect(screen.getByLabelText("No picture just now")).toBeTruthy();
});

test("one that comes at the second try is shown", () => {
  render(<Picture src="/p.png" alt="the frame" />);
  fireEvent.error(picture());
  act(() => vi.advanceTimersByTime(2000));
  fireEvent.load(picture());
  expect(screen.queryByLabelText("The picture is being made")).toBeNull();
  expect(screen.queryByLabelText("No picture just now")).toBeNull();
});

test("one that is left gives its connection back", () => {
  const { unmount } = render(<Picture src="/p.png" alt="the frame" />);
  const image = picture() as HTMLImageElement;
  expect(image.getAttribute("src")).toBe("/p.png");
  unmount();
  expect(image.hasAttribute("src")).toBe(false);
});
