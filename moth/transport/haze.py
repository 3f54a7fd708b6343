"""Haze: light that the air between scatters toward the lens."""

import numpy as np
from scipy import ndimage

from .arrival import arrive
from .kernels import shadow_rays
from .operands import Spots, room_for

AIR_STEPS, AIR_WIDTH = 24, 128
"""Steps along a line of sight, and pixels across, that haze is worked out for; it is smooth."""


def airlight(world, view, light, haze):
    """Light that haze scatters toward the lens: single scattering, even in all directions.

    Parameters
    ----------
    world : moth.world.World
    view : View
    light : Light
    haze : float
        Scattering coefficient [1/m].

    Returns
    -------
    ndarray, shape (height * width,)
        [cd/m^2]

    References
    ----------
    Pharr, Jakob, Humphreys, Physically Based Rendering, ch. 14: L = integral of sigma / 4 pi * E *
    T along the line of sight.
    """
    width, height = view.size
    factor = max(1, width // AIR_WIDTH)
    xs, ys = np.arange(factor // 2, width, factor), np.arange(factor // 2, height, factor)
    pixel = (ys[:, None] * width + xs[None]).ravel()
    rays = view.rays(pixel % width + 0.5, pixel // width + 0.5)
    # The jitter moves on by the golden ratio from pixel to pixel: steps turn to fine grain, which
    # the enlarging evens out.
    jitter = (np.arange(len(pixel)) * 0.6180339887498949) % 1.0
    reach = np.minimum(view.depth[pixel], 30.0)
    total = np.zeros(len(pixel))
    for k in range(AIR_STEPS):
        t = (k + jitter) / AIR_STEPS * reach
        points = view.origin + rays * t[:, None]
        level = np.zeros(len(pixel))
        for emitter in light.emitters:
            level += _sphere_level(world, emitter, points, k)
        total += level * np.exp(-haze * t) * reach / AIR_STEPS
    image = (haze / (4 * np.pi) * total).reshape(len(ys), len(xs))
    return ndimage.zoom(
        ndimage.gaussian_filter(image, 0.8),
        (height / len(ys), width / len(xs)),
        order=1,
        grid_mode=True,
        mode="nearest",
    )[:height, :width].ravel()


def _sphere_level(world, emitter, points, seed):
    """Light on a small sphere at each point, over its cross-section [lx]: what haze scatters."""
    n = len(points)
    # A plain surface turned to the lamp's middle answers by the cosine, which is one for a lamp
    # this small.
    toward = emitter.centre - points
    toward /= np.maximum(np.linalg.norm(toward, axis=1, keepdims=True), 1e-9)
    rays = room_for(n)
    spots = Spots(points, toward, np.arange(n) + 977 * seed)
    shadow_rays(spots, np.arange(n), emitter.face, 0, 1, rays)
    lit = np.flatnonzero(rays.weights > 0)
    rays.weights[lit] *= arrive(
        world, emitter, rays.origins[lit], rays.directions[lit], rays.distances[lit]
    )
    return rays.weights
