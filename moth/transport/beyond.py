"""What is seen through a window: the sky, the land, and the solids that stand before them.

All of it lights all of it: sky and sun what they reach, and each what it gives the others.
"""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from ..colour import LUMINANCE
from ..world.surroundings import CLEAR, clear_toward
from .water import Water

SKY, LAND, SOLID = 0, 1, 2
"""What may be seen along a ray."""
PLACES = 3
"""Places of a pane each way over which what it shows is averaged, for the light it brings in."""
FAR = 1000.0
"""Farther than all that stands outside [m]."""
SETTLED = 1e-4
"""Light that goes to and fro outside is followed until an order brings less of the most."""
MANY = 3000
"""Ways to face that are told apart to the hundredth: a model of a tree has more, and a twentieth
will do."""
ORDERS = 60
"""That are followed at most: pale walls about a yard send ten."""


@dataclass(frozen=True)
class Beyond:
    """Luminance of what is outside, by the light of the sky or of the sun."""

    around: Any
    """A moth.world.surroundings.Surroundings."""
    luminance: Any
    """Of unit directions (n, 3) to the sky [cd/m^2]; none for the sun's light, whose disc is told
    elsewhere."""
    given: np.ndarray
    """(pieces, 3) luminance of each piece on the land, but for what the sun gives it straight
    [cd/m^2]."""
    land: np.ndarray
    """(3,) luminance of the open land [cd/m^2]."""
    change: np.ndarray
    """(cells, 3) of its cells more or less than that, but for the sun's shadows [cd/m^2]."""
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
        ndarray of int, shape (n,)
            SKY, LAND or SOLID.
        """
        around = self.around
        sky = (1 - below(directions)) * self.luminance(directions)
        out = np.repeat(sky[:, None], 3, 1)
        triangle = np.full(len(out), -1)
        far = np.full(len(out), np.inf)
        if around.solids:
            starts = np.asarray(origins, np.float32)
            triangle, far = around.rays.nearest(starts, np.asarray(directions, np.float32))
        drop = origins[:, 2] - around.land.height
        landing = drop / np.maximum(-directions[:, 2], 1e-9)
        under = below(directions)
        on_land = (under > 0) & (landing > 0) & (landing < far)
        at = np.flatnonzero(on_land)
        if len(at):
            place = origins[at] + np.minimum(landing[at], FAR)[:, None] * directions[at]
            shown, reach = self._of_land(place)
            if self._water is not None:
                shown += self._mirrored(place, directions[at], reach)
            out[at] += under[at, None] * shown
        at = np.flatnonzero((triangle >= 0) & ~on_land)
        if len(at):
            place = origins[at] + far[at, None] * directions[at]
            out[at] = self._of_pieces(triangle[at], place)
        return out, np.where(on_land, LAND, np.where(triangle >= 0, SOLID, SKY))

    def _of_land(self, places):
        """Luminance of the land at places (n, 3), as paint; and whether the sun comes to it."""
        land = self.around.land
        cell, weight = land.cells(places)
        # Cells under a solid say nothing of the land beside it.
        weight = weight * self.around.open[cell]
        whole = weight.sum(1, keepdims=True)
        near = whole > 1e-6
        change = (weight[..., None] * self.change[cell]).sum(1) / np.where(near, whole, 1.0)
        straight = np.ones(len(places))
        if self.sun is not None:
            there = np.linalg.norm(places[:, :2] - land.middle, axis=1) < 0.99 * FAR
            straight[there] = self.sun.reaches(places[there] + [0, 0, CLEAR])
        return np.maximum(straight[:, None] * self.land + near * change, 0), straight

    @cached_property
    def _water(self):
        wind = self.around.land.wind
        return None if wind is None else Water(wind)

    @cached_property
    def _sky_in_water(self):
        return self._water.of_sky(self.luminance)

    def _mirrored(self, places, directions, reach):
        """What water shows at places (n, 3) by mirroring: (n, 3).

        reach: whether the sun comes to it.
        """
        level = np.zeros(len(places))
        if self.sun is not None:
            level = reach * self.sun.level * self._water.glitter(directions, self.sun.toward)
        else:
            level = self._sky_in_water(directions)
        out = np.repeat(level[:, None], 3, 1)
        if self.around.solids:
            starts = places + [0, 0, CLEAR]
            for ways, share in self._water.along(directions):
                triangle, far = self.around.rays.nearest(
                    starts.astype(np.float32), ways.astype(np.float32)
                )
                at = np.flatnonzero(triangle >= 0)
                shown = self._of_pieces(triangle[at], starts[at] + far[at, None] * ways[at])
                # It stands before the sky; the glitter has its shadow already.
                hidden = 0.0 if self.sun is not None else self.luminance(ways[at])[:, None]
                out[at] += share[at, None] * (shown - hidden)
        return np.maximum(out, 0)

    def _of_pieces(self, triangle, places):
        """Luminance of solids' pieces at places on them (n, 3): (n, 3)."""
        corners = self.around.corners[triangle]
        share = _barycentric(corners, places)
        out = (share[..., None] * self._at_corners[triangle]).sum(1)
        if self.sun is not None:
            normal = self.around.normals[triangle]
            reach = self.sun.reaches(places + CLEAR * normal)
            out += reach[:, None] * self.sun.straight[triangle]
        return out

    @cached_property
    def _at_corners(self):
        """(solids, 3, 3): what is given at the pieces' corners, on the mean over the pieces of one
        flat face that meet there, so that a front goes over from piece to piece.
        """
        count = self.around.solids
        corners, normals = self.around.corners[:count], self.around.normals[:count]
        tags = np.concatenate([corners.reshape(-1, 3), np.repeat(normals, 3, axis=0)], 1)
        _, which = np.unique(tags.round(3) + 0.0, axis=0, return_inverse=True)
        which = which.ravel()
        value = np.repeat(self.given[:count], 3, axis=0)
        total = np.stack([np.bincount(which, value[:, k]) for k in range(3)], 1)
        return (total / np.bincount(which)[:, None])[which].reshape(-1, 3, 3)

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
    level: float
    """Square to its light [lx]."""
    shade: Any
    """RayScene of all that throws shadows outside."""
    straight: np.ndarray
    """(pieces, 3) luminance of each piece where it comes to it [cd/m^2]."""

    def reaches(self, places):
        """Whether it comes to places (n, 3) [m]: (n,)."""
        return clear_toward(self.shade, places, self.toward)


def by_sky(around, luminance, level):
    """What is outside by the light of the sky.

    Parameters
    ----------
    around : moth.world.surroundings.Surroundings
    luminance : callable
        Of the sky, from unit directions (n, 3) [cd/m^2].
    level : float
        Of level ground under all of it [lx].

    Returns
    -------
    Beyond
    """
    land = around.land.albedo * level / np.pi
    straight = around.albedo / np.pi * _from_sky(around.normals, luminance)[:, None]
    # No cell of the land has more of the sky than the open land.
    change = np.zeros((len(around.open), 3))
    given = _settled(around, land, luminance, np.concatenate([straight, change]))
    return Beyond(around, luminance, given[: around.pieces], land, given[around.pieces :])


def by_sun(around, toward, level):
    """What is outside by the light of the sun.

    Parameters
    ----------
    around : moth.world.surroundings.Surroundings
    toward : ndarray, shape (3,)
        Unit vector toward the sun.
    level : float
        Square to its light [lx].

    Returns
    -------
    Beyond
    """
    toward = np.asarray(toward, float)
    land = around.land.albedo * level * max(toward[2], 0.0) / np.pi
    straight = around.albedo / np.pi * (level * np.maximum(around.normals @ toward, 0))[:, None]
    reached = around.reached(toward)[:, None]
    m = around.pieces
    first = np.concatenate([reached[:m] * straight, (reached[m:] - 1) * land])
    given = _settled(around, land, _none, first) - first
    sun = Sunlight(toward, level, around.shade, straight)
    return Beyond(around, _none, given[:m], land, given[m:], sun)


def _from_sky(normals, luminance):
    """What faces (n, 3) get of all the sky that they look at [lx], (n,)."""
    for step in (0.01, 0.05):
        facing, which = np.unique((normals / step).round(), axis=0, return_inverse=True)
        if len(facing) < MANY:
            break
    facing /= np.linalg.norm(facing, axis=1, keepdims=True)
    ways, solid = _all_round()
    light = luminance(ways) * (ways[:, 2] > 0) * solid
    level = np.concatenate(
        [np.maximum(part @ ways.T, 0) @ light for part in np.array_split(facing, 8)]
    )
    return level[which.ravel()]


def _none(directions):
    return np.zeros(len(directions))


def _settled(around, land, luminance, straight):
    """Luminance of all pieces, and of cells of the land more or less than the open land, when all
    has given light to all (pieces + cells, 3) [cd/m^2].

    land: (3,) of the open land. straight: what comes from sky and sun as if pieces saw nothing but
    them; what solids and the house hide is taken off here.
    """
    albedo = np.concatenate([around.albedo, np.tile(around.land.albedo, (len(around.open), 1))])
    # Of the open land, that fills the half space below.
    upright = np.concatenate([around.normals[:, 2], np.ones(len(around.open))])
    fixed = straight + albedo * land * ((1 - upright) / 2)[:, None]
    piece, ways, share = around.hidden
    before = np.where(
        ways[:, 2:] > 0, luminance(ways)[:, None], np.broadcast_to(land, (len(ways), 3))
    )
    taken = [np.bincount(piece, share * before[:, k], len(albedo)) for k in range(3)]
    fixed = fixed - albedo * np.stack(taken, 1)
    out = order = fixed
    for _ in range(ORDERS):
        order = albedo * (around.exchange @ order)
        out = out + order
        if np.abs(order).max(initial=0) < SETTLED * np.abs(out).max(initial=1e-9):
            break
    return out


def _barycentric(corners, places):
    """Weights of the corners of triangles (n, 3, 3) at places on them (n, 3): (n, 3)."""
    a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    p = places - corners[:, 0]
    aa, ab, bb = (a * a).sum(1), (a * b).sum(1), (b * b).sum(1)
    pa, pb = (p * a).sum(1), (p * b).sum(1)
    whole = np.maximum(aa * bb - ab * ab, 1e-12)
    u, v = (bb * pa - ab * pb) / whole, (aa * pb - ab * pa) / whole
    return np.stack([1 - u - v, u, v], 1)


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
