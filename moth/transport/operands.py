"""What the compiled loops are given: arrays and numbers by name, for all of them alike."""

from typing import NamedTuple

import numpy as np

from ..world.sheets import Panes
from .gloss import Gloss

POINT, DISC, RECTANGLE, BALL, DISTANT = 0, 1, 2, 3, 4
"""Kinds of lit faces. A distant one has a direction and an angular size, and no place."""
FAR = 1e4
"""Length of rays to a distant face [m]: beyond anything that stands."""


Triple = tuple[float, float, float]


class LitFace(NamedTuple):
    """A lamp's lit face: every part of it sends the same share of the intensity."""

    kind: int
    """POINT, DISC, RECTANGLE, BALL or DISTANT."""
    centre: Triple
    """[m]; of a distant face somewhere on its way. Triples and no arrays: the compiled loops keep
    them in registers.
    """
    right: Triple
    """Unit vectors, as are up and forward."""
    up: Triple
    forward: Triple
    half_width: float
    """[m], along right; of a distant face the tangent of its angular radius."""
    half_height: float
    table: np.ndarray
    """(m, k) candela over turn (m rows over 360 deg, or 1) and sin(vertical angle / 2), 0..1; of a
    distant face the illuminance square to it [lx].
    """
    pattern: np.ndarray
    """(k, k) brightness over the face against its mean, along right and up."""
    area: float
    """Of the face seen from the front [m^2]; a point is given a 1 cm disc to be seen by."""


class Pixels(NamedTuple):
    """How much of a surface each place stands for in a picture."""

    across: np.ndarray
    """(n, 3) the way on the surface from its pixel's left edge to the right one [m], zero where a
    place stands for itself; (0, 3) if all do.
    """
    down: np.ndarray
    """The same from its upper edge to the lower one."""


NO_PIXELS = Pixels(*np.empty((2, 0, 3), np.float32))


class Spots(NamedTuple):
    """Places that light is asked for."""

    points: np.ndarray
    """(n, 3) [m]"""
    normals: np.ndarray
    """(n, 3) unit"""
    seeds: np.ndarray
    """(n,) where each begins in the sequence of samples."""
    pixels: Pixels = NO_PIXELS
    """All but the first sample of a place are taken all over its pixel: an edge of shade that
    crosses it is as smooth there as the edge of a body is.
    """


class Strands(NamedTuple):
    """Which of some places are hair, and what it needs besides."""

    row: np.ndarray
    """(n,) index into the others, -1 for what is no hair."""
    along: np.ndarray
    """(h, 3) unit, the way it lies."""
    once: np.ndarray
    """(h, 3) what is left of light that passed through it once, and twice."""
    twice: np.ndarray


def no_strands(count):
    """So many places, none of them hair."""
    none = np.zeros((0, 3))
    return Strands(np.full(count, -1), none, none, none)


class Shading(NamedTuple):
    """Places with all that sheen needs."""

    points: np.ndarray
    normals: np.ndarray
    toward: np.ndarray
    """(n, 3) unit, to the eye."""
    gloss: Gloss
    strands: Strands


class Rays(NamedTuple):
    """Rays and what each would bring."""

    origins: np.ndarray
    """(m, 3) [m]"""
    directions: np.ndarray
    """(m, 3) unit"""
    distances: np.ndarray
    """(m,) [m]"""
    weights: np.ndarray
    """(m,) light, any unit; 0 for a ray that need not be cast."""


def room_for(count):
    """Rays still to be filled in."""
    return Rays(
        np.empty((count, 3), np.float32),
        np.empty((count, 3), np.float32),
        np.empty(count, np.float32),
        np.empty(count),
    )


class Seen(NamedTuple):
    """What places got of a lamp, and what they could have got: (n,) each, any unit."""

    lit: np.ndarray
    total: np.ndarray


class Obstacles(NamedTuple):
    """What stands in the way of light."""

    scene: np.ndarray
    """Addresses of what is solid (moth.world.embree.Triangles.together)."""
    cloths: Panes
    """Those that let light through."""
    extinction: float
    """Of the air [1/m]."""


class Grid(NamedTuple):
    """Shading points of a picture in their pixels."""

    points: np.ndarray
    normals: np.ndarray
    depth: np.ndarray
    """(n,) distance from the lens [m]."""
    pixel: np.ndarray
    """(n,) row by row."""
    single: np.ndarray
    """(width * height,) the one shading point of each pixel, -1 where there are more."""
    width: int
    height: int


class Cells(NamedTuple):
    """Flat pieces of surface that send light on, diffuse and in lobes; (k, 3) unless told."""

    middle: np.ndarray
    """[m]"""
    normal: np.ndarray
    """Unit."""
    along: np.ndarray
    """Half vectors to the edges [m]."""
    up: np.ndarray
    flux: np.ndarray
    """Diffuse: radiosity times area over pi [cd], the intensity straight ahead."""
    axis: np.ndarray
    """Of the lobe, unit."""
    kappa: np.ndarray
    """(k,) concentration of the lobe."""
    power: np.ndarray
    """Flux of the lobe [lm]; 0 for none."""
    reach: np.ndarray
    """(k,) distance from which the lobe's light spread when it fell on the cell [m]: over the cell
    its axis turns as if it came from there.
    """
    shaped: np.ndarray
    """(k,) bool: whether its lobe is told by a pattern; axis and kappa are but its mean then."""
    pattern: np.ndarray
    """(k, m, m) density by direction [1/sr], see :mod:`.patterns`; (k, 0, 0) where none is."""


class Legs(NamedTuple):
    """Rays on their way by a mirror."""

    hits: np.ndarray
    """(n, 3) where they meet the glass [m]."""
    turned: np.ndarray
    """(n, 3) the way on."""
    first: np.ndarray
    """(n,) length to the glass [m]; -1 for a ray that misses it."""
    rest: np.ndarray
    """(n,) length from there [m]."""
