// @vitest-environment happy-dom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import type { Constants, Schemas } from "../../app/api";
import { head, openSmall } from "../frame/scene.fixture";
import { readDesk, setDesk } from "../store";
import { SourceBuilder } from "./SourceBuilder";

afterEach(cleanup);

const constants = { heads: [head], attachments: [], moves: [] } as unknown as Constants;
const inspection = {
  id: "k",
  lux: 100,
  footcandles: 9.3,
  stop_words: "T2.8",
  ways: [{ name: "straight from the lamp", share: 1 }],
  cost: null,
  size: { degrees: 5, width: 0.15, height: 0.15, distance: 2, half: 4, most: 5 },
  shadow: { cheek: 0.002, backdrop: null, wrap: 2 },
  coverage: { widths: { half: 1, one: 1.5, one_and_half: 1.8 }, falloff: 5.4 },
  spill: null,
  white: { kelvin: 5600, green: 0 },
  stages: [{ kind: "face", name: "On the face", lux: 100, words: "", note: "" }],
  faults: [],
  grip: [],
} as unknown as Schemas["Inspection"];

test("figures of before the last gesture are told as such until the newer ones are there", () => {
  openSmall();
  setDesk({ inspection, inspecting: true });
  render(<SourceBuilder unit={readDesk().draft!.units[0]!} constants={constants} disabled />);
  const section = screen.getByRole("region", { name: "Way of the light" });
  expect(section.getAttribute("aria-busy")).toBe("true");
  expect(screen.getByRole("status").textContent).toMatch("working it out");
  // The table and the list of figures pale with it.
  for (const part of [screen.getByRole("table"), screen.getByLabelText("Measured")])
    expect(part.className).toContain("group-aria-busy:opacity");
});
