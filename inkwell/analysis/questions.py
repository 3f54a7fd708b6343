"""What the engine is asked about a set-up's light: plain functions, without a database."""

import base64
import math
from dataclasses import dataclass

import numpy as np

from inkwell.rendering.jobs import FULL
from inkwell.rendering.questions import picture
from moth.camera import (
    LAMPS,
    MAINS,
    Band,
    bands_of,
    blur,
    curve_of,
    density,
    depth_of_field,
    equivalent_angle,
    flicker,
    noise,
    octave_table,
    shutter_time,
    stops_under,
)
from moth.errors import MothError
from moth.judging import (
    SIZE,
    ActingArea,
    Asked,
    FixedReading,
    PlaceOnPath,
    Reading,
    StepReading,
    TargetReading,
    acting_area,
    can_be_fixed,
    coarse_layer,
    headroom,
    picture_of,
    read_asked,
    read_fixed,
    read_order,
    read_picture,
    read_targets,
    walk_path,
)
from moth.metering import PairRatio, read_ratios, read_schools
from moth.solving import (
    GRID,
    Offer,
    Tried,
    keep_off,
    make,
    match,
    offer,
    proposals,
    set_ratio,
    stood,
    tried,
    try_board,
    with_level,
)
from moth.transport import sources, view_of
from moth.world import anchor, build_world, check_placement

BINNED = 3840 / FULL[0]
"""Photosites of a recording 3840 across that one pixel of the whole picture stands for, along each
side: their noise averages out so far.
"""


@dataclass(frozen=True)
class Thing:
    """Something of a set-up by its id, and what it is called."""

    id: str
    name: str


@dataclass(frozen=True)
class Judged:
    """The picture read by its parts."""

    targets: list[TargetReading]
    fixed: list[FixedReading]
    can_be_fixed: list[Thing]
    readings: list[Reading]
    """What the picture does, worst first."""
    order: list[StepReading]
    ratios: list[PairRatio]
    asked: Asked
    headroom: float
    """Stops from middle grey to where the camera's curve clips."""


@dataclass(frozen=True)
class Trial:
    """What a change does, and the small pictures before and after it as data URLs."""

    does: Tried
    was: str
    now: str


@dataclass(frozen=True)
class Asking:
    """One of so many answers to some wishes; none where the key cannot stand so."""

    of: int
    offer: Offer | None
    picture: str
    """The small picture of it as a data URL."""


@dataclass(frozen=True)
class Walked:
    """The stop along a walk from the mark, and the area in which it keeps."""

    path: list[PlaceOnPath]
    acting: ActingArea


@dataclass(frozen=True)
class DepthFacts:
    """What a lens holds sharp [m]; `far` is None where that has no end."""

    focus: float
    near: float
    far: float | None
    hyperfocal: float


@dataclass(frozen=True)
class LampFlicker:
    """What one kind of lamp on the mains does at the camera's shutter."""

    mains: int
    """[Hz]"""
    lamp: str
    change: float
    safe: bool
    nearest: float | None
    """Shutter time [s] nearest to the set one that is safe."""
    nearest_angle: float | None
    """[deg]"""


@dataclass(frozen=True)
class CameraFacts:
    """What a camera's settings come to."""

    curve: str
    source: str
    grey: float
    over: float
    under: float
    table: list[int]
    """Code values 0..65535 of linear signals, by octaves as in the constants."""
    noise: list[float]
    """Standard deviation of the linear signal in a pixel of the picture, by the same octaves."""
    bands: list[Band]
    depth: DepthFacts
    time: float
    angle: float
    density: float
    flicker: list[LampFlicker]


def schools(document, layers, say):
    """Each way of holding the meter, and where the face sits if its reading is set."""
    return read_schools(document, picture_of(document, layers), say)


def judged(document, layers, say):
    """The picture by parts, targets, what is fixed, the order of work, ratios three ways."""
    picture = picture_of(document, layers)
    found = read_picture(document, picture, say)
    return Judged(
        readings=found,
        targets=read_targets(document, picture, say),
        fixed=read_fixed(document, picture, say),
        can_be_fixed=[Thing(*thing) for thing in can_be_fixed(document)],
        order=read_order(document, picture, say, found),
        ratios=read_ratios(document, picture),
        asked=read_asked(document, say),
        headroom=headroom(document.cameras[0]),
    )


def mends(document, key, say):
    """What might mend a reading; nothing for one that is not there."""
    found = read_picture(document, picture_of(document), say)
    reading = next((r for r in found if r.key == key), None)
    return [] if reading is None else proposals(document, reading)


def trial(document, changed, key, say):
    """What a change does to a picture. What mends a reading is told as the whole frame has it."""
    found = tried(document, changed, key, say)
    if found.mends:
        found = tried(document, changed, key, say, whole=True)
    return Trial(found, _small(document), _small(changed))


def asked(document, wishes, at, say):
    """The answer to some wishes of one place of the key."""
    found = offer(document, wishes, at, say)
    return Asking(len(GRID), found, _small(found.setup) if found else "")


def _small(document):
    """The picture that is judged, as a data URL."""
    layers = {s.id: coarse_layer(document, s) for s in sources(document)}
    png = base64.b64encode(picture(document, layers, SIZE)).decode()
    return f"data:image/png;base64,{png}"


def walked(document, angle, distance, say):
    """The stop along a walk from the mark, and the area in which it keeps."""
    return Walked(walk_path(document, angle, distance, say), acting_area(document))


def rigged(document, unit, move, material, size):
    """A set-up with one unit rigged anew, that can stand so."""
    made = make(document, unit, move, material, size)
    check_placement(made)
    return made


def with_ratio(document, unit, target, school, means):
    """A set-up with the ratio asked for, that can stand so."""
    solved = set_ratio(document, unit, target, school, means)
    check_placement(solved.setup)
    return solved


def flagged(document, unit, thing, say):
    """A set-up with a flag that keeps a unit off a thing, that can stand so."""
    found = keep_off(document, unit, thing, say)
    check_placement(found.setup)
    return found


def stood_up(document, grip, by):
    """A set-up with a piece of grip on the stand or boom that has room."""
    piece = next((g for g in document.grip if g.id == grip), None)
    if piece is None:
        raise MothError(f"There is no piece of grip '{grip}'.", "grip")
    held = stood(document, piece, by)
    pieces = tuple(held if g is piece else g for g in document.grip)
    return document.model_copy(update={"grip": pieces})


def boarded(document, target, school, side, at):
    """One board tried for a ratio, standing where it can."""
    found = try_board(document, target, school, side, at)
    if found.solved:
        check_placement(found.solved.setup)
    return found


def levelled(document, unit, lux, say):
    """A set-up whose unit brings a level, the camera's without one."""
    return with_level(document, unit, lux, say)


def matched(document, other, say):
    """A set-up with its dimmers brought to another's levels."""
    return match(document, other, say)


def _focus(camera, eyes):
    """Distance a lens is focused at [m]: as set or on the eyes, and no nearer than it comes."""
    return max(camera.focus or eyes, 2 * camera.focal_length / 1000)


def blur_widths(document):
    """How wide a point shows at each pixel of the whole picture: little-endian half floats [px]."""
    camera = document.cameras[0]
    view = view_of(build_world(document), document, camera, FULL)
    eyes = float(np.linalg.norm(np.asarray(camera.position) - anchor(document)))
    widths = blur(camera, _focus(camera, eyes), np.minimum(view.depth, 1e4)) * FULL[0]
    return np.minimum(widths, 200).astype("<f2").tobytes()


def camera_facts(camera, distance):
    """What a camera's settings come to: its curve, noise, bands, depth, shutter, flicker."""
    curve = curve_of(camera)
    depth = depth_of_field(camera, _focus(camera, distance))
    time = shutter_time(camera.shutter, camera.fps)
    lamps = []
    for mains in MAINS:
        for lamp in LAMPS:
            found = flicker(camera, mains, lamp)
            lamps.append(
                LampFlicker(
                    mains=mains,
                    lamp=lamp,
                    change=found.change,
                    safe=found.safe,
                    nearest=found.nearest,
                    nearest_angle=found.nearest and equivalent_angle(found.nearest, camera.fps),
                )
            )
    return CameraFacts(
        curve=curve.name,
        source=curve.source,
        grey=curve.grey,
        over=curve.over,
        under=stops_under(camera),
        table=np.round(65535 * octave_table(curve.encode)).astype(int).tolist(),
        noise=[float(f"{v:.3g}") for v in octave_table(lambda x: noise(camera, x)) / BINNED],
        bands=bands_of(camera),
        depth=DepthFacts(
            focus=depth.focus,
            near=depth.near,
            far=None if math.isinf(depth.far) else depth.far,
            hyperfocal=depth.hyperfocal,
        ),
        time=time,
        angle=equivalent_angle(time, camera.fps),
        density=density(camera.nd),
        flicker=lamps,
    )
