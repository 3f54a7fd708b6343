// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, expect, test } from "vitest";
import { usePreferences } from "../../app/preferences";
import { openSmall } from "../frame/scene.fixture";
import { readDesk } from "../store";
import { stopLooking, useRoom } from "./room";
import { RoomToMove } from "./RoomToMove";

beforeEach(() => {
  openSmall();
  usePreferences.setState({ room: true });
});
afterEach(cleanup);

const running = (moves: { words: string; trial: null }[] | null) =>
  useRoom.setState({ draft: readDesk().draft, running: true, moves, fault: "" });

test("stopped before its moves are known, it says so and offers them again", async () => {
  running(null);
  render(<RoomToMove />);
  await userEvent.click(screen.getByRole("button", { name: "Stop" }));
  expect(screen.getByRole("status").textContent).toBe("not tried");
  expect(screen.getByRole("button", { name: "Again" })).toBeTruthy();
});

test("stopped among its moves, it says how many are left", async () => {
  running([
    { words: "leans in", trial: null },
    { words: "leans back", trial: null },
  ]);
  render(<RoomToMove />);
  await userEvent.click(screen.getByRole("button", { name: "Stop" }));
  expect(screen.getByRole("status").textContent).toBe("2 not tried");
});

test("where there is no room to move, nothing is left and nothing is offered", () => {
  running([]);
  stopLooking();
  render(<RoomToMove />);
  expect(screen.queryByRole("status")).toBeNull();
});
