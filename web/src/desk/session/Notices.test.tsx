// @vitest-environment happy-dom
import "fake-indexeddb/auto";
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, expect, test } from "vitest";
import { openSmall } from "../frame/scene.fixture";
import { readDesk, setDesk } from "../store";
import { useLine } from "./line";
import { Notices } from "./Notices";

beforeEach(() => {
  openSmall();
  useLine.setState({ line: { state: "up" } });
});
afterEach(cleanup);

test("a server that is away and one with a fault are told apart, with what is kept", () => {
  useLine.setState({ line: { state: "down", tries: 1 } });
  setDesk({ unsent: 2 });
  const { rerender } = render(<Notices />);
  expect(screen.getByRole("alert").textContent).toContain(
    "cannot be reached. 2 edits are kept here",
  );
  useLine.setState({
    line: { state: "faulty", tries: 3, text: "It ran out of room.", resting: true },
  });
  rerender(<Notices />);
  expect(screen.getByRole("alert").textContent).toContain("with a fault: It ran out of room.");
  expect(screen.getByRole("alert").textContent).not.toContain("reached");
});

test("a fault names the unit it is about, and goes when it is dismissed", async () => {
  setDesk({ fault: { text: "It stands in the wall.", path: "units[0].position" } });
  render(<Notices />);
  expect(screen.getByRole("alert").textContent).toContain("Key: It stands in the wall.");
  await userEvent.click(screen.getByRole("button", { name: "Dismiss" }));
  expect(readDesk().fault).toBeNull();
  expect(screen.queryByRole("alert")).toBeNull();
});
