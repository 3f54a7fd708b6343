import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useEffect, useRef, useState } from "react";
import { api, got, type Document, type Problem, type Schemas } from "../../app/api";
import { usePreferences } from "../../app/preferences";
import { Button } from "../../parts/Button";
import { isNear, leftWords, settingOf, settingWords } from "../camera/settings";
import { takeTo } from "../order/order";
import { report } from "../session/line";
import { act, mayEdit, readDesk, useDesk, withCamera, type Desk } from "../store";

type Restored = Schemas["Restored"];

/** A set-up without what sets the level alone: dimmers, switches, cameras. */
const butLevels = (d: Document) =>
  JSON.stringify({ ...d, cameras: 0, units: d.units.map((u) => ({ ...u, dimmer: 0, on: true })) });

type Before = NonNullable<Desk["before"]>;
type Found = { of: Document; since: Before; restored: Restored };

/**
 * What the last gesture did to the light on the face, and putting that back by a dimmer or by the
 * camera. Who dims or stops down means to change it and is not asked. What a gesture took is still
 * told after others that took nothing.
 */
export function PutBack() {
  const draft = useDesk((d) => d.draft);
  const before = useDesk((d) => (mayEdit(d) && d.draft === d.settled ? d.before : null));
  const [found, setFound] = useState<Found | null>(null);
  const told = useRef<Found | null>(null);
  const step = usePreferences((p) => p.step);
  const pk = useDesk((d) => d.record?.id);
  // What another set-up lost is nothing to this one.
  useEffect(() => {
    told.current = null;
  }, [pk]);
  useEffect(() => {
    if (!before || !draft) return;
    if (butLevels(before.document) === butLevels(draft)) {
      told.current = null;
      return;
    }
    const stop = new AbortController();
    const restored = async (since: Before): Promise<Found> => ({
      of: draft,
      since,
      restored: await got<Restored>(
        api.POST("/api/setups/{pk}/restored", {
          params: { path: { pk: readDesk().record!.id } },
          body: { document: draft, before: since.document, step },
          signal: stop.signal,
        }),
      ),
    });
    // Once the hand has rested a moment.
    const soon = setTimeout(() => {
      restored(before)
        .then((now) => (now.restored.words || !told.current ? now : restored(told.current.since)))
        .then((now) => {
          if (stop.signal.aborted) return;
          told.current = now.restored.words ? now : null;
          setFound(now);
        })
        .catch((error: Problem) => {
          if (!stop.signal.aborted) report(error);
        });
    }, 600);
    return () => {
      clearTimeout(soon);
      stop.abort();
    };
  }, [before, draft, step]);
  if (!before || found?.of !== draft || !found?.restored.words) return null;
  const { since } = found,
    { words, levers, anew } = found.restored,
    ways = found.restored.ways.filter(isNear);
  return (
    <Popover className="min-w-0">
      <PopoverButton
        as={Button}
        look="bare"
        title={`Since “${since.gesture}”`}
        className="max-w-full px-2 text-xs"
      >
        <b className="min-w-0 truncate">{words}</b>{" "}
        <span className="whitespace-nowrap text-quiet">{anew ? "set it…" : "put it back…"}</span>
      </PopoverButton>
      <PopoverPanel
        anchor="bottom start"
        aria-label="Put it back"
        className="z-20 grid w-72 gap-2 rounded-lg border border-line bg-panel p-3 text-sm shadow-xl"
      >
        <p className="text-xs text-quiet">
          Since “{since.gesture}”.{" "}
          {levers.length + ways.length === 0
            ? "Nothing alone puts it back: what lost the light cannot be dimmed, and no setting of the camera comes near."
            : anew
              ? "The camera is set for it by one of these:"
              : "One of these puts it back:"}
        </p>
        {levers.map((lever) => (
          <p key={lever.unit} className="flex items-center justify-between gap-2">
            <span>{lever.words}</span>
            <Button onClick={() => takeTo(lever.unit, lever.dimmer)}>
              dimmer {percent(lever.dimmer)}
            </Button>
          </p>
        ))}
        {ways.length > 0 && (
          <div role="group" aria-label="By the camera" className="flex flex-wrap gap-1">
            {ways.map((way) => (
              <Button
                key={way.what}
                onClick={() =>
                  act(
                    withCamera(() => settingOf(way)),
                    `Camera: ${settingWords(way)}, exposure put back`,
                  )
                }
              >
                <span>
                  {settingWords(way)}
                  <span className="text-quiet">{leftWords(way)}</span>
                </span>
              </Button>
            ))}
          </div>
        )}
      </PopoverPanel>
    </Popover>
  );
}

const percent = (part: number) => `${+(100 * part).toPrecision(2)} %`;
