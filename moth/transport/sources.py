"""What sends light in a set-up: the units, and what comes through the windows or from the open
sky.
"""

from dataclasses import dataclass, replace

import numpy as np

from ..document import SKY, SUN
from ..engine.caching import Keyed, cached, content_hash
from ..photometry import Distribution
from ..world import (
    PANE_OFF,
    axes,
    opening_place,
    pane,
    windows_before,
)
from ..world.surroundings import surroundings_of
from .beyond import below, by_sky, by_sun, places_of
from .emitters import Leg, build_emitter, distant, emitter_from, emitter_key, leak_emitter
from .operands import RECTANGLE

FULL_SKY, FULL_SUN = 10_000.0, 50_000.0
"""Levels [lx] that the layers of sky and sun are made for."""
LAND = 0.2 * FULL_SKY / np.pi
"""Luminance below an open horizon by the light of the full sky [cd/m^2]: the ground of an exterior
goes on almost so far, and hides it.
"""
SUN_RADIUS = 0.2665
"""Angle [deg] from the middle of the sun to its rim."""


@dataclass(frozen=True)
class Source:
    """One layer's worth of light at full and white."""

    id: str
    key: str
    """Content hash of what shapes it, the world apart."""
    emitters: tuple
    sky: object = None
    """For an open sky: luminance [cd/m^2] of unit directions, shape (n, 3)."""


def sky_luminance(sky, directions):
    """Luminance of the sky against its zenith.

    Parameters
    ----------
    sky : moth.document.Sky
    directions : ndarray, shape (n, 3)
        Unit vectors toward the sky; z > 0.

    Returns
    -------
    ndarray, shape (n,)
        Relative.

    References
    ----------
    CIE S 011/E:2003: type 16 (traditional overcast, Moon and Spencer) and type 12 (clear standard
    sky).

    Examples
    --------
    >>> from moth.document import Sky
    >>> sky_luminance(Sky(), np.array([[0, 0, 1.0], [1.0, 0, 0]])).round(3).tolist()
    [1.0, 0.333]
    """
    z = np.clip(directions[:, 2], 0.0, 1.0)
    if sky.kind == "overcast":
        return (1 + 2 * z) / 3
    gradation = 1 - np.exp(-0.32 / np.maximum(z, 0.01))
    if sky.sun is None:
        return gradation
    away = np.arccos(np.clip(directions @ sun_direction(sky.sun), -1, 1))
    return gradation * (
        1 + 10 * (np.exp(-3 * away) - np.exp(-3 * np.pi / 2)) + 0.45 * np.cos(away) ** 2
    )


def sun_direction(sun):
    """Unit vector toward the sun; azimuth runs from north clockwise.

    Examples
    --------
    >>> from moth.document import Sun
    >>> sun_direction(Sun(azimuth=90, elevation=0.0001 + 1)).round(1).tolist()
    [1.0, 0.0, 0.0]
    """
    a, e = np.radians(sun.azimuth), np.radians(sun.elevation)
    return np.array([np.sin(a) * np.cos(e), np.cos(a) * np.cos(e), np.sin(e)])


def _zenith(sky):
    """Zenith luminance that gives the full level on level ground [cd/m^2]."""
    t, a = np.meshgrid(
        (np.arange(90) + 0.5) / 90 * np.pi / 2,
        (np.arange(72) + 0.5) / 72 * 2 * np.pi,
        indexing="ij",
    )
    d = np.stack([np.sin(t) * np.cos(a), np.sin(t) * np.sin(a), np.cos(t)], -1).reshape(-1, 3)
    solid = (np.sin(t) * (np.pi / 180) * (2 * np.pi / 72)).ravel()
    return FULL_SKY / float((sky_luminance(sky, d) * d[:, 2] * solid).sum())


def outside(sky):
    """Function from unit directions (n, 3) to luminance [cd/m^2] of sky above and land below the
    horizon, at the full level.
    """
    above = _above(sky)

    def luminance(directions):
        land = below(directions)
        return (1 - land) * above(directions) + land * LAND

    return luminance


def _above(sky):
    """Luminance of the sky at the full level [cd/m^2], of unit directions (n, 3) above the
    horizon.
    """
    zenith = _zenith(sky)
    return lambda directions: zenith * sky_luminance(sky, directions)


@cached("light outside")
def _shown(keyed):
    """What is outside the windows by the light of sky or sun: a Beyond."""
    around, sky, source = keyed.value
    if source == SKY:
        return by_sky(around, _above(sky), FULL_SKY)
    return by_sun(around, sun_direction(sky.sun), FULL_SUN)


def _window(setup, opening, shown, shape):
    """What is outside a window, as a pane that shines as that does.

    shown: a Beyond.
    """
    place, inward = opening_place(setup, opening)
    key = content_hash("window", place.tolist(), inward.tolist(), list(opening.size), shape)
    return _pane(Keyed(key, (opening.size, place, inward, shown)))


@cached("windows")
def _pane(keyed):
    size, place, inward, shown = keyed.value
    centre = place + PANE_OFF * inward
    right, up, _ = axes(centre, centre + inward)
    area = size[0] * size[1]
    luminance = shown.mean(places_of(centre, right, up, size))

    vertical = np.linspace(0, 90, 91)
    turns = (np.arange(TURNS) + 0.5) / TURNS * 2 * np.pi
    c, g = np.meshgrid(turns, np.radians(vertical), indexing="ij")
    leaving = (
        (np.sin(g) * np.cos(c))[..., None] * right
        + (np.sin(g) * np.sin(c))[..., None] * up
        + np.cos(g)[..., None] * inward
    )
    seen = luminance(-leaving.reshape(-1, 3)).reshape(g.shape)
    horizontal, table = _finer(seen)
    candela = table * area * np.maximum(np.cos(np.radians(vertical)), 0)
    found = emitter_from(
        Distribution(vertical, horizontal, candela), RECTANGLE, size, centre, centre + inward
    )
    return replace(found, beyond=shown)


TURNS, FINER = 72, 5
"""Turns about a pane's middle that are looked along, and how much finer they are told apart."""


def _finer(seen):
    """Turns from 0 to 360 degrees, and what is seen there, between turns that were looked along.

    Nothing goes over from one to the other side of the horizon, at 0 and 180 degrees: a meter that
    looks up from beside a window would see five degrees of sunlit land.
    """
    turn = np.linspace(0, TURNS, TURNS * FINER + 1)
    left = np.floor(turn - 0.5).astype(int)
    part = turn - 0.5 - left
    over = (left % (TURNS // 2)) == TURNS // 2 - 1
    part = np.where(over, (np.sign((part - 0.5).round(9)) + 1) / 2, part)[:, None]
    return turn * 360 / TURNS, (1 - part) * seen[left % TURNS] + part * seen[(left + 1) % TURNS]


def _sun(setup, sun):
    toward = sun_direction(sun)
    middle = np.array([setup.room.width / 2, setup.room.depth / 2, 1.0])
    return distant(FULL_SUN, toward, SUN_RADIUS, middle)


def _through(setup, emitter, opening, into):
    """What sends its light in at one window, or None where it is on the wrong side of that.

    into: unit vector along which its light comes.
    """
    place, inward = opening_place(setup, opening)
    if into @ inward < 0.005:
        return None
    # Just inside the glass the opening's edges lie where the rays carry them.
    centre = place + PANE_OFF / (into @ inward) * into
    half = opening.size[0] / 2, opening.size[1] / 2
    hole = pane(centre, axes(centre, centre + inward), half, 1.0, 0.0)
    return replace(emitter, via=(Leg(hole, opening=True),))


def _panes(setup, openings, source, shape):
    """The windows as they shine by what is outside them in the light of sky or sun."""
    if not openings:
        return []
    around = surroundings_of(setup)
    shape = [source, *shape]
    shown = _shown(Keyed(content_hash("shown", shape), (around, setup.sky, source)))
    panes = [_window(setup, o, shown, shape) for o in openings]
    # A skylight sees no land, and a window at the back of a house may see none in the sun.
    return [p for p in panes if p.face.table.any()]


def unit_emitters(setup, at):
    """Emitters of a unit: as it stands in the place, with what leaks from its head; or as it shines
    in at each window that it stands before.

    Parameters
    ----------
    setup : moth.document.Setup
    at : int
        Index of the unit.

    Returns
    -------
    tuple of Emitter

    Examples
    --------
    >>> from moth.document import bare
    >>> key = {"id": "k", "name": "k", "head": "bulb", "position": [1, 1, 2], "aim": [1, 2, 2]}
    >>> len(unit_emitters(bare(units=[key]), 0))
    1
    """
    unit = setup.units[at]
    emitter = build_emitter(unit, f"units[{at}]")
    found = []
    for opening in windows_before(setup, unit.position):
        way = opening_place(setup, opening)[0] - emitter.centre
        found.append(_through(setup, emitter, opening, way / np.linalg.norm(way)))
    shining_in = tuple(e for e in found if e is not None)
    if shining_in:
        # What leaks from a head outside is lost in the day, and on its far side of the wall.
        return shining_in
    leak = leak_emitter(unit)
    return (emitter,) if leak is None else (emitter, leak)


def sources(setup):
    """Everything that sends light, in the order of the list on screen: units, then SKY and SUN.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    list of Source

    Raises
    ------
    moth.errors.MothError
        For a unit whose head or file cannot be used.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     openings=[
    ...         {"id": "w", "name": "w", "wall": "north", "along": 2, "up": 1.5, "size": [1, 1]}
    ...     ]
    ... )
    >>> [source.id for source in sources(s)]
    ['@sky']
    """
    found = [
        Source(u.id, emitter_key(u), unit_emitters(setup, at)) for at, u in enumerate(setup.units)
    ]
    outdoors, sky = setup.room.outdoors, setup.sky
    if outdoors or setup.openings:
        shape = [sky.kind, sky.sun and sky.sun.azimuth, sky.sun and sky.sun.elevation, outdoors]
        open_ = [] if outdoors else [o for o in setup.openings if o.cover != "blackout"]
        shape.append(surroundings_of(setup).key if open_ else None)
        windows = _panes(setup, open_, SKY, shape)
        whole = outside(sky) if outdoors else None
        found.append(Source(SKY, content_hash("sky", shape), tuple(windows), whole))
        if sky.sun:
            sun, toward = _sun(setup, sky.sun), sun_direction(sky.sun)
            beams = [sun] if outdoors else [_through(setup, sun, o, -toward) for o in open_]
            lit = [b for b in beams if b is not None]
            # Sunlit land and walls outside send light in, whichever way the window looks.
            lit += _panes(setup, open_, SUN, shape)
            found.append(Source(SUN, content_hash("sun", shape), tuple(lit)))
    return found
