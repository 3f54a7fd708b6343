import { useMemo, useRef, useState, type PointerEvent } from "react";
import type { Figure, Furniture, Head, Piece, Point, Unit } from "../../app/api";
import { setPosition } from "../units/gestures";
import { heightWords, toPolar } from "./polar";
import { placeNames } from "./names";
import { placeScale, planReach, planScale, turnOn, type PlanScale } from "./planScale";
import { useLength, usePreferences } from "../../app/preferences";
import { RingGround } from "./RingGround";
import { PlaceGround } from "./PlaceGround";
import { OutlineLayer } from "./OutlineLayer";
import { carry } from "../grip/gripping";
import { holdOverFloor } from "../meter/marking";
import { FurnitureGlyph } from "./FurnitureGlyph";
import { SunLayer } from "./SunLayer";
import { StandLayer } from "./StandLayer";
import { SocketLayer } from "./SocketLayer";
import { LandingLayer } from "./LandingLayer";
import { putPatch } from "../units/landing";
import { GripGlyph } from "./GripGlyph";
import { carryPiece } from "../place/furnishing";
import { useScans } from "../place/models/scans";
import { carryPerson } from "../place/people";
import { PersonGlyph } from "./PersonGlyph";
import { PlanLevels } from "./LevelLayer";
import {
  choose,
  chooseGrip,
  choosePerson,
  choosePiece,
  mayEdit,
  move,
  setDesk,
  settle,
  useDesk,
  withCamera,
} from "../store";
import { WalkLayer } from "./WalkLayer";
import { UnitGlyph } from "./UnitGlyph";
import { CameraGlyph, cameraWords, Eyeline, OtherCamera } from "./CameraGlyphs";

type Props = { heads: Head[]; pieces: Piece[]; width: number; height: number };
/** Before the id of a piece of furniture in hand: ids of units may be the same. */
const MICROPHONE = "@microphone",
  FURNITURE = "furniture:",
  PERSON = "person:";

/** What a hand carries, from where; `off` is how far its middle is from the hand. */
type Held = { id: string; reach: number; from: Point; off?: [number, number] };

/** Height of the line under the plan that says where the chosen unit stands [px]. */
const NOTE = 20;

/**
 * Two views of the same floor, both in true scale: stop-rings (subject in the middle, camera at the
 * foot; a ring is a stop, a spoke fifteen degrees), and the place with north up.
 */
export function RingPlan({ heads, pieces, width, height }: Props) {
  const draft = useDesk((d) => d.draft!);
  const scans = useScans(draft.furniture.some((f) => f.scan));
  const look = useDesk((d) => d.look);
  const chosen = useDesk((d) => d.chosen);
  const chosenGrip = useDesk((d) => (d.panel === "grip" ? d.chosenGrip : null));
  const chosenFigure = useDesk((d) => (d.panel === "figure" ? d.chosenFigure : null));
  const chosenPiece = useDesk((d) =>
    d.panel === "room" && d.place === "furniture" ? d.chosenPiece : null,
  );
  const map = useDesk((d) => d.map);
  const walked = useDesk((d) => d.walked);
  const editable = useDesk(mayEdit);
  const pointing = useDesk((d) => d.pointing);
  const length = useLength();
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<Held | null>(null);
  const [still, setStill] = useState<PlanScale | null>(null);
  const camera = draft.cameras[0]!;
  const lens = camera.position as Point;
  const [fx = 0, fy = 0, fz = 0] = look?.anchor ?? [];
  const reach = held?.reach ?? planReach(draft, [fx, fy, fz]);
  // While the camera is in hand the plan keeps still: turned with it, the hand would chase it.
  const [lx, ly] = held?.id === "camera" ? held.from : lens;
  // The ground is drawn again only when one of these numbers changes, not at every reading.
  const face = useMemo((): Point => [fx, fy, fz], [fx, fy, fz]);
  const north = usePreferences((p) => p.plan === "place");
  const shaping = useDesk((d) => d.panel === "room" && d.place === "room");
  const rings = useMemo(
    () => planScale(width, height - NOTE, reach, face, [lx, ly, 0]),
    [width, height, reach, face, lx, ly],
  );
  // In hand, the place keeps still too.
  const place = useMemo(
    () => placeScale(width, height - NOTE, draft, chosenPiece),
    [width, height, draft, chosenPiece],
  );
  const scale = north ? (still ?? place) : rings;
  if (!look)
    return <div className="grid flex-1 place-items-center text-quiet">Laying out the plan…</div>;

  function pointer(event: PointerEvent): [number, number] {
    const box = svg.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  }
  function hold(next: Held) {
    setStill(place);
    setHeld(next);
  }
  function grab(event: PointerEvent<SVGGElement>, id: string, from: Point) {
    event.stopPropagation();
    const piece = draft.grip.some((g) => g.id === id);
    if (piece) chooseGrip(id);
    else if (id === "camera") setDesk({ panel: "camera" });
    else if (id === MICROPHONE) setDesk({ panel: "meter", meter: "sound" });
    else choose(id);
    if (!editable) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    hold({ id, reach: planReach(draft, face), from });
  }
  function grabPiece(event: PointerEvent<SVGGElement>, item: Furniture) {
    if (pointing) return;
    event.stopPropagation();
    choosePiece(item.id);
    if (!editable || item.locked) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const [x, y] = scale.toFloor(...pointer(event)),
      off: [number, number] = [item.position[0] - x, item.position[1] - y];
    hold({ id: FURNITURE + item.id, reach: planReach(draft, face), from: item.position, off });
  }
  function grabPerson(event: PointerEvent<SVGGElement>, person: Figure) {
    if (pointing) return;
    event.stopPropagation();
    choosePerson(person.id);
    if (!editable) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const from: Point = [person.position[0], person.position[1], 0];
    hold({ id: PERSON + person.id, reach: planReach(draft, face), from });
  }
  function drag(event: PointerEvent) {
    if (!held) return;
    if (held.id.startsWith(PERSON))
      return carryPerson(held.id.slice(PERSON.length), scale.toFloor(...pointer(event)));
    if (held.id.startsWith(FURNITURE)) {
      const [px, py] = scale.toFloor(...pointer(event)),
        [ox, oy] = held.off!;
      return carryPiece(held.id.slice(FURNITURE.length), [px + ox, py + oy], event.altKey);
    }
    const [x, y] = constrain(scale.toFloor(...pointer(event)), held.from, face, event);
    if (held.id === "camera") move(withCamera((c) => ({ position: [x, y, c.position[2]] })));
    else if (held.id === MICROPHONE) move((d) => ({ ...d, microphone: [x, y, held.from[2]] }));
    else if (draft.grip.some((g) => g.id === held.id)) carry(held.id, [x, y, held.from[2]]);
    else setPosition(held.id, [x, y, held.from[2]]);
  }
  function drop() {
    if (!held) return;
    const name =
      held.id === "camera"
        ? camera.name
        : held.id === MICROPHONE
          ? "microphone"
          : held.id.startsWith(PERSON)
            ? draft.figures.find((f) => PERSON + f.id === held.id)?.name
            : held.id.startsWith(FURNITURE)
              ? draft.furniture.find((f) => FURNITURE + f.id === held.id)?.name
              : ([...draft.units, ...draft.grip].find((u) => u.id === held.id)?.name ?? "unit");
    setHeld(null);
    setStill(null);
    settle(`${name} moved`);
  }
  const unit = draft.units.find((u) => u.id === chosen);
  const note =
    held?.id === "camera"
      ? cameraWords(look, length.text)
      : unit && words(unit, held?.id === unit.id ? held.from : null, face, lens, length.text);
  const shown = draft.units.filter((u) => u.id !== chosen).concat(unit ?? []);
  const names = placeNames(
    shown.map((u) => ({ id: u.id, name: u.name, at: scale.toScreen(u.position as Point) })),
    [scale.toScreen(face), scale.toScreen(lens)],
    width,
    height - NOTE,
  );
  return (
    <div className="relative">
      <svg
        ref={svg}
        width={width}
        height={height - NOTE}
        className={`touch-none select-none ${pointing ? "cursor-crosshair" : ""}`}
        aria-label={north ? "Plan of the place" : "Stop-ring plan"}
        role="group"
        onPointerDown={(e) => {
          const place = scale.toFloor(...pointer(e));
          if (pointing === "patch") putPatch([...place, 0]);
          else if (pointing) holdOverFloor(place);
        }}
        onPointerMove={drag}
        onPointerUp={drop}
        onPointerCancel={drop}
      >
        {north ? (
          <PlaceGround
            room={draft.room}
            openings={draft.openings}
            scale={scale}
            width={width}
            height={height - NOTE}
          />
        ) : (
          <RingGround
            room={draft.room}
            openings={draft.openings}
            face={face}
            scale={scale}
            width={width}
            height={height - NOTE}
          />
        )}
        {[...draft.furniture]
          .sort((a, b) => a.position[2] + a.size[2] - b.position[2] - b.size[2])
          .map((f) => (
            <FurnitureGlyph
              key={f.id}
              item={f}
              round={pieces.find((p) => p.key === f.kind)?.round ?? false}
              opens={pieces.find((p) => p.key === f.kind)?.opens ?? false}
              outline={scans.data?.find((s) => s.digest === f.scan)?.outline}
              scale={scale}
              chosen={f.id === chosenPiece}
              named={draft.units.some((u) => u.piece === f.id)}
              onPointerDown={(e) => grabPiece(e, f)}
            />
          ))}
        <SunLayer scale={scale} />
        <LandingLayer scale={scale} />
        <StandLayer
          units={draft.units}
          grip={draft.grip}
          chosen={{ unit: chosen, grip: chosenGrip }}
          scale={scale}
        />
        <SocketLayer
          scale={scale}
          unit={unit}
          editable={editable}
          place={(e) => scale.toFloor(...pointer(e))}
          hold={(on) => setStill(on ? place : null)}
        />
        {draft.cameras.slice(1).map((c) => (
          <OtherCamera
            key={c.id}
            camera={c}
            spread={look.spreads[c.id] ?? look.half_width}
            scale={scale}
          />
        ))}
        <CameraGlyph
          scale={scale}
          at={lens}
          aim={camera.aim as Point}
          spread={look.half_width}
          onPointerDown={(e) => grab(e, "camera", lens)}
        />
        {map && (map.plane === "floor" || map.plane === "face") && (
          <PlanLevels map={map} scale={scale} />
        )}
        {walked && <WalkLayer walked={walked} scale={scale} />}
        {draft.figures[0]!.eyeline && (
          <Eyeline face={face} to={draft.figures[0]!.eyeline as Point} scale={scale} />
        )}
        {draft.marks.map((m) => (
          <MarkDot key={m.id} at={scale.toScreen(m.position)} name={m.name} />
        ))}
        {draft.microphone && (
          <Microphone
            at={scale.toScreen(draft.microphone as Point)}
            onPointerDown={(e) => grab(e, MICROPHONE, draft.microphone as Point)}
          />
        )}
        {draft.grip.map((g) => (
          <GripGlyph
            key={g.id}
            piece={g}
            scale={scale}
            chosen={g.id === chosenGrip}
            onPointerDown={(e) => grab(e, g.id, g.position as Point)}
          />
        ))}
        {draft.figures.slice(1).map((f) => (
          <PersonGlyph
            key={f.id}
            person={f}
            scale={scale}
            chosen={f.id === chosenFigure}
            onPointerDown={(e) => grabPerson(e, f)}
          />
        ))}
        <Subject
          scale={scale}
          face={face}
          person={draft.figures[0]!}
          onPointerDown={(e) => north && grabPerson(e, draft.figures[0]!)}
        />
        {shown.map((u) => (
          <UnitGlyph
            key={u.id}
            unit={u}
            head={heads.find((h) => h.key === u.head)}
            beam={look.readings.units.find((r) => r.id === u.id)?.beam}
            scale={scale}
            chosen={u.id === chosen}
            name={names[u.id]!}
            onPointerDown={(e) => grab(e, u.id, u.position as Point)}
          />
        ))}
        {north && shaping && editable && !draft.room.outdoors && (
          <OutlineLayer
            room={draft.room}
            scale={scale}
            place={(e) => scale.toFloor(...pointer(e))}
            hold={(on) => setStill(on ? place : null)}
          />
        )}
      </svg>
      <p style={{ height: NOTE }} className="truncate px-2 text-xs leading-5">
        {note}
      </p>
    </div>
  );
}

/** A grille in a ring: where sound is taken. */
function Microphone(props: {
  at: [number, number];
  onPointerDown: (event: PointerEvent<SVGGElement>) => void;
}) {
  const [x, y] = props.at;
  return (
    <g className="cursor-grab" onPointerDown={props.onPointerDown}>
      <title>Microphone</title>
      <circle cx={x} cy={y} r="12" className="fill-transparent" />
      <circle cx={x} cy={y} r="5" className="fill-ink stroke-calm" strokeWidth="1.5" />
      <path
        d={`M${x - 4} ${y}h8M${x - 3} ${y - 2.5}h6M${x - 3} ${y + 2.5}h6`}
        className="stroke-calm"
      />
    </g>
  );
}

function MarkDot({ at: [x, y], name }: { at: [number, number]; name: string }) {
  return (
    <path
      d={`M${x} ${y - 4}l4 4l-4 4l-4 -4z`}
      className="pointer-events-none fill-none stroke-lamp/70"
    >
      <title>{name}</title>
    </path>
  );
}

/** Shift keeps a unit on its spoke, Alt on its ring. */
function constrain(
  to: [number, number],
  from: Point,
  face: Point,
  keys: { shiftKey: boolean; altKey: boolean },
): [number, number] {
  const [dx, dy] = [to[0] - face[0], to[1] - face[1]],
    [fx, fy] = [from[0] - face[0], from[1] - face[1]];
  const was = Math.hypot(fx, fy) || 1e-6,
    now = Math.hypot(dx, dy) || 1e-6;
  if (keys.shiftKey) {
    const along = Math.max(0.2, (dx * fx + dy * fy) / was) / was;
    return [face[0] + fx * along, face[1] + fy * along];
  }
  if (keys.altKey) return [face[0] + (dx * was) / now, face[1] + (dy * was) / now];
  return to;
}

function words(
  unit: Unit,
  from: Point | null,
  face: Point,
  lens: Point,
  length: (m: number) => string,
) {
  const p = toPolar(unit.position as Point, face, lens);
  const side =
    Math.abs(p.angle) < 0.5
      ? "on the lens"
      : `${Math.abs(p.angle).toFixed(0)}° ${p.angle < 0 ? "camera left" : "camera right"}`;
  const text = `${unit.name}: ${side} · ${heightWords(p.height)} · ${length(p.distance)} to the face`;
  if (!from) return text;
  const was = toPolar(from, face, lens).distance,
    rings = 2 * Math.log2(p.distance / was);
  return `${text} · ${rings >= 0 ? "" : "+"}${(-rings).toFixed(1)} stop by distance`;
}

/** A head seen from above, its nose the way the chest faces. */
function Subject({
  scale,
  face,
  person,
  onPointerDown,
}: {
  scale: PlanScale;
  face: Point;
  person: Figure;
  onPointerDown: (e: PointerEvent<SVGGElement>) => void;
}) {
  const [x, y] = scale.toScreen(face);
  const turn = turnOn(scale, person.facing);
  return (
    <g
      transform={`translate(${x} ${y}) rotate(${turn})`}
      className="fill-paper"
      role="button"
      tabIndex={0}
      aria-label="Subject on the plan"
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") setDesk({ panel: "figure", chosenFigure: null });
      }}
      onPointerDown={(e) => {
        onPointerDown(e);
        setDesk({ panel: "figure", chosenFigure: null });
      }}
    >
      <circle r="20" fill="transparent" />
      <ellipse rx="16" ry="5" cy="-2" opacity=".35" />
      <g transform={`rotate(${-person.head_turn})`}>
        <circle r="8" />
        <path d="M-3.5 6.5h7L0 14z" />
      </g>
    </g>
  );
}
