"""Smooth noise in space, the same for the same place, in compiled loops and for arrays."""

import numpy as np
from numba import njit

from .sampling import scrambled


@njit(inline="always")
def _corner(x, y, z, channel):
    """A number -1..1 of a corner of the lattice."""
    # The channel on its own first: beside a place it would only swap neighbours.
    h = scrambled(np.uint64(channel))
    h = scrambled(h ^ np.uint64(x & 0xFFFFFFFF))
    h = scrambled(h ^ np.uint64(y & 0xFFFFFFFF))
    h = scrambled(h ^ np.uint64(z & 0xFFFFFFFF))
    return float(h) / 2147483648.0 - 1.0


@njit(inline="always")
def noise_at(x, y, z, channel):
    """Value noise -1..1 with a feature every unit; root mean square 0.37.

    Perlin, "An image synthesizer" (1985), his smooth step between corners; channels are
    independent.
    """
    i, j, k = int(np.floor(x)), int(np.floor(y)), int(np.floor(z))
    a, b, c = x - i, y - j, z - k
    a, b, c = a * a * (3 - 2 * a), b * b * (3 - 2 * b), c * c * (3 - 2 * c)
    total = 0.0
    for di in range(2):
        for dj in range(2):
            for dk in range(2):
                w = (a if di else 1 - a) * (b if dj else 1 - b) * (c if dk else 1 - c)
                total += w * _corner(i + di, j + dj, k + dk, channel)
    return total


@njit(nogil=True, cache=True, error_model="numpy")
def noise(points, channel):
    """Value noise at places.

    Parameters
    ----------
    points : ndarray, shape (n, 3)
        In units of a feature's size.
    channel : int
        Another gives other noise.

    Returns
    -------
    ndarray, shape (n,)
        -1..1

    Examples
    --------
    >>> at = np.array([[0.2, 0.3, 0.4], [7.2, 0.3, 0.4]])
    >>> one = noise(at, 1)
    >>> bool(one[0] != one[1]), bool((one == noise(at, 1)).all())
    (True, True)
    """
    out = np.empty(len(points))
    for n in range(len(points)):
        out[n] = noise_at(points[n, 0], points[n, 1], points[n, 2], channel)
    return out
