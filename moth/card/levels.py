"""The level card: everything that puts a set-up back, in words and numbers."""

import math
from dataclasses import dataclass

from ..camera import bands_of, curve_of, shutter_time
from ..document import BATTERY
from ..inspection import axis_end, inspect_unit
from ..materials import MATERIALS
from ..metering import read_setup
from ..photometry import ATTACHMENTS, HEADS
from ..place import bearer_of, stands_of
from ..planning.power import power_of
from ..units import feet, footcandles
from ..wording import THIRDS
from ..world import anchor

FIELDS = {
    "name": "Unit",
    "role": "Part",
    "head": "Head",
    "hung": "Hung on",
    "on": "On",
    "side": "Side",
    "angle": "Off lens [deg]",
    "height": "Above eyes [deg]",
    "distance": "To the face [m]",
    "distance_ft": "To the face [ft]",
    "over_floor": "Over floor [m]",
    "dimmer": "Light [%]",
    "dial": "Dial [%]",
    "cct": "White [K]",
    "green": "Green",
    "white": "Colour as set",
    "lux": "At the face [lx]",
    "footcandles": "At the face [fc]",
    "stop": "Asks for",
    "lands": "Its light lands on",
    "lands_lux": "There [lx]",
    "lands_footcandles": "There [fc]",
    "soft": "Softness [deg]",
    "east": "East [m]",
    "north": "North [m]",
    "aimed": "Aimed at (east, north, up) [m]",
    "bearing": "Aim, bearing [deg]",
    "tilt": "Aim, up [deg]",
    "held": "Held by",
    "feed": "Power from",
}
"""Columns of the card by key, as its printed page and its CSV name them."""


@dataclass(frozen=True)
class CardMark:
    """What the meter reads at a mark."""

    name: str
    lux: float
    footcandles: float
    stop_words: str
    against_words: str


@dataclass(frozen=True)
class CardUnit:
    """A unit by :data:`FIELDS`, which give the units of measure."""

    name: str
    role: str
    head: str
    hung: str
    on: bool
    side: str
    angle: float
    height: float
    distance: float
    distance_ft: float
    over_floor: float
    dimmer: float
    dial: float
    cct: int
    green: float
    white: str
    lux: float
    footcandles: float
    stop: str
    lands: str
    """What its middle ray meets, through cloths: a surface, a thing, a person."""
    lands_lux: float | None
    lands_footcandles: float | None
    soft: float | None
    east: float
    north: float
    aimed: str
    bearing: int
    """From the plan's north clockwise."""
    tilt: int
    held: str
    feed: str


@dataclass(frozen=True)
class CardGrip:
    """A cloth, board or flag."""

    name: str
    kind: str
    material: str
    size: str
    distance: float
    """To the face [m]."""
    over_floor: float
    """[m]"""
    east: float
    north: float
    turned: str
    """Which way its front looks, how it is held, and its slats."""


@dataclass(frozen=True)
class LevelCard:
    """Everything that puts a set-up back."""

    title: str
    notes: str
    camera: tuple[str, ...]
    """Lines of words."""
    sentence: str
    marks: tuple[CardMark, ...]
    units: tuple[CardUnit, ...]
    grip: tuple[CardGrip, ...]
    sky: str | None
    windows: tuple[str, ...]
    """Each with what covers it."""
    furniture: tuple[str, ...]
    """Where what stands near people, camera or lamps stands."""
    cameras: tuple[str, ...]
    """All of them: place, aim, lens."""
    circuits: tuple[str, ...]
    place: str = ""
    """Where it is filed: production, scene, revision."""


def _hung(unit):
    words = []
    for attachment in unit.attachments:
        known = ATTACHMENTS[attachment.key]
        values = [
            f"{s.name.lower()} {attachment.settings[s.key]:g} {s.unit}".strip().replace(" °", "°")
            for s in known.settings
            if s.key in attachment.settings
        ]
        words.append(known.name + (f" ({', '.join(values)})" if values else ""))
    if unit.ies:
        words.insert(0, "own photometric file")
    if unit.measured:
        words.insert(0, f"measured {unit.measured.lux:g} lx at {unit.measured.distance:g} m")
    return "; ".join(words)


HELD = {
    "stand": "stand",
    "boom": "boom over a stand",
    "arm": "an arm",
    "hung": "hung from above",
    "built-in": "taped, clamped or laid down",
}
NEAR = 3.0
"""Furniture within this of people, camera or lamps is told [m]."""


def aim_of(position, aim):
    """Bearing from the plan's north clockwise and height of a direction [deg].

    Examples
    --------
    >>> aim_of((0, 0, 2), (1, 1, 2))
    (45, 0)
    """
    x, y, z = (b - a for a, b in zip(position, aim, strict=True))
    bearing = round(math.degrees(math.atan2(x, y))) % 360
    return bearing, round(math.degrees(math.atan2(z, math.hypot(x, y))))


def _at(place):
    return ", ".join(f"{c:.2f}" for c in place)


def _held(setup, unit):
    piece = next((f.name for f in setup.furniture if f.id == unit.piece), "")
    if piece:
        return f"part of '{piece}'"
    if unit.switch:
        return f"the place's own, switch {unit.switch}"
    if unit.held == "boom" and unit.foot is not None:
        return f"boom, its stand at {_at(unit.foot)}"
    return _on_arm(setup, unit) or HELD[unit.held]


def _on_arm(setup, item):
    """Whose stand an arm is on; empty where no arm holds the item."""
    bearer = bearer_of(setup, item)
    return f"on an arm, the stand of {bearer.name}" if bearer else ""


def _sheet_held(setup, piece):
    """How a piece of grip is held; empty where nobody has said."""
    if piece.held == "arm":
        return _on_arm(setup, piece)
    stood = stands_of(piece)
    if stood and stood[0].arm:
        return f"boomed, its stand at {_at(stood[0].foot)}"
    if len(stood) == 2:
        return "on two stands"
    if stood:
        return f"its stand at {_at(stood[0].foot)}"
    return {"hung": "hung", "built-in": "taped, clamped or laid", "hand": "in a hand"}.get(
        piece.held, ""
    )


def _feed(setup, unit):
    if unit.feed == BATTERY:
        return "battery"
    return next((c.name for c in setup.circuits if c.id == unit.feed), "")


def _white(unit):
    """The colour a unit is set to, in words: a blue lamp is no 5600 K."""
    green = f", green {unit.green:+g}" if unit.green else ""
    if unit.saturation > 0.02 and HEADS[unit.head].colour:
        return f"hue {unit.hue:.0f}°, {100 * unit.saturation:.0f} % saturated{green}"
    return f"{unit.cct:.0f} K{green}"


def level_card(setup, say=THIRDS):
    """A set-up as a card: camera, readings, every unit and piece of grip.

    Parameters
    ----------
    setup : moth.document.Setup
    say : moth.wording.Wording

    Returns
    -------
    LevelCard

    Raises
    ------
    moth.errors.MothError

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     title="Pilot",
    ...     units=[
    ...         {
    ...             "id": "k",
    ...             "name": "Key",
    ...             "role": "key",
    ...             "head": "point-600",
    ...             "position": [1, 3, 2],
    ...             "aim": [2, 2, 1.5],
    ...             "dimmer": 0.5,
    ...         }
    ...     ],
    ... )
    >>> row = level_card(s).units[0]
    >>> row.name, row.dimmer, row.side
    ('Key', 50.0, 'camera right')
    """
    readings = read_setup(setup, say=say)
    camera, curve = setup.cameras[0], curve_of(setup.cameras[0])
    face = anchor(setup)
    time = shutter_time(camera.shutter, camera.fps)
    shutter = (
        f"{camera.shutter.angle:g}°" if camera.shutter.angle is not None else f"1/{1 / time:.0f} s"
    )
    focus = "on the eyes" if camera.focus is None else f"at {camera.focus:.2f} m"
    lines = [
        (
            f"T{camera.t_stop:g}, EI {camera.iso:g} (native {camera.native_iso:g}), shutter"
            f" {shutter} at {camera.fps:g} fps"
        ),
        (
            f"ND {camera.nd:g} stops, other filters {camera.filter_loss:g}; white"
            f" {camera.white_balance:.0f} K, tint {camera.tint:+g}"
        ),
        (
            f"{camera.focal_length:g} mm on {camera.sensor.replace('-', ' ')}, focus {focus};"
            f" {curve.name}, clip {bands_of(camera)[-1].low:.1f} stops over grey"
        ),
        f"Lens {camera.position[2]:.2f} m over the floor",
    ]
    rows = []
    for unit, reading in zip(setup.units, readings.units, strict=True):
        rows.append(
            CardUnit(
                name=unit.name,
                role=unit.role,
                head=HEADS[unit.head].name,
                hung=_hung(unit),
                on=unit.on,
                side=reading.side,
                angle=round(abs(reading.angle), 1),
                height=round(reading.height, 1),
                distance=round(reading.distance, 2),
                distance_ft=round(feet(reading.distance), 1),
                over_floor=round(unit.position[2], 2),
                dimmer=round(100 * unit.dimmer, 1),
                dial=round(100 * reading.dial, 1),
                cct=round(unit.cct),
                green=round(unit.green, 3),
                white=_white(unit),
                lux=round(reading.face_lux, 2),
                footcandles=round(reading.face_footcandles, 3),
                stop=reading.stop_words,
                **_where(setup, unit),
            )
        )
    names = {m.id: m.name for m in setup.materials}
    grip = []
    for piece in setup.grip:
        away = sum((a - b) ** 2 for a, b in zip(piece.position, face, strict=True)) ** 0.5
        cloth = names.get(piece.material) or MATERIALS[piece.material].name
        grip.append(
            CardGrip(
                name=piece.name,
                kind=piece.kind,
                material=cloth,
                size=f"{piece.size[0]:.2f} × {piece.size[1]:.2f} m",
                distance=round(float(away), 2),
                over_floor=round(piece.position[2], 2),
                east=round(piece.position[0], 2),
                north=round(piece.position[1], 2),
                turned=_turned(setup, piece),
            )
        )
    marks = [
        CardMark(m.name, m.lux, m.footcandles, m.stop_words, m.against_words)
        for m in readings.marks
    ]
    sky = None
    windows = any(o.cover != "blackout" for o in setup.openings)
    if setup.sky.on and (windows or setup.room.outdoors):
        sun = setup.sky.sun
        sky = f"Sky {setup.sky.kind}, {setup.sky.level:.0f} lx, {setup.sky.cct:.0f} K"
        if sun and sun.on:
            sky += f"; sun {sun.azimuth:g}° from north, {sun.elevation:g}° up, {sun.level:.0f} lx"
    return LevelCard(
        title=setup.title,
        notes=setup.notes,
        camera=tuple(lines),
        sentence=readings.sentence,
        marks=tuple(marks),
        units=tuple(rows),
        grip=tuple(grip),
        sky=sky,
        windows=tuple(_windows(setup)),
        furniture=tuple(_furniture(setup)),
        cameras=tuple(_cameras(setup)),
        circuits=tuple(load.words for load in power_of(setup).circuits),
    )


def _where(setup, unit):
    """Where a unit is, what it is aimed at, and what its light does there."""
    bearing, tilt = aim_of(unit.position, unit.aim)
    lit = unit.on and unit.dimmer > 0
    end = axis_end(setup, unit.id) if lit else None
    soft = inspect_unit(setup, unit.id).size.half if lit else 0.0
    return {
        "lands": end.name.replace("the body of ", "").strip("'") if end else "",
        "lands_lux": round(end.lux, 2) if end else None,
        "lands_footcandles": round(footcandles(end.lux), 3) if end else None,
        "soft": round(soft, 1) if soft else None,
        "east": round(unit.position[0], 2),
        "north": round(unit.position[1], 2),
        "aimed": _at(unit.aim),
        "bearing": bearing,
        "tilt": tilt,
        "held": _held(setup, unit),
        "feed": _feed(setup, unit),
    }


def _turned(setup, piece):
    bearing, tilt = aim_of(piece.position, piece.aim)
    words = f"front to {bearing}°"
    if tilt:
        words += f", {abs(tilt)}° {'up' if tilt > 0 else 'down'}"
    if piece.roll:
        words += f", rolled {piece.roll:.0f}°"
    held = _sheet_held(setup, piece)
    if held:
        words += f"; {held}"
    if piece.kind == "blinds":
        words += f"; slats every {100 * piece.slat_pitch:.0f} cm at {piece.slat_angle:.0f}°"
    return words


def _windows(setup):
    for opening in setup.openings:
        cover = opening.cover
        known = MATERIALS[cover].name.lower() if cover in MATERIALS else cover
        blinds = f", blinds at {opening.slat_angle:.0f}°" if opening.blinds else ""
        width, height = opening.size
        yield f"{opening.name}: {width:.2f} × {height:.2f} m, {known}{blinds}"


def _furniture(setup):
    marked = [u.position[:2] for u in setup.units] + [f.position for f in setup.figures]
    marked += [c.position[:2] for c in setup.cameras]
    for item in setup.furniture:
        if min(math.dist(item.position[:2], place) for place in marked) <= NEAR:
            turn = f", turned {item.turn:.0f}°" if item.turn else ""
            yield f"{item.name} at {_at(item.position[:2])}{turn}"


def _cameras(setup):
    for camera in setup.cameras:
        bearing, tilt = aim_of(camera.position, camera.aim)
        yield (
            f"{camera.name}: at {_at(camera.position)}, to {bearing}°"
            f"{f', {abs(tilt)}° ' + ('up' if tilt > 0 else 'down') if tilt else ''}"
            f"{f', rolled {camera.roll:+.0f}°' if camera.roll else ''}, {camera.focal_length:g} mm"
        )
