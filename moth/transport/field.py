"""Levels over many places at once: maps of a floor, a wall or the plane of the faces."""

import numpy as np

from .arrival import arrive
from .glow import glow_visibility, matte, shine
from .kernels import OFF_SURFACE, shadow_rays
from .operands import Spots, room_for
from .walks import hemisphere, walk

LAMP_SAMPLES, GLOW_SAMPLES, ROOM_RAYS = 24, 16, 128


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
    spots = Spots(points, normals, np.arange(n))
    for emitter in light.emitters:
        rays = room_for(n * LAMP_SAMPLES)
        shadow_rays(spots, spots.seeds, emitter.face, 0, LAMP_SAMPLES, rays)
        brought = rays.weights
        if dome:
            cosine = (rays.directions.reshape(n, LAMP_SAMPLES, 3) * normals[:, None]).sum(2).ravel()
            brought *= np.where(cosine > 0, (1 + cosine) / 2 / np.maximum(cosine, 1e-6), 0)
        lit = np.flatnonzero(brought > 0)
        brought[lit] *= arrive(
            world, emitter, rays.origins[lit], rays.directions[lit], rays.distances[lit]
        )
        total += brought.reshape(n, -1).mean(1)[:, None]
    for k, glow in enumerate(light.glows):
        out = np.zeros((n, 3))
        shine(matte(points, normals), dome, glow.cells, out, nothing)
        total += (
            out
            * glow_visibility(world, glow, (points, normals), GLOW_SAMPLES, dome, 31 * k)[:, None]
        )
    if room and n:
        ways = np.empty((n * ROOM_RAYS, 3))
        hemisphere(normals, ROOM_RAYS, dome, 3, ways)
        # A disc's rays are spread by the cosine and weigh alike; a dome's are even and weigh by its
        # response.
        cosine = (ways.reshape(n, ROOM_RAYS, 3) * normals[:, None]).sum(2).ravel()
        weigh = (1 + cosine) / ROOM_RAYS if dome else np.full(len(cosine), 1 / ROOM_RAYS)
        owner = np.arange(n * ROOM_RAYS)
        for ray, patch, weight, turned, _ in walk(
            world, np.repeat(points + OFF_SURFACE * normals, ROOM_RAYS, 0), ways, owner
        ):
            # What glows has been summed, past cloth as well.
            sent = np.stack(light.by_turn)[turned, patch]
            value = sent * (weight * weigh[ray])[:, None]
            for c in range(3):
                total[:, c] += np.bincount(ray // ROOM_RAYS, value[:, c], n)
    return total
