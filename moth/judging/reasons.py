"""Reasons for light: whether what the frame shows tells where the key comes from."""

from dataclasses import replace
from typing import NamedTuple

import numpy as np

from ..metering import at_head, origin_of
from ..transport import SKY, SUN
from ..world import opening_corners
from .limits import limit
from .outline import ray
from .picture import project_far
from .results import Rank, Reading
from .scene import COUNT
from .whites import mired_off

BRINGS = 0.15
"""Part of the light on the lit side from which a unit is one that wants a reason; typical."""
NEAR, AGAINST = 75.0, 105.0
"""Angles on the plan, at the face, within which a light comes as from its reason, and from which it
comes from the other side [deg]; typical.
"""
SEEN = 0.0004
"""Part of the frame from which a reason is one that is seen."""


def read_reasons(scene):
    """What in the picture explains each unit that lights the face.

    Parameters
    ----------
    scene : Scene

    Returns
    -------
    list of Reading
        One a unit that brings a good part of the light and is not of the place itself.
    """
    reasons = list(_reasons(scene))
    face = at_head(scene.setup, np.asarray(scene.camera.position, float)).position
    shares = scene.brought(scene.picture.parts["skin"]) if len(scene.picture.parts["skin"]) else []
    total = max(float(np.sum(shares)), 1e-12)
    found = []
    for k, share in enumerate(shares):
        unit = next((u for u in scene.setup.units if u.id == scene.picture.ids[k]), None)
        if unit is None or unit.role == "practical" or share < BRINGS * total:
            continue
        source = next(s for s in scene.ready.found if s.id == unit.id)
        place = origin_of(scene.setup, scene.world, source).place
        seen = [Shown(name, p - face, "in the frame") for name, p in reasons]
        told = _told(scene, unit, place - face, seen + _declared(scene.setup))
        found.append(replace(told, drawn=tuple(_ways(scene, face, unit, place - face, seen))))
    return found


LONG = 0.4
"""Of a line toward what gives light [m]."""


def _ways(scene, face, unit, way, seen):
    """From the face toward the unit, and toward everything that could tell it."""
    face = np.asarray(face)
    yield ray(scene.camera, f"toward {unit.name}", face, face + 10 * way, LONG)
    for reason in seen + _declared(scene.setup):
        apart = _between(way, reason.way)
        words = f"toward {_within(reason.name)} {reason.where}: {apart:.0f}° apart on the plan"
        long = 10 * reason.way / max(float(np.linalg.norm(reason.way)), 1e-9)
        yield ray(scene.camera, words, face, face + long, LONG)


class Shown(NamedTuple):
    """Something that tells where light comes from."""

    name: str
    way: np.ndarray
    """From the face [m]; its length means nothing."""
    where: str
    cct: float | None = None
    """Its white, where that is said [K]."""


def _declared(setup):
    """What the user says gives light outside the frame."""
    turns = [np.radians(reason.bearing) for reason in setup.reasons]
    return [
        Shown(r.name, np.array([np.sin(t), np.cos(t), 0.0]), "outside the frame", r.cct)
        for r, t in zip(setup.reasons, turns, strict=True)
    ]


def _reasons(scene):
    """What the frame shows that gives light: (name, place [m])."""
    for unit in scene.setup.units:
        pixels = scene.picture.lamps.get(unit.id, ())
        lit = unit.on and unit.dimmer > 0
        if unit.role == "practical" and lit and len(np.unique(pixels)) > SEEN * COUNT:
            yield unit.name, np.asarray(unit.position, float)
    lights = {SKY: scene.setup.sky.on, SUN: scene.setup.sky.on and scene.setup.sky.sun is not None}
    if not any(lights.values()):
        return
    for opening in scene.setup.openings:
        if _in_view(scene, opening):
            yield opening.name, np.mean(opening_corners(scene.setup, opening), axis=0)


def _in_view(scene, opening):
    """Whether some of it is seen."""
    found = project_far(scene.camera, opening_corners(scene.setup, opening))
    if any(p is None for p in found):
        return False
    xs, ys = ([p[i] for p in found] for i in (0, 1))
    width, height = scene.view.size
    rows, columns = np.divmod(np.flatnonzero(scene.window), width)
    x, y = (columns + 0.5) / width, (rows + 0.5) / height
    inside = (x > min(xs)) & (x < max(xs)) & (y > min(ys)) & (y < max(ys))
    return bool(inside.sum() > SEEN * COUNT)


def _told(scene, unit, way, reasons):
    verdict: Rank = "well"
    words, word = "nothing in the frame gives light, nor is anything said to outside it", ""
    why, figure = "Light that nothing explains is fine where nobody asks; say what it is.", None
    if reasons:
        apart = [(_between(way, reason.way), reason) for reason in reasons]
        figure, reason = min(apart, key=lambda pair: pair[0])
        words = f"{figure:.0f}° on the plan from {_within(reason.name)}"
        shift = 0.0 if reason.cct is None else mired_off(unit.cct, reason.cct)
        if figure >= AGAINST:
            word, verdict = "against its reason", "mind"
            why = f"{reason.name} is {reason.where}, and the light comes from the other side."
        elif figure <= NEAR and abs(shift) >= limit(scene.setup, "whites-apart"):
            word, verdict = "another colour", "mind"
            colour = "warmer" if shift > 0 else "cooler"
            words += f"; {abs(shift):.0f} mired {colour}"
            why = f"It comes from where {_within(reason.name)} is, and is not of its colour."
        elif figure <= NEAR:
            word, why = "explained", f"{reason.name} {reason.where} tells where it comes from."
    word = word or "not explained"
    return Reading(
        key=f"reasons {unit.id}",
        kind="reasons",
        name=unit.name,
        verdict=verdict,
        word=word,
        words=words,
        why=why,
        figure=figure,
        unit=unit.id,
    )


def _within(name):
    """A name inside a sentence.

    Examples
    --------
    >>> _within("A window"), _within("Globe")
    ('a window', 'Globe')
    """
    return name[0].lower() + name[1:] if name.startswith(("A ", "An ", "The ")) else name


def _between(one, other):
    """Angle between two ways on the plan [deg].

    Examples
    --------
    >>> _between(np.array([1.0, 0, 3]), np.array([0.0, 2, 0]))
    90.0
    """
    turn = np.arctan2(one[1], one[0]) - np.arctan2(other[1], other[0])
    return float(abs(np.degrees((turn + np.pi) % (2 * np.pi) - np.pi)))
