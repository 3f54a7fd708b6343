"""Units as emitters: a lit face in space and its intensity in every direction."""

from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from ..engine.caching import Keyed, cached, content_hash
from ..errors import MothError
from ..photometry import Distribution, from_function, lamp_key, lamp_of, leak_of
from ..world import Pane, axes, triple
from .beyond import Beyond
from .housings import housing, rods_of
from .operands import BALL, DISC, DISTANT, POINT, RECTANGLE, LitFace

EVEN = np.ones((1, 1))
TABLE_STEPS = 1440
"""Intervals of the table in use, even in the sine of half the vertical angle: a square root finds
the place, no arc cosine.
"""


class Leg(NamedTuple):
    """A mirror, or an opening past which nothing stands in the way."""

    pane: Pane
    opening: bool = False


@dataclass(frozen=True)
class Emitter:
    """A lit face in a world, or its image in a mirror."""

    face: LitFace
    via: tuple[Leg, ...] = ()
    """What its light comes by, the last first: mirrors that this is the image in, and the window
    that the sun comes through.
    """
    rods: tuple = ()
    """What holds it, as :func:`moth.transport.housings.rods_of` says."""
    beyond: Beyond | None = None
    """For a window's pane: what is seen through it where solids stand outside."""
    drawn: bool = True
    """Whether the frame shows it; what leaks from a head lights, and is no lamp to look at."""

    @property
    def mirrored(self):
        return any(not leg.opening for leg in self.via)

    @property
    def kind(self):
        return self.face.kind

    @property
    def centre(self):
        return np.array(self.face.centre)

    @property
    def vectors(self):
        """(3, 3): right, up and forward."""
        return np.array([self.face.right, self.face.up, self.face.forward])

    @property
    def area(self):
        return self.face.area

    @property
    def half(self):
        """The longer half side [m]."""
        return max(self.face.half_width, self.face.half_height)


def lit_face(kind, centre, vectors, size, table, pattern=EVEN):
    """A lit face from its place.

    Parameters
    ----------
    kind : int
    centre : array_like, shape (3,)
        [m]
    vectors : tuple of ndarray
        Right, up and forward.
    size : tuple
        Width and height [m].
    table, pattern : ndarray
        See :class:`LitFace`.

    Returns
    -------
    LitFace
    """
    a, b = size[0] / 2, size[1] / 2
    wide, high = max(a, 0.005), max(b, 0.005)
    area = 4 * wide * high if kind == RECTANGLE else np.pi * wide * high
    right, up, forward = vectors
    return LitFace(
        kind,
        triple(centre),
        triple(right),
        triple(up),
        triple(forward),
        float(a),
        float(b),
        table,
        pattern,
        float(area),
    )


@cached("tables of lamps")
def _fine_table(distribution):
    """The table in use, resampled once a distribution and kept with it."""
    grid = np.degrees(2 * np.arcsin(np.linspace(0, 1, TABLE_STEPS + 1)))
    turns = (
        np.zeros(1)
        if len(distribution.horizontal) == 1
        else np.linspace(0, 360, max(73, min(len(distribution.horizontal), 361)))
    )
    return distribution.table(grid, turns)


def distant(level, toward, radius, middle):
    """A face so far off that it has a direction and an angular size, and no place.

    Parameters
    ----------
    level : float
        Square to its light [lx].
    toward : ndarray, shape (3,)
        Unit vector to it.
    radius : float
        From its middle to its rim [deg].
    middle : ndarray, shape (3,)
        A place of the scene [m]; only words and drawings ask where it is.

    Returns
    -------
    Emitter
    """
    half = float(np.tan(np.radians(radius)))
    centre = middle + AFAR * np.asarray(toward, float)
    face = lit_face(
        DISTANT, centre, axes(centre, middle), (2 * half, 2 * half), np.full((1, 2), level)
    )
    return Emitter(face._replace(area=float(np.pi * np.sin(np.radians(radius)) ** 2)))


AFAR = 2500.0
"""Where a distant face is said to be [m]."""


def emitter_from(distribution: Distribution, shape, size, position, aim, roll=0.0):
    """Emitter from a distribution and an evenly lit face.

    Parameters
    ----------
    distribution : Distribution
    shape : int
        POINT, DISC, RECTANGLE or BALL.
    size : tuple
        Width and height of the face [m].
    position, aim : array_like, shape (3,)
    roll : float
        [deg]

    Returns
    -------
    Emitter

    Examples
    --------
    >>> from moth.photometry import from_angles
    >>> emitter_from(from_angles(1000, 40, 70), POINT, (0, 0), (0, 0, 2), (0, 0, 0)).kind
    0
    """
    kind = POINT if max(size) <= 0 else shape
    table = _fine_table(distribution)
    return Emitter(lit_face(kind, position, axes(position, aim, roll), size, table))


def _uneven(emitter, brightness):
    """The same, its face as bright from place to place as a table (k, k) says."""
    k = (np.arange(len(brightness)) + 0.5) / len(brightness) * 2 - 1
    inside = np.ones_like(brightness, bool)
    if emitter.kind == DISC:
        inside = np.hypot(*np.meshgrid(k, k)) <= 1.05
    pattern = np.ascontiguousarray(brightness / brightness[inside].mean())
    return replace(emitter, face=emitter.face._replace(pattern=pattern))


def build_emitter(unit, path="units"):
    """Emitter of a :class:`moth.document.Unit` at full output, with all that hangs on it.

    Raises
    ------
    DocumentError
        For a head or an attachment that is not in the catalogue.
    PhotometryError
        For a photometric file that cannot be read.

    Examples
    --------
    >>> from moth.document import Unit
    >>> build_emitter(Unit(id="k", name="Key", head="panel-small", position=(0, 0, 2), aim=(0, 1,
    ...     2))).area
    0.09
    """
    try:
        return _emitter(Keyed(emitter_key(unit), unit))
    except MothError as error:
        raise type(error)(error.sentence, f"{path}.{error.path}") from None


@cached("lamps in place")
def _emitter(keyed):
    unit = keyed.value
    lamp = lamp_of(unit)
    shape = {"point": POINT, "disc": DISC, "rectangle": RECTANGLE, "tube": RECTANGLE, "bulb": BALL}[
        lamp.shape
    ]
    emitter = emitter_from(lamp.distribution, shape, lamp.size, unit.position, unit.aim, unit.roll)
    emitter = emitter if lamp.face is None else _uneven(emitter, lamp.face)
    return replace(emitter, rods=rods_of(unit, emitter))


def leak_emitter(unit):
    """What leaks from a unit's head: a ball behind its lit face that sends wide, to its sides and
    back.

    Parameters
    ----------
    unit : moth.document.Unit

    Returns
    -------
    Emitter or None
        None where nothing leaks.

    Examples
    --------
    >>> from moth.document import Unit
    >>> u = Unit(id="k", name="Key", head="panel-small", position=(0, 0, 2), aim=(0, 1, 2))
    >>> leak_emitter(u), bool(leak_emitter(u.model_copy(update={"leak": 0.02})).centre[1] < 0)
    (None, True)
    """
    lumens = leak_of(unit)
    if not lumens:
        return None
    lit = build_emitter(unit)
    _, _, deep = housing(lit)
    place = lit.centre - (deep + VENTS) * lit.vectors[2]
    spread = _LEAK.scaled(lumens / _LEAK.lumens)
    found = emitter_from(spread, BALL, (2 * VENTS, 2 * VENTS), place, unit.aim)
    return replace(found, drawn=False)


VENTS = 0.06
"""Radius of what leaks [m]; typical of a head's vents."""
_LEAK = from_function(lambda c, g: np.clip((g - 60) / 30, 0, 1) + 0 * c, reach=180)
"""Nothing within 60 degrees of the beam, where the head's own front stands, even from its sides to
its back; typical.
"""


def emitter_key(unit):
    """Hash of what shapes a unit's light at full and white, and what is seen of it: neither dimmer
    nor colour nor name.
    """
    return content_hash(
        "emitter",
        [*lamp_key(unit), unit.leak],
        unit.position,
        unit.aim,
        unit.roll,
        unit.held,
        list(unit.foot or ()),
    )
