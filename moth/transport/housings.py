"""What units are drawn as: the box of the head, eight-sided behind a round face, and the rods that
hold it; they throw no shadow (decision 4).
"""

import numpy as np

from ..place import box_behind, unit_rods
from .operands import BALL, DISC

_SLANTS = np.array([[1.0, 1.0, 0.0], [1.0, -1.0, 0.0]]) / np.sqrt(2)
"""Ways out of the corners that a round head has not."""


def housing(emitter):
    """Half sizes (right, up) and depth behind the lit face [m] of the box a unit is drawn as."""
    return box_behind(emitter.face.half_width, emitter.face.half_height)


def rods_of(unit, emitter):
    """What holds a unit, as rods.

    Parameters
    ----------
    unit : moth.document.Unit
    emitter : Emitter

    Returns
    -------
    tuple
        As :func:`moth.place.unit_rods` says.
    """
    deep = 0.0 if emitter.kind == BALL else housing(emitter)[2]
    return unit_rods(unit, emitter.centre - deep / 2 * emitter.vectors[2])


def body_distance(origin, rays, emitter):
    """Where rays meet a unit's housing or what holds it.

    Parameters
    ----------
    origin : ndarray, shape (3,)
        [m]
    rays : ndarray, shape (n, 3)
        Directions.
    emitter : Emitter

    Returns
    -------
    ndarray, shape (n,)
        In lengths of the directions; infinite for a miss.
    """
    ball = emitter.kind == BALL
    reach = np.full(len(rays), np.inf) if ball else head_distance(origin, rays, emitter)
    for rod in emitter.rods:
        reach = np.minimum(reach, _along_rod(origin, rays, *rod))
    return reach


def head_distance(origin, rays, emitter):
    """As :func:`body_distance`, of the head alone: the housing behind its face, or its ball."""
    a, b, deep = housing(emitter)
    turn, offset = emitter.vectors, origin - emitter.centre
    if emitter.kind == BALL:
        toward = -(rays @ offset) / (rays**2).sum(1)
        apart = np.linalg.norm(offset + toward[:, None] * rays, axis=1)
        return np.where((apart < emitter.face.half_width) & (toward > 0), toward, np.inf)
    ways, low, high = np.eye(3), [-a, -b, -deep], [a, b, -1e-4]
    if emitter.kind == DISC:
        half = (a + b) / 2
        ways, low, high = (
            np.concatenate([ways, _SLANTS]),
            [*low, -half, -half],
            [*high, half, half],
        )
    o, d = ways @ turn @ offset, rays @ (ways @ turn).T
    with np.errstate(divide="ignore", invalid="ignore"):
        t0, t1 = (np.array(low) - o) / d, (np.array(high) - o) / d
    near, far = np.minimum(t0, t1).max(1), np.maximum(t0, t1).min(1)
    return np.where((near < far) & (near > 0), near, np.inf)


def _along_rod(origin, rays, one, other, radius):
    """Where rays meet the side of a rod, in lengths of theirs."""
    axis = np.subtract(other, one)
    length = max(float(np.linalg.norm(axis)), 1e-9)
    axis = axis / length
    off, along = origin - np.asarray(one), rays @ axis
    before = off @ axis
    flat, o = rays - along[:, None] * axis, off - before * axis
    aa = np.maximum((flat**2).sum(1), 1e-12)
    half = flat @ o
    disc = half**2 - aa * (o @ o - radius**2)
    t = (-half - np.sqrt(np.maximum(disc, 0))) / aa
    at = before + t * along
    return np.where((disc > 0) & (t > 0) & (at > 0) & (at < length), t, np.inf)
