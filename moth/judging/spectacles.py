"""Glare in spectacles: what each glass mirrors to the lens, whose it is, what would clear it."""

from dataclasses import dataclass, replace

import numpy as np
import shapely

from ..camera import signal_at
from ..colour import LUMINANCE
from ..metering import origin_of
from ..transport import GLASS_REFLECTANCE, LENS_CURVE, light_of, mirrored_light
from ..wording import percent
from ..world import triple
from ..world.figures import spectacle_lenses
from .limits import limit
from .outline import project_near, ray
from .results import Drawn, Reading

COVERS, COVERS_MUCH = 0.02, 0.10
"""Parts of the glass from which glare is seen, and is in the way; typical."""
FARTHEST = 40.0
"""Tilt or turn of a head that is still tried [deg]."""
GRID = 25
"""Places across a glass."""
TURNS = (-4.0, 4.0, -8.0, 8.0, -12.0, 12.0, -16.0, 16.0)
"""By how much more the head is tried tilted, and turned [deg]."""
LIFTS = (0.15, 0.3, 0.45, 0.6, 0.9, 1.2)
"""By how much a lamp is tried higher, and lower [m]."""


@dataclass(frozen=True)
class _Glass:
    """Places of a glass that the lens sees."""

    places: np.ndarray
    normals: np.ndarray
    toward: np.ndarray


def read_spectacles(scene, person=0):
    """Each glass of somebody's spectacles.

    Parameters
    ----------
    scene : Scene
    person : int
        Index of the figure.

    Returns
    -------
    list of Reading
        Empty for somebody who wears none.
    """
    figures = scene.setup.figures
    if not figures[person].spectacles:
        return []
    before = sum(f.spectacles for f in figures[:person])
    who = "" if len(figures) == 1 else f"{figures[person].name}, "
    found = []
    for k, side in enumerate(("left", "right")):
        lens = scene.world.lenses[2 * before + k]
        glass = _seen(scene, scene.world, lens)
        if glass is not None:
            found.append(_told(scene, person, lens, glass, who, side))
    return found


def _level(lens):
    """Unit vector across a glass, to the wearer's own right."""
    return np.array([-lens[4], lens[3], 0.0]) / np.hypot(lens[3], lens[4])


def _seen(scene, world, lens):
    """What of a glass the camera sees; None for none."""
    middle, looks, level = lens[:3], lens[3:6], _level(lens)
    k = (np.arange(GRID) + 0.5) / GRID * 2 - 1
    a, b = (m.ravel() for m in np.meshgrid(k, k))
    inside = a**2 + b**2 < 1
    up = np.cross(looks, level)
    places = middle + a[inside, None] * lens[6] * level + b[inside, None] * lens[7] * up
    normals = looks + (places - middle) / LENS_CURVE
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    toward = np.asarray(scene.camera.position, float) - places
    away = np.linalg.norm(toward, axis=1)
    toward /= away[:, None]
    seen = (toward @ looks > 0.05) & (
        world.clear(places + 0.002 * toward, toward, away - 0.01) > 0.5
    )
    return _Glass(places[seen], normals[seen], toward[seen]) if seen.sum() > 20 else None


def _sent(scene, world, light, source, glass):
    """What a glass mirrors of a source (n,) [linear signal]."""
    state = scene.picture.state[scene.picture.ids.index(source.id)]
    sent = mirrored_light(
        world, light, glass.places, glass.normals, glass.toward, GLASS_REFLECTANCE
    )
    return (sent * scene.gains[source.id]) @ LUMINANCE * state


def _told(scene, person, lens, glass, who, side):
    key = f"eyes {person} glass {side}"
    veil = signal_at(scene.skin + limit(scene.setup, "glare"))
    lights = {
        source.id: (source, light_of(scene.world, source))
        for source, state in zip(scene.ready.found, scene.ready.state, strict=True)
        if state > 0
    }
    each = {name: _sent(scene, scene.world, light, s, glass) for name, (s, light) in lights.items()}
    total = np.sum(list(each.values()), axis=0)
    covered = float((total >= veil).mean())
    # Seen from the lens, a person's left is on the right.
    name = f"{who}glasses, camera {'right' if side == 'left' else 'left'}"
    at = project_near(scene.camera, lens[:3])
    if covered < COVERS:
        return Reading(
            key=key,
            kind="eyes",
            name=name,
            verdict="well",
            word="clear",
            words="nothing bright is mirrored over the eye",
            why="The eye shows behind the glass.",
            figure=covered,
            path=(at,),
        )
    worst = max(each, key=lambda n: float(each[n][total >= veil].sum()))
    ways = _ways_out(scene, person, side, lights, worst, veil)
    words = f"{percent(covered)} of the glass, {scene.called(worst)}"
    if ways:
        words += f": clear {' or '.join(ways)}"
    return Reading(
        key=key,
        kind="eyes",
        name=name,
        verdict="fault" if covered >= COVERS_MUCH else "mind",
        word="glare",
        words=words,
        why="Glare hides the eye: the lamp up or aside, the head tilted or turned a little.",
        figure=covered,
        path=(at,),
        unit=scene.unit(worst),
        drawn=_drawn(scene, glass, total >= veil, lights[worst][0], lens),
    )


def _drawn(scene, glass, veiled, source, lens):
    """What of the glass is veiled, and the way of the light that does it."""
    spots = np.array([project_near(scene.camera, p) for p in glass.places[veiled]])
    origin = origin_of(scene.setup, scene.world, source).place
    hull = shapely.MultiPoint(spots).convex_hull
    rim = tuple((getattr(hull, "exterior", hull)).coords)
    return (
        Drawn(f"veiled: {percent(float(veiled.mean()))} of the glass that the lens sees", rim),
        ray(scene.camera, f"the way to {scene.called(source.id)}", lens[:3], origin),
    )


def _ways_out(scene, person, side, lights, worst, veil):
    """Smallest moves that clear a glass, each tried: the head tilted or turned, the lamp up or
    down.
    """
    figure, source = scene.setup.figures[person], lights[worst][0]
    # The head goes with its glasses: what is tried is looked at without the one that stays.
    world = scene.bare

    def clears(figure, moved=None):
        lens = spectacle_lenses([figure])[int(side == "right")]
        glass = _seen(scene, world, lens)
        if glass is None:
            return True
        each = [
            _sent(scene, world, moved if moved and name == worst else light, s, glass)
            for name, (s, light) in lights.items()
        ]
        return float((np.sum(each, axis=0) >= veil).mean()) < COVERS

    ways = []
    for way, words in (
        ("head_tilt", ("up", "down")),
        ("head_turn", ("to its own left", "to its own right")),
    ):
        for by in TURNS:
            now = getattr(figure, way)
            if abs(now + by) < FARTHEST and clears(figure.model_copy(update={way: now + by})):
                turned = "tilted" if way == "head_tilt" else "turned"
                ways.append(f"with the head {turned} {abs(by):.0f}° {words[by < 0]}")
                break
    light = lights[worst][1]
    if scene.unit(source.id) and light.emitters and not any(g.sheet >= 0 for g in light.glows):
        for lift in (sign * k for k in LIFTS for sign in (1, -1)):
            moved = [_lifted(e, lift) for e in light.emitters]
            if min(e.centre[2] for e in moved) > 0.3 and clears(
                figure, replace(light, emitters=tuple(moved))
            ):
                ways.append(f"with it {abs(lift):.2g} m {'higher' if lift > 0 else 'lower'}")
                break
    return ways


def _lifted(emitter, by):
    x, y, z = emitter.face.centre
    return replace(emitter, face=emitter.face._replace(centre=triple((x, y, z + by))))
