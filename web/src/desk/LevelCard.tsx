import { heightWords } from "./plan/polar";
import { useQuery } from "@tanstack/react-query";
import { api, got, type Schemas } from "../app/api";
import { Button } from "../parts/Button";
import { Sheet } from "../parts/Sheet";
import { useLength, useLight, usePreferences } from "../app/preferences";
import { useDesk } from "./store";

/**
 * Everything that puts the set-up back, as it is stored: to read, to print, to take along as a
 * table.
 */
export function LevelCard({ open, close }: { open: boolean; close: () => void }) {
  const { id } = useDesk((d) => d.record!);
  const version = useDesk((d) => d.version);
  const step = usePreferences((p) => p.step);
  const length = useLength(),
    light = useLight();
  const card = useQuery({
    queryKey: ["card", id, version, step],
    enabled: open,
    queryFn: () =>
      got<Schemas["LevelCard"]>(
        api.GET("/api/setups/{pk}/card", { params: { path: { pk: id }, query: { step } } }),
      ),
  });
  const feet = length.unit === "ft";
  const file = (kind: string) => `/api/setups/${id}/card.${kind}?step=${step}&feet=${feet}`,
    plan = (kind: string) => `/api/setups/${id}/plan.${kind}?feet=${feet}`;
  const link = "inline-flex h-10 items-center rounded border border-line px-4 hover:bg-raised";
  return (
    <Sheet open={open} close={close} title="Level card" wide="card">
      {card.error && (
        <p role="alert" className="text-fault">
          {card.error.message}
        </p>
      )}
      {!card.data && !card.error && <p className="text-quiet">Metering…</p>}
      {card.data && (
        <div className="grid gap-3">
          <p>
            <b>{card.data.sentence}</b>
            <br />
            <span className="text-quiet">{card.data.place}</span>
          </p>
          <ul className="text-quiet">
            {card.data.camera.map((line) => (
              <li key={line}>{line}</li>
            ))}
            {card.data.sky && <li>{card.data.sky}</li>}
          </ul>
          <table className="w-full text-xs">
            <thead className="text-left text-quiet">
              <tr>
                {["Unit", "Head, hung on", "Place", "Light", "White", "At the face"].map((h) => (
                  <th key={h} className="pr-3 pb-1 font-normal">
                    {h}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {card.data.units.map((u) => (
                <tr key={u.name} className="border-t border-line align-top">
                  <th scope="row" className="py-1 pr-3 text-left">
                    {u.name}
                    <br />
                    <span className="font-normal text-quiet">
                      {u.role}
                      {!u.on && ", off"}
                    </span>
                  </th>
                  <td className="py-1 pr-3">
                    {u.head}
                    {u.hung && (
                      <>
                        <br />
                        <span className="text-quiet">{u.hung}</span>
                      </>
                    )}
                  </td>
                  <td className="py-1 pr-3">
                    {u.angle}° {u.side}, {heightWords(u.height)}
                    <br />
                    <span className="text-quiet">
                      {length.text(u.distance)} to the face, {length.text(u.over_floor)} over the
                      floor; {u.held}
                      {u.feed && `, on ${u.feed}`}
                    </span>
                  </td>
                  <td className="py-1 pr-3">
                    {u.dimmer} %<br />
                    <span className="text-quiet">dial {u.dial} %</span>
                  </td>
                  <td className="py-1 pr-3 whitespace-nowrap">{u.white}</td>
                  <td className="py-1 whitespace-nowrap">
                    {light.text(u.lux, u.footcandles)}
                    <br />
                    <span className="text-quiet">{u.stop}</span>
                    {u.lands && u.lands_lux !== null && (
                      <span className="block text-quiet">
                        {light.text(u.lands_lux, u.lands_footcandles!)} on {u.lands}
                      </span>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {card.data.units.length === 0 && <p className="text-quiet">No units yet.</p>}
          {card.data.grip.length > 0 && (
            <ul className="text-xs">
              {card.data.grip.map((g) => (
                <li key={g.name}>
                  <b>{g.name}</b>: {g.kind}, {g.material}, {g.size}; {length.text(g.distance)} to
                  the face, {length.text(g.over_floor)} over the floor
                </li>
              ))}
            </ul>
          )}
          {card.data.notes && <p className="whitespace-pre-wrap">{card.data.notes}</p>}
        </div>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <a className={link} href={file("pdf")} download>
          Page to print (PDF)
        </a>
        <a className={link} href={file("csv")} download>
          Table (CSV)
        </a>
        <a className={link} href={plan("svg")} download>
          Plan (SVG)
        </a>
        <a className={link} href={plan("dxf")} download>
          Plan (DXF)
        </a>
        <Button onClick={close} autoFocus>
          Done
        </Button>
      </div>
    </Sheet>
  );
}
