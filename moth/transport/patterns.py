"""Where light goes that a cloth sends on in lobes when it fell there from many sides: a pattern of
directions for each cell.
"""

from functools import lru_cache
from typing import Any

import numpy as np
from numba import njit

from ..engine.sampling import lobe_densities

NODES = 41
"""Directions each way. They lie evenly over the half sphere as seen stereographically, (x, y) /
(1 + z): 5.7 degrees apart about the normal, half of that at the rim. One is the normal.
"""
_STEP = 2 / (NODES - 1)
_FAST: Any = {"nogil": True, "cache": True, "fastmath": True, "error_model": "numpy"}


def no_pattern(count):
    """So many cells, none of them with a pattern."""
    return np.zeros((count, 0, 0), np.float32)


def _directions():
    """Unit vectors of the nodes (NODES * NODES, 3), z along the normal; beyond the rim they go
    below it.
    """
    k = np.linspace(-1, 1, NODES)
    x, y = (m.ravel() for m in np.meshgrid(k, k, indexing="ij"))
    r2 = x * x + y * y
    return np.stack([2 * x, 2 * y, 1 - r2], 1) / (1 + r2)[:, None], r2


FAN = 6
"""Ways that stand for a sample that is a mean of many."""


def fanned(share, ways):
    """Samples (n, m) with ways of any length as such with unit ways: a mean of ways that differ as
    a fan of the same mean about it.
    """
    length = np.linalg.norm(ways, axis=2)
    unit = ways / np.maximum(length, 1e-9)[..., None]
    if (length > 1 - 1e-6).all():
        return share, unit
    side = np.cross(unit, np.where(np.abs(unit[..., :1]) < 0.7, [1.0, 0, 0], [0, 1.0, 0]))
    side /= np.maximum(np.linalg.norm(side, axis=2, keepdims=True), 1e-9)
    over = np.cross(unit, side)
    aside = np.sqrt(np.maximum(1 - length**2, 0))[..., None]
    turns = (np.arange(FAN) + 0.5) / FAN * 2 * np.pi
    fan = [length[..., None] * unit + aside * (np.cos(t) * side + np.sin(t) * over) for t in turns]
    return np.tile(share / FAN, (1, FAN)), np.concatenate(fan, 1)


def frames(cells):
    """Unit vectors along, up and normal of each cell, shape (k, 3, 3)."""
    along, up = (
        half / np.maximum(np.linalg.norm(half, axis=1, keepdims=True), 1e-12)
        for half in (cells.along, cells.up)
    )
    return np.stack([along, up, cells.normal], 1)


def sorted_by_way(shares, ways):
    """Light on cells by the ways it goes.

    Parameters
    ----------
    shares : ndarray, shape (n, m)
        Of the light on each cell.
    ways : ndarray, shape (n, m, 3)
        Unit vectors in the cell's frame, z along the normal on the side that it would leave; below
        it they count for nothing.

    Returns
    -------
    ndarray, shape (n, NODES, NODES)
        Each way's share at the four nodes about it.
    """
    out = np.zeros((len(shares), NODES, NODES))
    _sort(np.ascontiguousarray(shares), np.ascontiguousarray(ways), out)
    return out


@njit(**_FAST)
def _sort(shares, ways, out):
    half = (NODES - 1) / 2
    for i in range(len(shares)):
        for j in range(shares.shape[1]):
            z = ways[i, j, 2]
            if shares[i, j] <= 0 or z <= 0:
                continue
            u = (ways[i, j, 0] / (1 + z) + 1) * half
            v = (ways[i, j, 1] / (1 + z) + 1) * half
            a, b = min(max(int(u), 0), NODES - 2), min(max(int(v), 0), NODES - 2)
            u, v = u - a, v - b
            out[i, a, b] += shares[i, j] * (1 - u) * (1 - v)
            out[i, a + 1, b] += shares[i, j] * u * (1 - v)
            out[i, a, b + 1] += shares[i, j] * (1 - u) * v
            out[i, a + 1, b + 1] += shares[i, j] * u * v


@lru_cache(maxsize=6)
def _spread(kappa):
    """Density [1/sr] at each node (column) of a lobe about each node (row)."""
    to, r2 = _directions()
    # Sorting and reading between nodes widen a lobe by a sixth of their distance squared each; it
    # is made as much narrower.
    apart2 = (2 * _STEP / (1 + r2)) ** 2
    width2 = np.maximum(1 / kappa - apart2 / 3, 0.3 / kappa)
    # A lobe narrower than the nodes stand apart would sum to more than one: Jacobi's theta function
    # is what a Gaussian sums to over a lattice that it is centred on.
    k = np.arange(1, 6)[:, None]
    over = 1 + 2 * np.exp(-2 * (np.pi * k) ** 2 * width2 / apart2).sum(0)
    density = lobe_densities(1 / width2[:, None], to @ to.T)
    return (density / over[:, None] ** 2).astype(np.float32)


def spread(bins, kappa):
    """Patterns of what leaves a cloth whose lobes are as wide as `kappa` says.

    Parameters
    ----------
    bins : ndarray, shape (n, NODES, NODES)
        Shares of the light by the way that it would go straight on, see :func:`sorted_by_way`.
    kappa : float
        Concentration of the material's lobe.

    Returns
    -------
    ndarray of float32, shape (n, NODES, NODES)
        [1/sr], of all the light that falls on each cell; what would go below the horizon is lost.

    Examples
    --------
    >>> bins = np.zeros((1, NODES, NODES))
    >>> bins[0, NODES // 2, NODES // 2] = 1
    >>> from moth.engine.sampling import lobe_densities
    >>> ratio = spread(bins, 20.0)[0, NODES // 2, NODES // 2] / lobe_densities(20.0, 1.0)
    >>> bool(0.98 < ratio < 1.15)
    True
    """
    flat = bins.reshape(len(bins), -1).astype(np.float32)
    return np.ascontiguousarray((flat @ _spread(float(kappa))).reshape(-1, NODES, NODES))


@njit(**_FAST)
def pattern_density(patterns, c, x, y, z):
    """Density [1/sr] of cell c's pattern along (x, y, z), of any length, z over 0."""
    inv = 1 / np.sqrt(x * x + y * y + z * z)
    half = (NODES - 1) / 2
    below = 1 + z * inv
    u, v = (x * inv / below + 1) * half, (y * inv / below + 1) * half
    a, b = min(max(int(u), 0), NODES - 2), min(max(int(v), 0), NODES - 2)
    u, v = u - a, v - b
    return (1 - u) * ((1 - v) * patterns[c, a, b] + v * patterns[c, a, b + 1]) + u * (
        (1 - v) * patterns[c, a + 1, b] + v * patterns[c, a + 1, b + 1]
    )


def drawn_ways(patterns, rows, u, v):
    """Ways drawn by what patterns send along them.

    Parameters
    ----------
    patterns : ndarray, shape (k, NODES, NODES)
    rows : ndarray of int, shape (n,)
        Of the patterns.
    u, v : ndarray, shape (n,)
        Numbers 0..1.

    Returns
    -------
    ndarray, shape (n, 3)
        Unit vectors in the cells' frames.
    """
    x, y = (m.ravel() for m in np.meshgrid(*[np.linspace(-1, 1, NODES)] * 2, indexing="ij"))
    # A node stands for the ways about it: its square on the stereographic plane.
    solid = np.where(x * x + y * y < 1, (2 / (1 + x * x + y * y)) ** 2, 0)
    used, at = np.unique(rows, return_inverse=True)
    running = np.cumsum(patterns[used].reshape(len(used), -1) * solid, 1, dtype=float)
    running /= np.maximum(running[:, -1:], 1e-30)
    node = np.searchsorted((running + np.arange(len(used))[:, None]).ravel(), at + u)
    node = np.clip(node - at * NODES**2, 0, NODES**2 - 1)
    low = np.where(node > 0, running[at, np.maximum(node - 1, 0)], 0)
    inside = (u - low) / np.maximum(running[at, node] - low, 1e-30)
    x = x[node] + (np.clip(inside, 0, 1) - 0.5) * _STEP
    y = y[node] + (v - 0.5) * _STEP
    r2 = x * x + y * y
    return np.stack([2 * x, 2 * y, 1 - r2], 1) / (1 + r2)[:, None]


@njit(**_FAST)
def pattern_densities(patterns, rows, ways):
    """The same for many: rows (n,) of patterns, ways (n, 3) in the cells' frames.

    Returns (n,) [1/sr].
    """
    out = np.zeros(len(rows))
    for i in range(len(rows)):
        if ways[i, 2] > 0:
            out[i] = pattern_density(patterns, rows[i], ways[i, 0], ways[i, 1], ways[i, 2])
    return out
