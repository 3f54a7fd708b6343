"""Units as emitters: a lit face in space and its intensity in every direction."""

from dataclasses import asdict, dataclass
from functools import lru_cache

import numpy as np

from ..errors import DocumentError, MothError
from ..photometry import HEADS, Distribution, read_ies
from ..world.keys import content_hash

POINT, DISC, RECTANGLE, BALL = 0, 1, 2, 3
_SHAPES = {"disc": DISC, "rectangle": RECTANGLE, "tube": RECTANGLE, "bulb": BALL}
TABLE_STEPS = 1440
"""Intervals of the table in use, even in the sine of half the vertical angle: a square root finds the place, no arc cosine."""


@dataclass(frozen=True)
class Emitter:
    """A lit face: every part of it sends the same share of the intensity."""

    frame: np.ndarray
    """Shape (15,): kind, centre (3) [m], right (3), up (3), forward (3), half width, half height [m]."""
    table: np.ndarray
    """Shape (m, TABLE_STEPS + 1): candela over turn (m rows over 360 deg, or 1) and sin(vertical angle / 2), 0..1."""

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


def axes(position, aim, roll=0.0):
    """Right, up and forward unit vectors of something that looks from a place to another.

    Parameters
    ----------
    position, aim : array_like, shape (3,)
        [m]
    roll : float
        Turn about forward [deg]; 0 keeps the right hand level.

    Returns
    -------
    tuple of ndarray, each shape (3,)

    Examples
    --------
    >>> [(v + 0.0).tolist() for v in axes((0, 0, 0), (0, 1, 0))]
    [[1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, 1.0, 0.0]]
    """
    forward = np.asarray(aim, float) - np.asarray(position, float)
    forward /= np.linalg.norm(forward)
    # Aimed straight up or down, the right hand stays east.
    right = np.array([forward[1], -forward[0], 0.0]) if np.hypot(*forward[:2]) > 1e-6 else np.array([1.0, 0.0, 0.0])
    right /= np.linalg.norm(right)
    up = np.cross(right, forward)
    c, s = np.cos(np.radians(roll)), np.sin(np.radians(roll))
    return c * right + s * up, c * up - s * right, forward


@lru_cache(maxsize=64)
def _fine_table(distribution):
    """The table in use, resampled once a distribution and kept with it."""
    grid = np.degrees(2 * np.arcsin(np.linspace(0, 1, TABLE_STEPS + 1)))
    turns = np.zeros(1) if len(distribution.horizontal) == 1 else np.linspace(0, 360, 73)
    return np.stack([distribution.intensity(grid, np.full(len(grid), t)) for t in turns])


@lru_cache(maxsize=64)
def _from_file(text):
    photometry = read_ies(text)
    width, length, _ = photometry.size
    if width < 0 or length < 0:
        return photometry.distribution, DISC, (abs(width) or abs(length),) * 2
    # LM-63 measures the length along turn 0/180, which is the unit's right hand, the width along 90/270.
    return photometry.distribution, RECTANGLE if width and length else POINT, (length, width)


def emitter_from(distribution: Distribution, shape, size, position, aim, roll=0.0):
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
    frame = np.concatenate([[kind], position, right, up, forward, [size[0] / 2, size[1] / 2]]).astype(float)
    return Emitter(frame, _fine_table(distribution))


def build_emitter(unit, path="units"):
    """Emitter of a :class:`moth.document.Unit` at full output.

    Raises
    ------
    DocumentError
        For a head that is not in the catalogue.
    PhotometryError
        For a photometric file that cannot be read.

    Examples
    --------
    >>> from moth.document import Unit
    >>> build_emitter(Unit(id="k", name="Key", head="panel-small", position=(0, 0, 2), aim=(0, 1, 2))).area
    0.09
    """
    try:
        return _emitter(unit.head, unit.ies, unit.position, unit.aim, unit.roll)
    except MothError as error:
        raise type(error)(error.sentence, f"{path}.{error.path}") from None


def _lamp(head_key, ies):
    """Distribution, shape and size of the lit face: of the file if there is one, else of the head."""
    if ies:
        return _from_file(ies)
    if head_key not in HEADS:
        raise DocumentError(f"There is no head '{head_key}' in the catalogue.", "head")
    head = HEADS[head_key]
    return head.distribution, _SHAPES[head.shape], head.size


@lru_cache(maxsize=1000)
def _emitter(head_key, ies, position, aim, roll):
    distribution, shape, size = _lamp(head_key, ies)
    return emitter_from(distribution, shape, size, position, aim, roll)


@lru_cache(maxsize=200)
def beam_figures(head_key, ies):
    """Beam angle [deg], field angle [deg] and flux [lm] of a head, or of the file that replaces its figures.

    Examples
    --------
    >>> [round(f) for f in beam_figures("fresnel-200", None)]
    [28, 48, 9407]
    """
    distribution = _lamp(head_key, ies)[0]
    return distribution.beam_angle, distribution.field_angle, distribution.lumens


def emitter_key(unit):
    """Hash of what shapes a unit's light at full and white: neither dimmer nor colour nor name."""
    return _emitter_key(unit.head, unit.ies, unit.position, unit.aim, unit.roll)


@lru_cache(maxsize=1000)
def _emitter_key(head, ies, position, aim, roll):
    # The head's own figures, not its name: a corrected catalogue gives new layers.
    return content_hash("emitter-2", ies or asdict(HEADS[head]), position, aim, roll)
