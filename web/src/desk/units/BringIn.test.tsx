// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { head } from "../frame/scene.fixture";
import type { Attachment } from "../../app/api";
import { BringIn } from "./BringIn";
import { bring } from "./rigging";

vi.mock("./rigging", () => ({ bring: vi.fn() }));
beforeEach(() => vi.mocked(bring).mockClear());

afterEach(cleanup);

const heads = [
  { ...head, key: "a", name: "Soft panel", peak: 1500 },
  { ...head, key: "b", name: "Battery tube", peak: 400, battery: 90, colour: true },
  { ...head, key: "c", name: "Big fresnel", peak: 40_000, weight: 12, price: "large unit" },
];
const attachments = [
  { key: "lens", name: "Projection lens, 26°", fits: ["point"] },
  { key: "grid", name: "Egg crate", fits: ["panel", "tube"] },
] as Attachment[];
const listed = () =>
  within(screen.getByRole("radiogroup", { name: "Head" }))
    .queryAllByRole("radio")
    .map((r) => r.firstElementChild!.textContent);

test("heads are found by name, by what they can, and by what they give at two metres", () => {
  render(<BringIn heads={heads} attachments={attachments} close={() => {}} />);
  expect(listed()).toEqual(["Soft panel", "Battery tube", "Big fresnel"]);
  fireEvent.change(screen.getByLabelText("Find by name"), { target: { value: "  TUBE" } });
  expect(listed()).toEqual(["Battery tube"]);
  fireEvent.change(screen.getByLabelText("Find by name"), { target: { value: "" } });
  fireEvent.click(screen.getByRole("button", { name: "under 5 kg" }));
  expect(listed()).toEqual(["Soft panel", "Battery tube"]);
  fireEvent.click(screen.getByRole("button", { name: "mixes colours" }));
  expect(listed()).toEqual(["Battery tube"]);
  fireEvent.click(screen.getByRole("button", { name: "mixes colours" }));
  fireEvent.click(screen.getByRole("button", { name: "under 5 kg" }));
  // 1000 fc at 2 m are 10,764 lx: only a peak of more than four times that gives them.
  const least = screen.getByLabelText("At least, at 2 m");
  fireEvent.change(least, { target: { value: "500" } });
  fireEvent.keyDown(least, { key: "Enter" });
  expect(listed()).toEqual(["Big fresnel"]);
});

test("what was picked and filtered away is not brought in behind one's back", () => {
  render(<BringIn heads={heads} attachments={attachments} close={() => {}} />);
  fireEvent.click(screen.getByRole("radio", { name: /Big fresnel/ }));
  fireEvent.click(screen.getByRole("button", { name: "on battery" }));
  expect(screen.getByRole("radio", { checked: true }).textContent).toContain("Battery tube");
  fireEvent.change(screen.getByLabelText("Find by name"), { target: { value: "nothing like it" } });
  expect(screen.getByText("No head is like that.")).toBeTruthy();
  expect(screen.getByText("beam, 50 %").closest(".invisible")).toBeTruthy();
  expect((screen.getByRole("button", { name: "Bring it in" }) as HTMLButtonElement).disabled).toBe(
    true,
  );
});

test("what hangs on a head is found by the heads that take it", () => {
  const groups = [
    { ...heads[0]!, group: "panel" },
    { ...heads[1]!, group: "tube" },
    { ...heads[2]!, group: "point" },
  ] as typeof heads;
  render(<BringIn heads={groups} attachments={attachments} close={() => {}} />);
  const find = screen.getByLabelText("Find by name");
  fireEvent.change(find, { target: { value: "projection" } });
  expect(listed()).toEqual(["Big fresnel"]);
  expect(screen.getByText(/Projection lens, 26°: hung on a head once it is in/)).toBeTruthy();
  fireEvent.change(find, { target: { value: "crate" } });
  expect(listed()).toEqual(["Soft panel", "Battery tube"]);
  // A head of that name goes before what hangs on others, and a letter or two find no attachment.
  fireEvent.change(find, { target: { value: "fresnel" } });
  expect(listed()).toEqual(["Big fresnel"]);
  fireEvent.change(find, { target: { value: "pr" } });
  expect(screen.getByText("No head is like that.")).toBeTruthy();
});

test("a name typed and Enter bring it in; arrow keys go through the list; a level does neither", async () => {
  const close = vi.fn();
  render(<BringIn heads={heads} attachments={attachments} close={close} />);
  await userEvent.type(screen.getByLabelText("At least, at 2 m"), "{Control>}a{/Control}5{Enter}");
  expect(bring).not.toHaveBeenCalled();
  await userEvent.type(screen.getByLabelText("Find by name"), "fres{Enter}");
  expect(bring).toHaveBeenLastCalledWith(heads[2]);
  expect(close).toHaveBeenCalledTimes(1);
  await userEvent.clear(screen.getByLabelText("Find by name"));
  screen.getByRole("radio", { checked: true }).focus();
  await userEvent.keyboard("{ArrowDown}{Enter}");
  expect(bring).toHaveBeenLastCalledWith(heads[1]);
  await userEvent.type(screen.getByLabelText("Find by name"), "nothing like it{Enter}");
  expect(bring).toHaveBeenCalledTimes(2);
});
