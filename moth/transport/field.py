"""Levels over many places at once: maps of a floor, a wall or the plane of the faces."""

import numpy as np

from .arrival import arrive
from .glow import glow_visibility, shine
from .kernels import OFF_SURFACE, shadow_rays
from .walks import hemisphere, walk

LAMP_SAMPLES, GLOW_SAMPLES, ROOM_RAYS = 24, 16, 128
_NONE = np.zeros(1)


def field(world, light, points, normals, dome=False, room=True):
    """Illuminance that a source at full brings to many receivers.

    Parameters
    ----------
    world : moth.world.World
    light : Light
    points, normals : ndarray, shape (n, 3)
        Places [m] and unit vectors.
    dome : bool
        Whether the receivers are domes; else discs.
    room : bool
        Whether light from walls, furniture and people counts.

    Returns
    -------
    ndarray, shape (n, 3)
        Linear BT.709 parts [lx]; grain of a few percent, for maps. Meters ask :func:`meter_light`.
    """
    n = len(points)
    points, normals = np.ascontiguousarray(points, float), np.ascontiguousarray(normals, float)
    total, nothing = np.zeros((n, 3)), np.zeros((n, 3))
    for emitter in light.emitters:
        m = n * LAMP_SAMPLES
        origins, directions = np.empty((m, 3), np.float32), np.empty((m, 3), np.float32)
        distances = np.empty(m, np.float32)
        brought = np.empty(m)
        shadow_rays(
            points,
            normals,
            np.arange(n),
            np.arange(n),
            emitter.frame,
            emitter.table,
            emitter.face,
            0,
            LAMP_SAMPLES,
            origins,
            directions,
            distances,
            brought,
        )
        if dome:
            cosine = (directions.reshape(n, LAMP_SAMPLES, 3) * normals[:, None]).sum(2).ravel()
            brought *= np.where(cosine > 0, (1 + cosine) / 2 / np.maximum(cosine, 1e-6), 0)
        lit = np.flatnonzero(brought > 0)
        brought[lit] *= arrive(world, emitter, origins[lit], directions[lit], distances[lit])
        total += brought.reshape(n, -1).mean(1)[:, None]
    for k, glow in enumerate(light.glows):
        out = np.zeros((n, 3))
        shine(
            points,
            normals,
            normals,
            np.full(n, -1),
            _NONE,
            _NONE,
            dome,
            glow.cells,
            glow.flux,
            glow.beam,
            glow.has_beam,
            out,
            nothing,
        )
        total += (
            out * glow_visibility(world, glow, points, normals, GLOW_SAMPLES, dome, 31 * k)[:, None]
        )
    if room and n:
        ways = np.empty((n * ROOM_RAYS, 3))
        hemisphere(normals, ROOM_RAYS, dome, 3, ways)
        # A disc's rays are spread by the cosine and weigh alike; a dome's are even and weigh by its
        # response.
        cosine = (ways.reshape(n, ROOM_RAYS, 3) * normals[:, None]).sum(2).ravel()
        weigh = (1 + cosine) / ROOM_RAYS if dome else np.full(len(cosine), 1 / ROOM_RAYS)
        owner = np.arange(n * ROOM_RAYS)
        for leg, (ray, patch, weight) in enumerate(
            walk(world, np.repeat(points + OFF_SURFACE * normals, ROOM_RAYS, 0), ways, owner)
        ):
            value = (light.radiosity if leg else light.rest)[patch] * (weight * weigh[ray])[:, None]
            for c in range(3):
                total[:, c] += np.bincount(ray // ROOM_RAYS, value[:, c], n)
    return total
