"""How large a unit is to the face: told by the light that arrives, whatever it came by."""

from dataclasses import dataclass

import numpy as np

from ..colour import LUMINANCE
from ..transport.arrival import arrive
from ..transport.glow import lobes_and_glow
from ..transport.kernels import OFF_SURFACE, shadow_rays
from ..transport.operands import Spots, room_for

LAMP_RAYS = 2048
FAINT = 1e-4
"""Part of all light below which a ray's is let be."""


@dataclass(frozen=True)
class Softness:
    """Light that a unit brings to a place, by the ways it comes."""

    toward: np.ndarray
    """(3,) unit vector to its middle."""
    distance: float
    """To where it comes from: lamp, cloth, board or wall [m]."""
    across: float
    """Full angle of an even strip that spreads it as far, along its widest way [deg]."""
    athwart: float
    """The same square to that [deg]."""
    half: float
    """Full angle about its middle that holds half of it [deg]."""
    most: float
    """The same for nine tenths [deg]."""

    @property
    def size(self):
        """Width and height of an even sheet at the distance, square to the sight of it [m]."""
        return tuple(
            2 * self.distance * float(np.tan(np.radians(min(a, 170.0) / 2)))
            for a in (self.across, self.athwart)
        )


def arriving(world, light, place, facing):
    """Light on a disc by the ways it comes.

    Parameters
    ----------
    world : moth.world.World
    light : moth.transport.Light
    place, facing : array_like, shape (3,)
        Of the disc [m], and the unit vector it looks along.

    Returns
    -------
    toward : ndarray, shape (n, 3)
        Unit vectors.
    distances : ndarray, shape (n,)
        [m]
    level : ndarray, shape (n,)
        [lx]; lamps, their images, and surfaces that are followed as sources. The rest of the room
        comes from everywhere and is left out.
    """
    points, normals = np.array([place], float), np.array([facing], float)
    ways, far, level = [], [], []
    for emitter in light.emitters:
        rays = room_for(LAMP_RAYS)
        spots = Spots(points, normals, np.zeros(1, int))
        shadow_rays(spots, np.zeros(1, int), emitter.face, 0, LAMP_RAYS, rays)
        lit = np.flatnonzero(rays.weights > 0)
        part = arrive(world, emitter, rays.origins[lit], rays.directions[lit], rays.distances[lit])
        ways.append(rays.directions[lit])
        far.append(rays.distances[lit])
        level.append(rays.weights[lit] * part / LAMP_RAYS)
    for glow in light.glows:
        to, distance, amount = lobes_and_glow(points[0], normals[0], glow.cells)
        value = amount @ LUMINANCE
        lit = np.flatnonzero(value > FAINT * max(float(value.sum()), 1e-12))
        if not len(lit):
            continue
        origins = np.repeat(points + OFF_SURFACE * normals, len(lit), 0)
        seen = arrive(
            world,
            glow,
            np.asarray(origins, np.float32),
            np.asarray(to[lit], np.float32),
            np.asarray(np.maximum(distance[lit] - 3e-3, 0), np.float32),
        )
        ways.append(to[lit])
        far.append(distance[lit])
        level.append(value[lit] * seen)
    if not ways:
        return np.zeros((0, 3)), np.zeros(0), np.zeros(0)
    return np.concatenate(ways).astype(float), np.concatenate(far), np.concatenate(level)


def softness_of(world, light, place, facing):
    """How large a unit is, seen from a place; None in its dark.

    A hot middle is a smaller source than its cloth, and so is a lobe whose tails reach far.

    Parameters
    ----------
    world, light, place, facing
        See :func:`arriving`.

    Returns
    -------
    Softness or None
    """
    ways, far, level = arriving(world, light, place, facing)
    total = float(level.sum())
    if total <= 1e-9:
        return None
    part = level / total
    mean = part @ ways
    mean /= max(float(np.linalg.norm(mean)), 1e-9)
    x = np.cross(mean, [0.0, 0.0, 1.0] if abs(mean[2]) < 0.9 else [1.0, 0.0, 0.0])
    x /= np.linalg.norm(x)
    y = np.cross(mean, x)
    off = np.arccos(np.clip(ways @ mean, -1, 1))
    turn = np.stack([ways @ x, ways @ y], 1)
    # Angles, not sines: a wall of light is wider than half of its tangent plane.
    turn *= (off / np.maximum(np.linalg.norm(turn, axis=1), 1e-9))[:, None]
    _, axes = np.linalg.eigh((part[:, None] * turn).T @ turn)
    narrow, wide = (_strip(turn @ axis, part) for axis in axes.T)
    order = np.argsort(off)
    held = np.cumsum(part[order])
    half, most = (
        2 * float(off[order[min(int(np.searchsorted(held, s)), len(order) - 1)]])
        for s in (0.5, 0.9)
    )
    return Softness(
        mean,
        1 / float(part @ (1 / np.maximum(far, 1e-3))),
        float(np.degrees(wide)),
        float(np.degrees(narrow)),
        float(np.degrees(half)),
        float(np.degrees(most)),
    )


def _strip(offsets, part):
    """Width of the even strip whose light lies as far apart from its tenth to its nine tenths."""
    order = np.argsort(offsets)
    held = np.cumsum(part[order]) - part[order] / 2
    low, high = np.interp((0.1, 0.9), held, offsets[order])
    return (high - low) / 0.8
