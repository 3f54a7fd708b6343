// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { Picture } from "./Picture";

afterEach(cleanup);

test("a skeleton until the picture is there, and a word when it does not come", () => {
  const { rerender } = render(<Picture key="a" src="/a.png" alt="Keeper" />);
  const picture = screen.getByAltText("Keeper");
  expect(screen.getByRole("img", { name: "The picture is being made" })).toBeTruthy();
  expect(picture.className).toContain("opacity-0");
  fireEvent.load(picture);
  expect(screen.queryByRole("img", { name: "The picture is being made" })).toBeNull();
  expect(picture.className).not.toContain("opacity-0");
  rerender(<Picture key="b" src="/b.png" alt="Pilot" />);
  fireEvent.error(screen.getByAltText("Pilot"));
  expect(screen.getByText("No picture just now")).toBeTruthy();
});
