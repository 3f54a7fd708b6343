"""Units as emitters: a lit face in space and its intensity in every direction."""

from dataclasses import dataclass, field

import numpy as np

from ..engine.caching import Keyed, cached, content_hash
from ..errors import MothError
from ..photometry import Distribution, lamp_key, lamp_of
from ..world import axes

POINT, DISC, RECTANGLE, BALL = 0, 1, 2, 3
EVEN = np.ones((1, 1))
TABLE_STEPS = 1440
"""Intervals of the table in use, even in the sine of half the vertical angle: a square root finds
the place, no arc cosine.
"""


@dataclass(frozen=True)
class Emitter:
    """A lit face: every part of it sends the same share of the intensity."""

    frame: np.ndarray
    """Shape (15,): kind, centre (3) [m], right (3), up (3), forward (3), half width, half height
    [m].
    """
    table: np.ndarray
    """Shape (m, TABLE_STEPS + 1): candela over turn (m rows over 360 deg, or 1) and sin(vertical
    angle / 2), 0..1.
    """
    face: np.ndarray = field(default_factory=lambda: EVEN)
    """(k, k) brightness over the face against its mean, along right and up."""
    via: np.ndarray | None = None
    """Row of the mirror this is the image in, or of the window the sun comes through."""
    through: bool = False
    """Whether `via` is an opening, past which nothing stands in the way, and not a mirror."""

    @property
    def kind(self):
        return int(self.frame[0])

    @property
    def centre(self):
        return self.frame[1:4]

    @property
    def area(self):
        """Of the lit face seen from the front [m^2]; a point is given a 1 cm disc to be seen by."""
        a, b = max(self.frame[13], 0.005), max(self.frame[14], 0.005)
        return float(4 * a * b if self.kind == RECTANGLE else np.pi * a * b)


@cached("tables of lamps")
def _fine_table(distribution):
    """The table in use, resampled once a distribution and kept with it."""
    grid = np.degrees(2 * np.arcsin(np.linspace(0, 1, TABLE_STEPS + 1)))
    turns = (
        np.zeros(1)
        if len(distribution.horizontal) == 1
        else np.linspace(0, 360, max(73, min(len(distribution.horizontal), 361)))
    )
    return np.stack([distribution.intensity(grid, np.full(len(grid), t)) for t in turns])


def emitter_from(distribution: Distribution, shape, size, position, aim, roll=0.0, face=None):
    """Emitter from a distribution and a lit face.

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
    face : ndarray or None, shape (k, k)
        Brightness over the face; None for even.

    Returns
    -------
    Emitter

    Examples
    --------
    >>> from moth.photometry import from_angles
    >>> emitter_from(from_angles(1000, 40, 70), POINT, (0, 0), (0, 0, 2), (0, 0, 0)).kind
    0
    """
    right, up, forward = axes(position, aim, roll)
    kind = POINT if max(size) <= 0 else shape
    frame = np.concatenate(
        [[kind], position, right, up, forward, [size[0] / 2, size[1] / 2]]
    ).astype(float)
    if face is None:
        return Emitter(frame, _fine_table(distribution))
    k = (np.arange(len(face)) + 0.5) / len(face) * 2 - 1
    inside = np.hypot(*np.meshgrid(k, k)) <= 1.05 if kind == DISC else np.ones_like(face, bool)
    return Emitter(
        frame, _fine_table(distribution), np.ascontiguousarray(face / face[inside].mean())
    )


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
    return emitter_from(
        lamp.distribution, shape, lamp.size, unit.position, unit.aim, unit.roll, lamp.face
    )


def emitter_key(unit):
    """Hash of what shapes a unit's light at full and white: neither dimmer nor colour nor name."""
    return content_hash("emitter", lamp_key(unit), unit.position, unit.aim, unit.roll)
