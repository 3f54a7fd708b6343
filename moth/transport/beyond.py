"""What is seen through a window: the sky and the land, and the solids that stand before them."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..colour import LUMINANCE

PLACES = 3
"""Places of a pane each way over which what it shows is averaged, for the light it brings in."""
CLEAR = 0.02
"""A ray toward the sun sets out so far before a solid [m]."""
FAR = 1000.0
"""Farther than all that stands outside [m]."""


@dataclass(frozen=True)
class Beyond:
    """Luminance of what is outside, by the light of the sky or of the sun."""

    outside: Any
    """A moth.world.Outside."""
    luminance: Any
    """Of unit directions (n, 3) where nothing stands [cd/m^2]."""
    lit: np.ndarray
    """(m, 3) luminance of each of the solids' triangles, nothing before it [cd/m^2]."""
    sun: np.ndarray | None = None
    """Unit vector toward the sun, for its light: shadows of solids on solids."""

    def seen(self, origins, directions):
        """Luminance along rays.

        Parameters
        ----------
        origins, directions : ndarray, shape (n, 3)
            Places outside the glass [m] and unit directions.

        Returns
        -------
        ndarray, shape (n, 3)
            Linear BT.709 parts [cd/m^2].
        ndarray of bool, shape (n,)
            Whether a solid is seen.
        """
        starts = np.asarray(origins, np.float32)
        triangle, far = self.outside.rays.nearest(starts, np.asarray(directions, np.float32))
        solid = triangle >= 0
        out = np.repeat(self.luminance(directions)[:, None], 3, 1)
        on = np.flatnonzero(solid)
        shown = self.lit[triangle[on]]
        if self.sun is not None and len(on):
            normal = self.outside.normals[triangle[on]]
            place = origins[on] + far[on, None] * directions[on] + CLEAR * normal
            free = self.outside.clear(place, np.tile(self.sun, (len(on), 1)), np.full(len(on), FAR))
            shown = shown * free[:, None]
        out[on] = shown
        return out, solid

    def mean(self, places):
        """What a pane shows a way, on the mean over some places of it.

        Parameters
        ----------
        places : ndarray, shape (k, 3)
            [m]

        Returns
        -------
        callable
            From unit directions (n, 3) to luminance [cd/m^2].
        """

        def luminance(directions):
            total = np.zeros(len(directions))
            for place in places:
                rgb, _ = self.seen(np.tile(place, (len(directions), 1)), directions)
                total += rgb @ LUMINANCE
            return total / len(places)

        return luminance


def by_sky(outside, luminance):
    """What is outside by the light of the sky and of the land that it lights.

    A solid's face is lit by the half of both that it looks at; that one solid keeps the sky from
    another is not counted.

    Parameters
    ----------
    outside : moth.world.Outside
    luminance : callable
        From unit directions (n, 3) to luminance [cd/m^2], sky above and land below.

    Returns
    -------
    Beyond
    """
    normals, which = np.unique(outside.normals.round(2), axis=0, return_inverse=True)
    ways, solid = _all_round()
    level = np.maximum(normals @ ways.T, 0) @ (luminance(ways) * solid)
    return Beyond(outside, luminance, outside.albedo / np.pi * level[which.ravel(), None])


def by_sun(outside, toward, level):
    """What is outside by the light of the sun: solids alone.

    Parameters
    ----------
    outside : moth.world.Outside
    toward : ndarray, shape (3,)
        Unit vector toward the sun.
    level : float
        Square to its light [lx].

    Returns
    -------
    Beyond
    """
    facing = np.maximum(outside.normals @ toward, 0)
    lit = outside.albedo / np.pi * (level * facing)[:, None]
    return Beyond(outside, lambda d: np.zeros(len(d)), lit, np.asarray(toward, float))


def _all_round(steps=60):
    """Unit vectors all round and the solid angle of each [sr]."""
    z = (np.arange(steps) + 0.5) / steps * 2 - 1
    turn = (np.arange(2 * steps) + 0.5) / steps * np.pi
    z, turn = (k.ravel() for k in np.meshgrid(z, turn, indexing="ij"))
    flat = np.sqrt(1 - z * z)
    ways = np.stack([flat * np.cos(turn), flat * np.sin(turn), z], 1)
    return ways, np.full(len(z), 4 * np.pi / len(z))


def places_of(centre, right, up, size):
    """Places of a pane, PLACES each way, shape (k, 3) [m]."""
    k = ((np.arange(PLACES) + 0.5) / PLACES - 0.5).tolist()
    return np.array([centre + u * size[0] * right + v * size[1] * up for u in k for v in k])
