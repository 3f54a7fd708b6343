"""Quadrature over a lit face: nodes u, v in the unit square and weights that sum to one."""

from functools import lru_cache

import numpy as np

from ..engine.sampling import R2_U, R2_V
from .operands import POINT, RECTANGLE

MIDDLE = np.array([[0.0, 0.0, 1.0]])
"""The middle of a disc or ball: radius zero."""


@lru_cache(maxsize=64)
def face_nodes(kind, across, along):
    """Nodes for a kind of face.

    Gauss-Legendre both ways on a rectangle; on a disc or ball Gauss-Legendre in the
    squared radius and equal steps round it, which is exact for smooth light.

    Parameters
    ----------
    kind : int
        POINT, DISC, RECTANGLE, BALL or DISTANT.
    across, along : int
        Number of nodes each way.

    Returns
    -------
    ndarray, shape (q, 3)
        u, v, weight.

    Examples
    --------
    >>> float(face_nodes(RECTANGLE, 4, 4)[:, 2].sum().round(12))
    1.0
    """
    if kind == POINT:
        return np.array([[0.5, 0.5, 1.0]])
    x, wx = np.polynomial.legendre.leggauss(across)
    if kind == RECTANGLE:
        y, wy = np.polynomial.legendre.leggauss(along)
        y, wy = (y + 1) / 2, wy / 2
    else:
        y, wy = (np.arange(along) + 0.5) / along, np.full(along, 1 / along)
    u, v = np.meshgrid((x + 1) / 2, y, indexing="ij")
    return np.ascontiguousarray(np.stack([u.ravel(), v.ravel(), np.outer(wx / 2, wy).ravel()], 1))


def picture_nodes(emitter):
    """Nodes for shading pixels: within 2, within 30, and beyond 30 half widths of the face."""
    one = face_nodes(emitter.kind, 1, 1)
    if emitter.kind == RECTANGLE and emitter.face.half_width > 6 * emitter.face.half_height:
        return face_nodes(RECTANGLE, 10, 1), face_nodes(RECTANGLE, 4, 1), one
    if emitter.kind == RECTANGLE and emitter.face.table.shape[0] > 1:
        # A window's light jumps at the horizon: two points a side would show a step where they take
        # over.
        return face_nodes(RECTANGLE, 8, 8), face_nodes(RECTANGLE, 8, 8), face_nodes(RECTANGLE, 3, 3)
    if emitter.kind == RECTANGLE:
        return face_nodes(RECTANGLE, 4, 4), face_nodes(RECTANGLE, 2, 2), one
    return face_nodes(emitter.kind, 3, 6), face_nodes(emitter.kind, 2, 4), MIDDLE


def meter_nodes(emitter):
    """Dense nodes for meters: 20 x 28, or the same number along a tube."""
    if emitter.kind == RECTANGLE and emitter.face.half_width > 6 * emitter.face.half_height:
        return face_nodes(RECTANGLE, 192, 3)
    return face_nodes(emitter.kind, 20, 28)


@lru_cache(maxsize=4)
def even_nodes(count):
    """Nodes of a sequence that fills the square evenly, R2: seen along any side they lie closer
    than those of a grid, so that a pole before the face is met.

    Examples
    --------
    >>> even_nodes(560).shape, bool(np.diff(np.sort(even_nodes(560)[:, 0])).max() < 0.005)
    ((560, 3), True)
    """
    k = np.arange(1, count + 1)
    u, v = (0.5 + k * R2_U) % 1.0, (0.5 + k * R2_V) % 1.0
    return np.stack([u, v, np.full(count, 1 / count)], 1)


PROBES = 560
"""Places of a face that are asked whether anything cuts it."""
FINE = 8192
"""Where something does; the error at a straight edge is under 0.2 % of the whole."""
