"""Open water seen from above: what its waves mirror of the sky and of what stands by it, and the
glitter of the sun.

Facets have slopes as the wind blows (Cox & Munk 1954), alike every way; each mirrors by Fresnel.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

INDEX = 1.34
"""Refractive index of sea water in visible light (Austin & Halikas 1976)."""
NODES, ALONG = 5, 9
"""Slopes each way over which waves are averaged, by Gauss and Hermite; and along one way, for
things whose edges would be seen in steps.
"""
LOW = 0.01
"""Sine of the lowest way that a facet is followed along: lower ones meet another wave."""
TILTS, TURNS = 48, 72
"""Ways for which the mirrored sky is kept."""


def slope_variance(wind):
    """Mean square slope of a clean sea, both ways together.

    Parameters
    ----------
    wind : float
        12.5 m above it [m/s], 0..20.

    Returns
    -------
    float

    References
    ----------
    Cox & Munk, "Measurement of the roughness of the sea surface from photographs of the sun's
    glitter", J. Opt. Soc. Am. 44 (1954).

    Examples
    --------
    >>> round(slope_variance(5.0), 4)
    0.0286
    """
    return 0.003 + 0.00512 * wind


def fresnel(cosine):
    """Part of natural light that water mirrors, of cosines to the facet's normal.

    Examples
    --------
    >>> fresnel(np.array([1.0, 0.0])).round(3).tolist()
    [0.021, 1.0]
    """
    c = np.clip(cosine, 0, 1)
    inside = np.sqrt(1 - (1 - c * c) / INDEX**2)
    square = (c - INDEX * inside) / (c + INDEX * inside)
    level = (INDEX * c - inside) / (INDEX * c + inside)
    return (square**2 + level**2) / 2


@dataclass(frozen=True)
class Water:
    """Open water, by one wind."""

    wind: float
    """[m/s]"""

    @cached_property
    def facets(self):
        """Unit normals (k, 3) and weights (k,) of level water's area."""
        node, weight = np.polynomial.hermite.hermgauss(NODES)
        x, y = np.meshgrid(node, node)
        slope = np.sqrt(slope_variance(self.wind))
        normals = np.stack([-slope * x.ravel(), -slope * y.ravel(), np.ones(NODES**2)], 1)
        weights = np.outer(weight, weight).ravel() / np.pi
        return normals / np.linalg.norm(normals, axis=1, keepdims=True), weights

    def _shown(self, back, normals, weights):
        """How much of what is seen from unit ways (n, 3) back to the eye is each facet's: (n, k).

        A facet that is turned away is hidden by others; those that are left share the whole.
        """
        facing = np.maximum(back @ normals.T, 0) / normals[:, 2] * weights
        return facing / np.maximum(facing.sum(1, keepdims=True), 1e-12)

    def of_sky(self, luminance):
        """What is mirrored where nothing but the sky is over the water.

        Parameters
        ----------
        luminance : callable
            Of the sky, from unit directions (n, 3) [cd/m^2].

        Returns
        -------
        callable
            From unit directions (n, 3) that go down to luminance [cd/m^2].
        """
        # Finer toward the horizon, where it changes.
        tilt = np.linspace(0, 1, TILTS) ** 2 * np.pi / 2
        turn = np.arange(TURNS) / TURNS * 2 * np.pi
        t, a = (k.ravel() for k in np.meshgrid(tilt, turn, indexing="ij"))
        ways = np.stack([np.cos(t) * np.cos(a), np.cos(t) * np.sin(a), -np.sin(t)], 1)
        table = self._mirrored(ways, luminance).reshape(TILTS, TURNS)

        def mirrored(directions):
            down = np.arcsin(np.clip(-directions[:, 2], 0, 1))
            row = np.minimum(np.sqrt(down / (np.pi / 2)) * (TILTS - 1), TILTS - 1.001)
            column = np.arctan2(directions[:, 1], directions[:, 0]) / (2 * np.pi) * TURNS % TURNS
            i, j = row.astype(int), column.astype(int) % TURNS
            a, b, after = row - i, column - np.floor(column), (j + 1) % TURNS
            upper = (1 - b) * table[i, j] + b * table[i, after]
            lower = (1 - b) * table[i + 1, j] + b * table[i + 1, after]
            return (1 - a) * upper + a * lower

        return mirrored

    def _mirrored(self, directions, luminance):
        normals, weights = self.facets
        share = self._shown(-directions, normals, weights)
        total = np.zeros(len(directions))
        for k, normal in enumerate(normals):
            total += (
                share[:, k]
                * fresnel(-directions @ normal)
                * luminance(mirrored_ways(directions, normal))
            )
        return total

    def along(self, directions):
        """A few facets that lie in the plane of each way and the vertical, for things that stand by
        the water, whose images waves draw out up and down.

        Parameters
        ----------
        directions : ndarray, shape (n, 3)
            Unit, downward.

        Yields
        ------
        ways : ndarray, shape (n, 3)
            Mirrored.
        share : ndarray, shape (n,)
            Of what is sent along them that comes to the eye.
        """
        node, weight = np.polynomial.hermite.hermgauss(ALONG)
        flat = directions * [1, 1, 0]
        flat = flat / np.maximum(np.linalg.norm(flat, axis=1, keepdims=True), 1e-9)
        slope = np.sqrt(slope_variance(self.wind))
        facets = [np.array([0, 0, 1.0]) - slope * x * flat for x in node]
        normals = [f / np.linalg.norm(f, axis=1, keepdims=True) for f in facets]
        cosines = [-(directions * n).sum(1) for n in normals]
        facing = np.stack(
            [
                np.maximum(c, 0) / n[:, 2] * w
                for c, n, w in zip(cosines, normals, weight, strict=True)
            ]
        )
        facing /= np.maximum(facing.sum(0), 1e-12)
        for normal, cosine, part in zip(normals, cosines, facing, strict=True):
            yield mirrored_ways(directions, normal), part * fresnel(cosine)

    def glitter(self, directions, toward):
        """Luminance of the sun's glitter, for each lx square to its light.

        Parameters
        ----------
        directions : ndarray, shape (n, 3)
            Unit, downward, from the eye.
        toward : ndarray, shape (3,)
            Unit vector toward the sun.

        Returns
        -------
        ndarray, shape (n,)
            [cd/m^2 a lx]
        """
        normals, weights = self.facets
        back = -directions
        whole = (np.maximum(back @ normals.T, 0) / normals[:, 2] * weights).sum(1)
        half = back + toward
        half /= np.maximum(np.linalg.norm(half, axis=1, keepdims=True), 1e-9)
        up = np.maximum(half[:, 2], 1e-3)
        square = (1 - up**2) / up**2
        variance = slope_variance(self.wind)
        density = np.exp(-square / variance) / (np.pi * variance)
        facing = (back * half).sum(1)
        return fresnel(facing) * density / (4 * up**4 * np.maximum(whole, 1e-6))


def mirrored_ways(directions, normal):
    """Unit ways (n, 3) that facets throw them, none lower than LOW."""
    facing = (directions * normal).sum(-1, keepdims=True)
    ways = directions - 2 * facing * normal
    ways[:, 2] = np.maximum(ways[:, 2], LOW)
    return ways / np.linalg.norm(ways, axis=1, keepdims=True)
