"""How radiosity changes over flat patches: what a meter close to a wall sees of each is seldom its
middle.
"""

from typing import NamedTuple

import numpy as np
from numba import njit
from scipy.spatial import cKDTree

from ..colour import LUMINANCE
from ..engine.caching import Keyed, cached

NEAR = 1.7
"""Patches of one plane and paint are neighbours up to so many of their mean widths apart."""
LUMA = tuple(float(part) for part in LUMINANCE)


class Beside(NamedTuple):
    """Flat patches that lie side by side."""

    normal: np.ndarray
    """(p, 3) unit."""
    width: np.ndarray
    """(p,) root of the area [m]."""
    start: np.ndarray
    """(p + 1,) where each patch's neighbours begin."""
    neighbour: np.ndarray
    """(k,) patches of its plane and paint."""


def beside(world):
    """Which flat patches of walls and furniture lie side by side, cached by world.

    Parameters
    ----------
    world : moth.world.World

    Returns
    -------
    Beside
    """
    return _beside(Keyed(world.key, world))


@cached("patches side by side")
def _beside(keyed):
    world = keyed.value
    p, mesh = world.patches, world.mesh
    n = len(p)
    normal = mesh.flat[p.triangle[p.start[:-1]]].astype(float) * p.side[:, None]
    width = np.sqrt(p.area)
    flat = np.flatnonzero(p.planar & (p.sheet < 0) & (p.sky[:, 2] == 0))
    found = cKDTree(p.middle[flat]).query_pairs(
        NEAR * float(width[flat].max(initial=0)), output_type="ndarray"
    )
    i, j = flat[found].T
    off = p.middle[j] - p.middle[i]
    alike = (
        (np.linalg.norm(off, axis=1) < NEAR * (width[i] + width[j]) / 2)
        & ((normal[i] * normal[j]).sum(1) > 0.999)
        & (np.abs((off * normal[i]).sum(1)) < 1e-3)
        & (np.abs(p.albedo[i] - p.albedo[j]).max(1) < 1e-3)
    )
    i, j = i[alike], j[alike]
    one, other = np.concatenate([i, j]), np.concatenate([j, i])
    start = np.concatenate([[0], np.cumsum(np.bincount(one, minlength=n))])
    return Beside(normal, width, start, other[np.argsort(one, kind="stable")])


def slopes_of(world, radiosity, taken):
    """How radiosity changes over each flat patch: fitted to its neighbours by least squares, near
    ones first, and kept within what they send.

    Parameters
    ----------
    world : moth.world.World
    radiosity : ndarray, shape (p, 3)
        [lm/m^2]
    taken : ndarray of bool, shape (p,)
        Patches that count for nothing: what they send has been taken out of the radiosity.

    Returns
    -------
    ndarray, shape (p, 3, 3)
        By metre along x, y, z; of each colour [lm/m^3]. Zero where nothing is known.
    """
    out = np.zeros((len(radiosity), 3, 3))
    _fit(beside(world), world.patches.middle, radiosity, radiosity @ LUMINANCE, taken, out)
    return out


@njit(nogil=True, cache=True)
def _fit(known, middle, radiosity, bright, taken, out):
    normal, width, start, neighbour = known
    off = np.empty(3)
    for i in range(len(radiosity)):
        if taken[i] or start[i] == start[i + 1]:
            continue
        # Square to the patch nothing changes; and a patch whose neighbours stand in one line knows
        # but that.
        square = 1e-3 * np.eye(3)
        for a in range(3):
            for b in range(3):
                square[a, b] += normal[i, a] * normal[i, b]
        right = np.zeros((3, 3))
        least = most = bright[i]
        for at in range(start[i], start[i + 1]):
            j = neighbour[at]
            if taken[j]:
                continue
            least, most = min(least, bright[j]), max(most, bright[j])
            far = 0.0
            for a in range(3):
                off[a] = middle[j, a] - middle[i, a]
                far += off[a] ** 2
            for a in range(3):
                for b in range(3):
                    square[a, b] += off[a] * off[b] / far
                    right[a, b] += off[a] * (radiosity[j, b] - radiosity[i, b]) / far
        if most <= least:
            continue
        slope = np.linalg.solve(square, right)
        lean = 0.0
        for a in range(3):
            lean += (slope[a, 0] * LUMA[0] + slope[a, 1] * LUMA[1] + slope[a, 2] * LUMA[2]) ** 2
        # Not beyond what its neighbours send, or a shadow's edge would throw it under nothing;
        # where it is the brightest or darkest of all it still leans, to where it meets them.
        room = max(min(most - bright[i], bright[i] - least), min(0.5 * (most - least), bright[i]))
        reach = np.sqrt(lean) * width[i] / 2
        out[i] = slope * min(1.0, room / max(reach, 1e-12))
