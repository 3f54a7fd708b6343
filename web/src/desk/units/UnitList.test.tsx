// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test } from "vitest";
import { gesturesOf, head, openSmall } from "../frame/scene.fixture";
import { readDesk, setDesk } from "../store";
import { UnitList } from "./UnitList";

afterEach(cleanup);
beforeEach(() => openSmall());

const show = () =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <UnitList heads={[head]} attachments={[]} />
    </QueryClientProvider>,
  );
const first = () => readDesk().draft!.units[0]!;

test("a unit is switched off and on from its row, each as a gesture", () => {
  show();
  const name = first().name;
  fireEvent.click(screen.getByRole("button", { name: `${name} off` }));
  expect(first().on).toBe(false);
  fireEvent.click(screen.getByRole("button", { name: `${name} on` }));
  expect(first().on).toBe(true);
  expect(gesturesOf()).toHaveLength(2);
});

test("alone is for looking: it stores nothing, and All brings the others back", () => {
  show();
  const { id, name } = first();
  fireEvent.click(screen.getByRole("button", { name: `${name} alone` }));
  expect(readDesk().solo).toBe(id);
  fireEvent.click(screen.getByRole("button", { name: "All" }));
  expect(readDesk().solo).toBeNull();
  expect(gesturesOf()).toEqual([]);
});

test("a viewer looks at units alone and switches none", () => {
  openSmall("viewer");
  show();
  const off = screen.getByRole("button", { name: `${first().name} off` }) as HTMLButtonElement;
  expect(off.disabled).toBe(true);
  expect(screen.queryByRole("button", { name: "Bring in a unit" })).toBeNull();
});

test("an empty stage says what to do", () => {
  setDesk((d) => ({ draft: { ...d.draft!, units: [], openings: [] } }) as never);
  show();
  expect(screen.getByText(/Bring in the key first/)).toBeTruthy();
});
