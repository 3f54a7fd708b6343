import type { Constants, Schemas } from "../app/api";

export type GearLine = Schemas["GearOut"];
export type Gear = Schemas["Gear"];
export type Kind = Gear["kind"];

/** Figures that a kind of gear has, besides count, price and weight. */
export const FIGURES: Record<Kind, (keyof Gear)[]> = {
  head: ["watts", "lux", "distance"],
  attachment: [],
  sheet: ["width", "height"],
  stand: ["height"],
  arm: [],
  bag: [],
  cable: ["length"],
  distribution: ["amperes"],
  battery: ["watt_hours"],
  filter: [],
};

export const LABELS: Partial<Record<keyof Gear, [string, string]>> = {
  watts: ["Power", "W"],
  lux: ["Own reading on the axis, at full", "lx"],
  distance: ["Read at", "m"],
  width: ["Width", "m"],
  height: ["Height", "m"],
  length: ["Length", "m"],
  amperes: ["Current", "A"],
  watt_hours: ["Capacity", "Wh"],
  weight: ["Weight", "kg"],
  price: ["Price a day", ""],
};

/** What the catalogue has of a kind, to choose from; nothing where a name is enough. */
export function catalogue(kind: Kind, c: Constants): { key: string; name: string }[] {
  switch (kind) {
    case "head":
      return c.heads.filter((h) => !h.of_place);
    case "attachment":
      return c.attachments.filter((a) => a.group !== "gel");
    case "filter":
      return [{ key: "nd", name: "ND" }, ...c.attachments.filter((a) => a.group === "gel")];
    case "sheet":
      return c.materials.filter((m) => m.group !== "paint");
    case "stand":
      return c.stands;
    case "arm":
      return [
        { key: "boom", name: "Boom arm" },
        { key: "arm", name: "Arm and knuckle" },
        { key: "clamp", name: "Clamp and safety wire" },
      ];
    case "battery":
      return c.heads
        .filter((h) => h.battery > 0)
        .map((h) => ({ key: `battery:${h.key}`, name: `for ${h.name}` }));
    default:
      return [];
  }
}

/** A line's own figures in words. */
export function told(line: Gear | GearLine, c: Constants) {
  const known = catalogue(line.kind, c).find((k) => k.key === line.key);
  const parts = known && known.name !== line.name ? [known.name] : [];
  if (line.width && line.height && line.kind === "sheet")
    parts.push(`${line.width} × ${line.height} m`);
  for (const [field, unit] of [
    ["watts", "W"],
    ["length", "m"],
    ["watt_hours", "Wh"],
    ["amperes", "A"],
    ["weight", "kg"],
  ] as const) {
    const value = line[field];
    if (value !== null && value !== undefined) parts.push(`${value} ${unit}`);
  }
  if (line.lux && line.distance) parts.push(`${line.lux} lx at ${line.distance} m`);
  if ("has_file" in line && line.has_file) parts.push("own light from a file");
  if (line.note) parts.push(line.note);
  return parts.join(" · ");
}

/** A line as it is begun. */
export const fresh = (kind: Kind): Gear => ({
  kind,
  name: "",
  key: "",
  count: 1,
  price: 0,
  file: "",
  note: "",
});
