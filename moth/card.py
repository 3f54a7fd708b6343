"""The level card: everything that puts a set-up back, in words and numbers."""

from dataclasses import dataclass

from .camera import bands_of, curve_of, shutter_time
from .materials import MATERIALS
from .metering import read_setup
from .photometry import ATTACHMENTS, HEADS
from .units import feet
from .wording import THIRDS
from .world import anchor

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
    )
