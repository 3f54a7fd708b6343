"""What the eyes mirror to the lens, as the lids leave them."""

from dataclasses import dataclass, replace

import numpy as np
from scipy import ndimage

from ..camera import frame_exposure, signal_at, source_colours, stops_over_grey
from ..colour import LUMINANCE
from ..materials import FINISHES
from ..metering import Place, full_levels, origin_of
from ..transport import light_of, mirrored_light
from ..transport.operands import DISTANT
from ..world import axes, landmarks
from ..world.eyes import CORNEA, WHITE
from .outline import project_near, ray
from .results import Reading

GLINT = 1.0
"""Stops over middle grey from which a mirrored light gives an eye life, wherever it sits; typical.
"""
DIM, BENEATH = -3.0, 1.0
"""On pupil and iris it may be as dim as that, and must double what is under it; typical. A wide box
near, or the open sky, is mirrored under middle grey, and lies on what is far darker.
"""
WIDE, HIGH, STEP = 0.016, 0.009, 0.0002
"""Half of what is looked at about an eye, and between its places [m]."""
LEAST = 0.03
"""Half the width of a lamp at 1 m that is not missed between these places, by an eye's curve of
1 cm [m]: a smaller one is looked for as if it were so wide and no brighter.
"""
OWN_FACE = 0.3
"""So near, what an eye mirrors is its own cheek and nose [m]: no light, however they are lit."""
ONE = 0.0009
"""Lashes and frames break a lamp's image up: what is within twice that of each other is one [m]."""
_EYE = next(i for i, f in enumerate(FINISHES) if f.name == "eye")
_REFLECTANCE = FINISHES[_EYE].normal_reflectance


@dataclass(frozen=True)
class Glint:
    """A light that an eye mirrors to the lens."""

    stops: float
    """Of its brightest place over middle grey."""
    clock: int
    """Where it sits about the middle of the eye, as on a dial: 12 is up."""
    place: np.ndarray
    """(3,) [m]"""
    source: str
    """Id of the source that it is of most."""


def glints_of(ready, person=0):
    """The glints in a person's eyes, the brightest first.

    Rays from the lens find what of each eye shows between the lids; each mirrors what stands where
    its angle out is the angle in.

    Parameters
    ----------
    ready : moth.metering.LaidOut
    person : int

    Returns
    -------
    dict
        "left", "right" (the person's own) -> list of Glint, or None for an eye that is not seen.
    """
    setup, world = ready.setup, ready.world
    marks = landmarks(setup.figures[person])
    return {
        side: _in_eye(ready, world, marks[f"eye_{side}"], 1 + len(setup.furniture) + person)
        for side in ("left", "right")
    }


def _in_eye(ready, world, eye, body):
    camera = ready.camera
    lens = np.asarray(camera.position, float)
    right, up, way = axes(lens, eye)
    a, b = np.arange(-WIDE, WIDE, STEP), np.arange(-HIGH, HIGH, STEP)
    across, high = (k.ravel() for k in np.meshgrid(a, b))
    ways = eye + across[:, None] * right + high[:, None] * up - lens
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    triangle, uv, far = world.rays.first(np.tile(lens, (len(ways), 1)), ways)
    mesh = world.mesh
    on = np.flatnonzero(
        (triangle >= 0) & (mesh.body[triangle] == body) & (mesh.finish[triangle] == _EYE)
    )
    if not len(on):
        return None
    normals = mesh.normals_at(triangle[on], uv[on])
    points = lens + far[on, None] * ways[on]
    colours = source_colours(ready.setup, camera.white_balance, camera.tint)
    exposure = frame_exposure(camera)
    each = np.zeros((len(ready.found), len(on)))
    for k, (source, level) in enumerate(zip(ready.found, ready.state, strict=True)):
        if level > 0:
            light = light_of(world, source)
            light = replace(light, emitters=tuple(_widened(e, eye) for e in light.emitters))
            found = mirrored_light(world, light, points, normals, -ways[on], _REFLECTANCE, OWN_FACE)
            each[k] = (found * colours[source.id]) @ LUMINANCE * level * exposure
    total = np.zeros(len(ways))
    total[on] = each.sum(0) if len(each) else 0
    albedo = mesh.albedo_at(triangle[on], uv[on]) @ LUMINANCE
    own, iris = np.zeros(len(ways)), np.zeros(len(ways), bool)
    own[on], iris[on] = albedo * _lit(ready, points.mean(0)), albedo < WHITE
    dim = iris & (total >= signal_at(DIM)) & (total >= BENEATH * own)
    bright = (dim | (total >= signal_at(GLINT))).reshape(len(b), len(a))
    near = ndimage.binary_dilation(bright, iterations=round(ONE / STEP))
    regions, count = ndimage.label(near, np.ones((3, 3)))
    regions = (regions * bright).ravel()
    # The middle of the dial is what the eye turns to the lens.
    inner = albedo < WHITE if (albedo < WHITE).any() else np.ones(len(albedo), bool)
    middle = (points[inner] - CORNEA * normals[inner]).mean(0) - CORNEA * way
    seen = []
    for k in range(1, count + 1):
        if not (regions == k).any():
            continue
        at = int(np.where(regions == k, total, -1).argmax())
        row = int(np.searchsorted(on, at))
        off = points[row] - middle
        # The dial stands upright in the picture, however the camera is rolled.
        hour = (np.degrees(np.arctan2(off @ right, off @ up)) + camera.roll) / 30
        seen.append(
            Glint(
                stops_over_grey(float(total[at])),
                int(np.round(hour - 1)) % 12 + 1,
                points[row],
                ready.found[int(each[:, row].argmax())].id,
            )
        )
    return sorted(seen, key=lambda g: -g.stops)


def _widened(emitter, eye):
    """An emitter that no place between the looks at an eye misses; its luminance is its own."""
    far = 1.0 if emitter.kind == DISTANT else float(np.linalg.norm(emitter.centre - eye))
    face = emitter.face
    half = {k: max(getattr(face, k), LEAST * far) for k in ("half_width", "half_height")}
    return replace(emitter, face=face._replace(**half))


def _lit(ready, place):
    """Signal of what sends all of its light back evenly, where an eye is [m]."""
    camera = ready.camera
    toward = np.asarray(camera.position) - place
    toward = toward / np.linalg.norm(toward)
    meter = Place("eye", "eye", tuple(place + BEFORE * toward), tuple(toward), "disc")
    levels = full_levels(ready.setup, ready.world, [meter], ready.found)[:, 0]
    light = (ready.state @ levels) @ LUMINANCE
    return light / np.pi * frame_exposure(camera)


BEFORE = 0.01
"""What a meter is held before an eye [m]."""


def _ways(setup, ready, glints, called):
    """From each glint toward what it mirrors."""
    for glint in glints:
        source = next(s for s in ready.found if s.id == glint.source)
        origin = origin_of(setup, ready.world, source).place
        away = float(np.linalg.norm(origin - glint.place))
        words = f"toward {called[glint.source]}, {away:.1f} m off: angle out is angle in"
        yield ray(setup.cameras[0], words, glint.place, origin)


def read_eyes(setup, ready, say, person=0):
    """What each eye mirrors.

    Parameters
    ----------
    setup : moth.document.Setup
    ready : moth.metering.LaidOut
    say : moth.wording.Wording
    person : int

    Returns
    -------
    list of Reading
        One an eye that is seen.
    """
    found = glints_of(ready, person)
    marks = landmarks(setup.figures[person])
    called = {u.id: u.name for u in setup.units} | {"@sky": "the sky", "@sun": "the sun"}
    who = "" if len(setup.figures) == 1 else f"{setup.figures[person].name}, "
    lit = sum(bool(glints) for glints in found.values())
    out = []
    for side, glints in found.items():
        if glints is None:
            continue
        # Seen from the lens, a person's left eye is on the right.
        name = f"{who}eye, camera {'right' if side == 'left' else 'left'}"
        place = project_near(setup.cameras[0], marks[f"eye_{side}"])
        if glints:
            best = glints[0]
            words = f"{say.off(best.stops)} grey at {best.clock} o'clock, {called[best.source]}"
            if len(glints) > 1:
                words += f"; {len(glints)} in all"
            many = len(glints) > 2
            out.append(
                Reading(
                    key=f"eyes {person} {side}",
                    kind="eyes",
                    name=name,
                    verdict="mind" if many else "well",
                    word="many glints" if many else "lives",
                    words=words,
                    why="More than two glints in an eye show the lamps, not the eye."
                    if many
                    else "A glint is what gives an eye life.",
                    figure=best.stops,
                    path=(project_near(setup.cameras[0], best.place),),
                    unit=best.source if best.source in {u.id for u in setup.units} else None,
                    drawn=tuple(_ways(setup, ready, glints, called)),
                )
            )
            continue
        out.append(
            Reading(
                key=f"eyes {person} {side}",
                kind="eyes",
                name=name,
                verdict="mind" if lit else "fault",
                word="no glint",
                words="nothing bright is mirrored by what the lids leave of it",
                why="An eye without a glint looks dead: a lit surface near the lens gives one.",
                figure=None,
                path=(place,),
            )
        )
    return out
