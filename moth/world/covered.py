"""What furniture covers of surfaces: the wall behind a cupboard, a board's end in another. Light
neither falls there nor leaves from there, and a patch is as bright as what is open of it.
"""

from hashlib import blake2b

import numpy as np
from numba import njit

from ..engine.caching import Keyed, cached
from .normals import middles
from .rays import RayScene

SIDE = 8
"""A triangle is told open or covered by its parts: so many along each of its sides."""
OPEN = np.uint64(2**64 - 1)
"""All 64 parts of a triangle are open."""
CLOSED = np.uint64(0)
LIFT = 5e-4
"""Off the surface [m]."""
TOUCH = 0.002
"""What is nearer to a piece of furniture than this may be covered by it [m]."""
LOOK = 3
"""Every so many-th part is asked first, and the others only where one of these is covered."""


def parts():
    """Middles of a triangle's parts, as shares of its second and third corners, (64, 2): row by row
    of the second's share, as :func:`is_open` counts them.

    Examples
    --------
    >>> parts().shape, float(parts().mean().round(4))
    ((64, 2), 0.3333)
    """
    out = []
    for i in range(SIDE):
        for j in range(SIDE - i):
            out.append(((i + 1 / 3) / SIDE, (j + 1 / 3) / SIDE))
            if i + j < SIDE - 1:
                out.append(((i + 2 / 3) / SIDE, (j + 2 / 3) / SIDE))
    return np.array(out)


@njit(inline="always")
def is_open(mask, u, v):
    """Whether a place in a triangle, by the shares of its second and third corners, is open."""
    i, j = int(u * SIDE), int(v * SIDE)
    upper = u * SIDE - i + v * SIDE - j > 1
    at = min(i * (2 * SIDE - i) + 2 * j + upper, SIDE * SIDE - 1)
    return (mask >> np.uint64(at)) & np.uint64(1) == np.uint64(1)


def share_open(masks):
    """Parts of triangles that are open, 0..1.

    Examples
    --------
    >>> share_open(np.array([OPEN, 0, 0xFFFF], np.uint64)).tolist()
    [1.0, 0.0, 0.25]
    """
    return np.bitwise_count(masks) / 64


def middles_open(corners, masks):
    """Middles of what is open of triangles, or of all of them where nothing is.

    Parameters
    ----------
    corners : ndarray, shape (m, 3, 3)
    masks : ndarray of uint64, shape (m,)

    Returns
    -------
    ndarray, shape (m, 3)

    Examples
    --------
    >>> corner = np.eye(3)[None]
    >>> middles_open(corner, np.array([OPEN])).round(3).tolist()
    [[0.333, 0.333, 0.333]]
    >>> middles_open(corner, np.array([1], np.uint64)).round(3).tolist()
    [[0.917, 0.042, 0.042]]
    """
    out = middles(corners)
    some = np.flatnonzero((masks != OPEN) & (masks != CLOSED))
    if len(some):
        bits = np.unpackbits(masks[some].view(np.uint8), bitorder="little").reshape(len(some), -1)
        shares = bits @ np.column_stack([1 - parts().sum(1), parts()]) / bits.sum(1)[:, None]
        out[some] = (shares[:, :, None] * corners[some]).sum(1)
    return out


def open_parts(mesh, furniture):
    """Which parts of the room's and the furniture's triangles are not within another piece of
    furniture; the parts of one piece have no surface within one another. Cached by content.

    Parameters
    ----------
    mesh : moth.world.world.Mesh
    furniture : int
        How many pieces there are: bodies 1 to that.

    Returns
    -------
    ndarray of uint64, shape (m,)
        A bit for each part, the lowest for the first of :func:`parts`.
    """
    out = np.full(len(mesh.faces), OPEN)
    some = np.flatnonzero(mesh.body <= furniture)
    corners, body, flat = mesh.vertices[mesh.faces[some]], mesh.body[some], mesh.flat[some]
    closed = (body > 0) & (mesh.back[some] < 0)
    low, high = corners.min(1), corners.max(1)
    near, solid = np.zeros(len(some), bool), np.zeros(len(some), bool)
    faced = flat.any(1)
    for one in np.unique(body[closed]):
        own = corners[body == one].reshape(-1, 3)
        by = (low <= own.max(0) + TOUCH).all(1) & (high >= own.min(0) - TOUCH).all(1)
        # Splinters without area face nowhere.
        by &= (body != one) & faced
        near |= by
        solid |= (body == one) & by.any()
    if near.any():
        what = tuple(
            np.ascontiguousarray(k, float)
            for k in (corners[near], flat[near], corners[solid], flat[solid])
        )
        digest = blake2b(b"/".join(k.tobytes() for k in what), digest_size=16).hexdigest()
        out[some[near]] = _open(Keyed(digest, what))
    return out


@cached("what furniture covers")
def _open(keyed):
    corners, flat, solid, out_of = keyed.value
    solids = RayScene(
        solid.reshape(-1, 3), np.arange(3 * len(solid), dtype=np.int32).reshape(-1, 3)
    )
    covered = np.zeros((len(corners), SIDE**2), bool)

    def look(which, at):
        u, v = parts()[at].T[:, :, None]
        a, b, c = (corners[which, None, k] for k in range(3))
        places = a * (1 - u - v) + b * u + c * v + LIFT * flat[which, None]
        within = _within(solids, out_of, places.reshape(-1, 3), np.repeat(flat[which], len(at), 0))
        covered[np.ix_(which, at)] = within.reshape(len(which), len(at))

    first = np.arange(LOOK // 2, SIDE**2, LOOK)
    look(np.arange(len(corners)), first)
    look(np.flatnonzero(covered.any(1)), np.setdiff1d(np.arange(SIDE**2), first))
    return np.packbits(~covered, axis=1, bitorder="little").view(np.uint64)[:, 0]


def _within(solids, flat, places, normal):
    """Which places are within a solid: from there a ray meets its inside. From the open none does.

    Three ways are asked, since where two solids touch the outside of the next may be met for the
    inside of one's own.
    """
    across = np.cross(normal, np.where(np.abs(normal[:, 2:]) > 0.7, [[1.0, 0, 0]], [[0, 0, 1.0]]))
    across /= np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-9)
    out = np.zeros(len(places), bool)
    for way in (normal, normal + 0.6 * across, normal - 0.4 * across):
        at = np.flatnonzero(~out)
        ways = way[at] / np.linalg.norm(way[at], axis=1, keepdims=True)
        met, _, _ = solids.first(places[at].astype(np.float32), ways.astype(np.float32))
        out[at] = (met >= 0) & ((flat[met] * ways).sum(1) > 0)
    return out
