"""The boxes and poles that units are drawn as; they throw no shadow (decision 4)."""

import numpy as np

from .operands import BALL


def housing(emitter):
    """Half sizes (right, up) and depth behind the lit face [m] of the box a unit is drawn as."""
    a, b = max(emitter.face.half_width, 0.02), max(emitter.face.half_height, 0.02)
    return a, b, float(np.clip(0.9 * min(a, b) + 0.05, 0.06, 0.35))


STAND_RADIUS = 0.0175
"""Of the pole a unit is drawn on [m]; typical riser."""


def body_distance(origin, rays, emitter):
    """Where rays meet a unit's housing or its stand.

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
    a, b, deep = housing(emitter)
    turn, offset = emitter.vectors, origin - emitter.centre
    if emitter.kind == BALL:
        reach = np.full(len(rays), np.inf)
    else:
        o, d = turn @ offset, rays @ turn.T
        with np.errstate(divide="ignore", invalid="ignore"):
            t0, t1 = (np.array([-a, -b, -deep]) - o) / d, (np.array([a, b, -1e-4]) - o) / d
        near, far = np.minimum(t0, t1).max(1), np.maximum(t0, t1).min(1)
        reach = np.where((near < far) & (near > 0), near, np.inf)
    pole = emitter.centre[:2] - deep / 2 * turn[2, :2]
    flat = rays[:, :2]
    aa = np.maximum((flat**2).sum(1), 1e-12)
    o2 = origin[:2] - pole
    half = flat @ o2
    disc = half**2 - aa * (o2 @ o2 - STAND_RADIUS**2)
    t = (-half - np.sqrt(np.maximum(disc, 0))) / aa
    z = origin[2] + t * rays[:, 2]
    stand = (disc > 0) & (t > 0) & (z < emitter.centre[2]) & (z > 0)
    return np.minimum(reach, np.where(stand, t, np.inf))
