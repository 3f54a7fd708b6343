"""What is seen through a window: the sky and the land, and the solids that stand before them.

By the light of the sun the land has shadows: of the solids, and of the room itself.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..colour import LUMINANCE

PLACES = 3
"""Places of a pane each way over which what it shows is averaged, for the light it brings in."""
CLEAR = 0.02
"""A ray toward the sun sets out so far before a solid [m]."""
FAR = 1000.0
"""Farther than all that stands outside [m]."""
GROUND = 0.2
"""Reflectance of the land outside, seen through windows below the horizon; typical."""


@dataclass(frozen=True)
class Beyond:
    """Luminance of what is outside, by the light of the sky or of the sun."""

    outside: Any
    """A moth.world.Outside, or None where no solid stands."""
    luminance: Any
    """Of unit directions (n, 3) where nothing stands and nothing shades [cd/m^2]."""
    lit: np.ndarray
    """(m, 3) luminance of each of the solids' triangles, nothing before it [cd/m^2]."""
    sun: "Sunlight | None" = None
    """For the sun's light alone."""

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
        shown = self.luminance(directions)
        if self.sun is not None:
            shown = shown * self.sun.on_land(origins, directions)
        out = np.repeat(shown[:, None], 3, 1)
        if self.outside is None:
            return out, np.zeros(len(out), bool)
        starts = np.asarray(origins, np.float32)
        triangle, far = self.outside.rays.nearest(starts, np.asarray(directions, np.float32))
        on = np.flatnonzero(triangle >= 0)
        lit = self.lit[triangle[on]]
        if self.sun is not None:
            normal = self.outside.normals[triangle[on]]
            place = origins[on] + far[on, None] * directions[on] + CLEAR * normal
            lit = lit * self.sun.reaches(place)[:, None] + self.sun.given_back[triangle[on]]
        out[on] = lit
        return out, triangle >= 0

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


@dataclass(frozen=True)
class Sunlight:
    """Where the sun comes to outside."""

    toward: np.ndarray
    """Unit vector toward it."""
    shade: Any
    """RayScene of all that throws shadows outside: the solids, and the room's own block."""
    ground: float
    """Height of the land [m]."""
    given_back: np.ndarray
    """(m, 3) luminance of each of the solids' triangles by what the sunlit land sends it; that one
    solid keeps the land from another is not counted [cd/m^2].
    """

    def reaches(self, places):
        """Whether it comes to places (n, 3) [m]: (n,)."""
        way = np.tile(self.toward.astype(np.float32), (len(places), 1))
        far = np.full(len(places), FAR, np.float32)
        return self.shade.visible(np.asarray(places, np.float32), way, far)

    def on_land(self, origins, directions):
        """Whether it comes to the land that rays meet; so they do far away, and never from below
        the land: (n,).
        """
        down = -directions[:, 2]
        far = (origins[:, 2] - self.ground) / np.maximum(down, 1e-9)
        out = far > 0
        near = np.flatnonzero((down > 0) & (far > 0) & (far < FAR))
        place = origins[near] + far[near, None] * directions[near] + [0, 0, CLEAR]
        out[near] = self.reaches(place)
        return out


def by_sky(outside, luminance):
    """What is outside by the light of the sky and of the land that it lights.

    A solid's face is lit by the half of both that it looks at; that one solid keeps the sky from
    another is not counted.

    Parameters
    ----------
    outside : moth.world.Outside or None
    luminance : callable
        From unit directions (n, 3) to luminance [cd/m^2], sky above and land below.

    Returns
    -------
    Beyond
    """
    if outside is None:
        return Beyond(None, luminance, np.zeros((0, 3)))
    normals, which = np.unique(outside.normals.round(2), axis=0, return_inverse=True)
    ways, solid = _all_round()
    level = np.maximum(normals @ ways.T, 0) @ (luminance(ways) * solid)
    return Beyond(outside, luminance, outside.albedo / np.pi * level[which.ravel(), None])


def by_sun(outside, shade, ground, toward, level):
    """What is outside by the light of the sun: the land, and solids.

    Parameters
    ----------
    outside : moth.world.Outside or None
    shade : moth.world.rays.RayScene
        All that throws shadows outside.
    ground : float
        Height of the land [m].
    toward : ndarray, shape (3,)
        Unit vector toward the sun.
    level : float
        Square to its light [lx].

    Returns
    -------
    Beyond
    """
    toward = np.asarray(toward, float)
    land = GROUND * level * max(toward[2], 0.0) / np.pi
    normals = np.zeros((0, 3)) if outside is None else outside.normals
    albedo = np.zeros((0, 3)) if outside is None else outside.albedo
    lit = albedo / np.pi * (level * np.maximum(normals @ toward, 0))[:, None]
    sun = Sunlight(toward, shade, ground, np.zeros_like(albedo))
    if outside is not None:
        middles = outside.vertices.reshape(-1, 3, 3).mean(1) + CLEAR * normals
        back = albedo * (land * _share_of_land(sun, middles, normals))[:, None]
        sun = replace(sun, given_back=back)
    return Beyond(outside, lambda d: land * below(d), lit, sun)


def below(directions):
    """How far directions (n, 3) are below the horizon: 1, 0, or a half of those that lie in it.

    Tables of a window have rows along the horizon: there is land on one side of them.

    Examples
    --------
    >>> below(np.array([[1.0, 0, 0], [0, 0, 1], [0, 0, -1]])).tolist()
    [0.5, 0.0, 1.0]
    """
    z = directions[:, 2]
    return np.where(np.abs(z) < LEVEL, 0.5, z < 0)


LEVEL = 1e-9
"""Sines of less are of the horizon itself."""


WAYS = 32
"""Ways that a face outside looks, for the sunlit land it sees."""


def _share_of_land(sun, places, normals):
    """Part of what faces (m, 3) look at, by the cosine, that is land in the sun: (m,)."""
    k = np.arange(WAYS) + 0.5
    # Vogel's spiral on the disc, lifted to the half sphere: even by the cosine.
    radius, turn = np.sqrt(k / WAYS), k * np.pi * (3 - np.sqrt(5))
    up = np.sqrt(1 - radius**2)
    total = np.zeros(len(places))
    across, along = _beside(normals)
    for x, y, z in zip(radius * np.cos(turn), radius * np.sin(turn), up, strict=True):
        way = x * across + y * along + z * normals
        total += (way[:, 2] < 0) & sun.on_land(places, way)
    return total / WAYS


def _beside(normals):
    """Two unit vectors square to each of the normals (m, 3) and to each other."""
    other = np.where(np.abs(normals[:, 2:]) < 0.9, [[0.0, 0, 1]], [[1.0, 0, 0]])
    across = np.cross(other, normals)
    across /= np.linalg.norm(across, axis=1, keepdims=True)
    return across, np.cross(normals, across)


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
