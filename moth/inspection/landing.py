"""Where a beam lands: the outline of its patch on the surfaces, through windows and by mirrors.

It is geometry alone: rays along the rim of the beam, cut by the windows and mirrors it goes by.
"""

from dataclasses import dataclass

import numpy as np
import shapely

from ..camera import source_colours, source_levels
from ..colour import LUMINANCE
from ..metering import NEUTRAL, ways_at, xyz
from ..metering import Place as Meter
from ..photometry import lamp_of
from ..transport import project, sources
from ..transport.arrival import with_images
from ..transport.sources import unit_emitters
from ..world import build_world
from .names import body_name

RIM = 96
"""Rays along the rim of a beam."""
WIDEST = 100.0
"""Beams wider than this land everywhere: they are told no outline [deg]."""
START = 2e-3
"""Past the pane or before the face from which a ray sets out [m]."""
FARTHEST = 200.0
"""Beyond which nothing is lit by a rim of rays [m]."""

Place = tuple[float, float, float]


@dataclass(frozen=True)
class Ring:
    """A closed outline of light on surfaces."""

    on: str
    """What most of it lies on."""
    mirrors: int
    """Mirrors that it came by."""
    places: tuple[Place, ...]
    """[m], one after another."""
    frame: tuple[tuple[float, float] | None, ...]
    """Where each shows in the frame, 0..1; None where it is hidden or out of it."""


@dataclass(frozen=True)
class Landing:
    """All outlines of one unit's beam."""

    unit: str
    beam: float
    """Full angle at half of the peak [deg]."""
    rings: tuple[Ring, ...]


def landing(setup, unit_id):
    """Where a unit's beam lands.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str

    Returns
    -------
    Landing
        Without rings for a beam wider than :data:`WIDEST`.

    Raises
    ------
    KeyError
        When there is no such unit.

    Examples
    --------
    >>> from moth.document import bare
    >>> spot = {"id": "s", "name": "Spot", "head": "fresnel-100", "position": [2, 2, 2.4],
    ...     "aim": [2, 2.01, 0]}
    >>> landing(bare(units=[spot]), "s").rings[0].mirrors
    0
    """
    at = next((k for k, u in enumerate(setup.units) if u.id == unit_id), None)
    if at is None:
        raise KeyError(unit_id)
    beam = float(lamp_of(setup.units[at]).distribution.beam_angle)
    if not 0 < beam <= WIDEST:
        return Landing(unit_id, beam, ())
    world = build_world(setup)
    rings = []
    shown = [e for e in unit_emitters(setup, at) if e.drawn]
    for emitter in with_images(world, shown):
        rays = _rim(emitter, np.radians(beam / 2))
        if rays is None:
            continue
        start, way = rays
        mirrors = sum(not leg.opening for leg in emitter.via)
        rings += _rings(setup, world, start, way, mirrors)
    return Landing(unit_id, beam, tuple(rings))


@dataclass(frozen=True)
class AxisEnd:
    """Where the middle ray of a unit ends."""

    name: str
    """Of what it meets."""
    place: Place
    """[m]"""
    lux: float
    """On a disc held flat against it, of this unit as it is set [lx]."""


def axis_end(setup, unit_id):
    """Where the middle ray of a unit ends, through cloths that let light through.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str

    Returns
    -------
    AxisEnd or None
        None where it meets nothing.

    Raises
    ------
    KeyError
        When there is no such unit.

    Examples
    --------
    >>> from moth.document import bare
    >>> down = {"id": "s", "name": "Spot", "head": "fresnel-100", "position": [1, 1, 2.4],
    ...     "aim": [1, 1.01, 0]}
    >>> end = axis_end(bare(units=[down]), "s")
    >>> end.name, abs(end.place[2]) < 0.001
    ('the floor', True)
    """
    at = next((k for k, u in enumerate(setup.units) if u.id == unit_id), None)
    if at is None:
        raise KeyError(unit_id)
    unit, world = setup.units[at], build_world(setup)
    way = np.subtract(unit.aim, unit.position)
    way = way / np.linalg.norm(way)
    start = np.asarray(unit.position, float) + 0.02 * way
    found, _, far = world.solid.first(start[None], way[None])
    if found[0] < 0 or far[0] > FARTHEST:
        return None
    triangle = int(np.flatnonzero(~_apart(world))[found[0]])
    corners = world.mesh.vertices[world.mesh.faces[triangle]]
    normal = np.cross(corners[1] - corners[0], corners[2] - corners[0])
    normal = -np.sign(normal @ way) * normal / max(np.linalg.norm(normal), 1e-12)
    place = start + far[0] * way
    held = Meter("", "", xyz(place + START * normal), xyz(normal), "disc")
    rgb = sum(ways_at(world, sources(setup)[at], held).values())
    colour = source_colours(setup, NEUTRAL)[unit.id]
    gain = source_levels(setup)[unit.id] or unit.dimmer
    lux = float((rgb * colour) @ LUMINANCE) * gain
    return AxisEnd(body_name(setup, world, triangle), xyz(place), lux)


STRAIGHT = 0.05
"""Share that a cloth lets straight through from which the beam lands behind it too."""


def _rings(setup, world, start, way, mirrors):
    """The outline on what the rays meet first, and on what is behind a cloth that they meet."""
    triangle, _, far = world.rays.first(start, way)
    sheet = world.mesh.sheet[triangle]
    sheer = (triangle >= 0) & (sheet >= 0)
    sheer[sheer] = world.rows.straight[sheet[sheer]] > STRAIGHT
    if sheer.any():
        behind, _, reach = world.solid.first(start, way)
        solid = np.flatnonzero(~_apart(world))[behind]
        yield from _ring(setup, world, (start, way), (solid, reach), mirrors)
    yield from _ring(setup, world, (start, way), (triangle, far), mirrors)


def _apart(world):
    """Triangles of the cloths that let light through, and of the sky: those that `solid` lacks."""
    mesh = world.mesh
    through = np.array([s.material.transmission > 0 for s in world.sheets] + [False], bool)
    return through[mesh.sheet] | (world.patches.sky[mesh.front, 2] != 0)


def _ring(setup, world, rays, found, mirrors):
    (start, way), (triangle, far) = rays, found
    met = (triangle >= 0) & (far < FARTHEST)
    if met.sum() < 3:
        return
    places = start[met] + far[met, None] * way[met]
    names = [body_name(setup, world, t) for t in triangle[met][:: max(1, int(met.sum()) // 12)]]
    yield Ring(
        max(set(names), key=names.count),
        mirrors,
        tuple(xyz(p) for p in places),
        _in_frame(setup, world, places),
    )


def _rim(emitter, half):
    """Where rays of the rim set out, and their ways; None where nothing comes through."""
    turn = np.linspace(0, 2 * np.pi, RIM, endpoint=False)
    right, up, forward = emitter.vectors
    ways = np.cos(half) * forward + np.sin(half) * (
        np.cos(turn)[:, None] * right + np.sin(turn)[:, None] * up
    )
    centre = emitter.centre
    if not emitter.via:
        return centre + START * forward + 0 * ways, ways
    # An image shines through the glass it is seen in, a lamp outside through its window: what of
    # the beam's section is inside the edges.
    pane = emitter.via[0].pane
    middle, normal = np.array(pane.centre), np.array(pane.normal)
    axes = np.array([pane.right, pane.up])
    reach = (middle - centre) @ normal
    slope = ways @ normal
    ahead = slope * np.sign(reach) > 1e-3 * abs(np.sin(half)) + 1e-6
    with np.errstate(divide="ignore", invalid="ignore"):
        t = np.where(ahead, np.minimum(np.abs(reach / slope), FARTHEST), FARTHEST)
    section = (centre + t[:, None] * ways - middle) @ axes.T
    whole = shapely.Polygon(section).buffer(0)
    a, b = pane.half
    left = whole.intersection(shapely.box(-a, -b, a, b))
    if left.is_empty or left.geom_type != "Polygon":
        return None
    along = np.linspace(0, left.exterior.length, RIM, endpoint=False)
    edge = shapely.get_coordinates(shapely.line_interpolate_point(left.exterior, along))
    start = middle + 0.998 * edge @ axes
    ways = start - centre
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    return start + START * ways, ways


def _in_frame(setup, world, places):
    """Where places show; None where something stands before them."""
    camera = setup.cameras[0]
    lens = np.asarray(camera.position, float)
    to = places - lens
    far = np.linalg.norm(to, axis=1)
    clear = world.rays.visible(np.tile(lens, (len(to), 1)), to / far[:, None], far - 0.01)
    return tuple(
        place if seen else None for place, seen in zip(project(camera, places), clear, strict=True)
    )
