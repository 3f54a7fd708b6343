"""What a lamp, or its image in a mirror, brings straight to the patches, its flux conserved."""

import numpy as np

from ..colour import LUMINANCE
from .arrival import arrive
from .exchange import samples
from .kernels import face_rays, rays_to
from .lobes import Samples, arrivals, on_lobed, plain_arrival
from .operands import RECTANGLE, room_for
from .walks import STRIDE, hemisphere

PATCH_SAMPLES, CLOTH_SAMPLES, CLOSE_SAMPLES = 24, 120, 960
"""Places of a patch that a lamp's light on it is averaged over: of walls, of cloth that sends it on
in lobes, where it counts by which ways and where it falls, and of such cloth close to a window,
where it comes from everywhere: a lobe is as wide as a hundredth of all ways.
"""


def on_patches(world, emitter):
    """How a lamp, or its image, lights the patches.

    Parameters
    ----------
    world : moth.world.World
    emitter : Emitter

    Returns
    -------
    list of Arrival
    """
    earth = world.patches.sky[:, 2] == 0
    again = on_lobed(world) & earth
    close = np.isin(world.patches.sheet, world.patches.sheet[again & _close(world, emitter)])
    return [
        _on_some(world, emitter, np.flatnonzero(chosen), count)
        for chosen, count in (
            (earth & ~again, PATCH_SAMPLES),
            (again & ~close, CLOTH_SAMPLES),
            (again & close, CLOSE_SAMPLES),
        )
        if chosen.any()
    ]


def _on_some(world, emitter, patches, count):
    points, normals = samples(world, patches, count)
    rays = _rays_to(emitter, points, normals, count)
    _close_by(world, emitter, patches, (points, normals), rays)
    found = Samples(
        _arrived(world, emitter, rays).reshape(-1, count, 1) / count,
        rays.directions.reshape(-1, count, 3),
        rays.distances.reshape(-1, count),
        points.reshape(-1, count, 3),
    )
    return arrivals(world, patches, found)


def conserved(world, found, shots):
    """Levels on patches brought into line with the flux that the lamp sends.

    found: list of Arrival; shots: Shots, rays that the lamp sent out. Returns a list of Arrival.

    Places of a patch tell its level well where that is even, and rays from the lamp where it is
    not: each patch is told by what errs less. What rays do not tell is scaled to the flux that is
    left, so that none is lost and none made up.
    """
    p = world.patches
    gathered = sum(_bright(a.level) for a in found) * p.area
    told, count, way = shots.over(len(p))
    total = max(float(told.sum()), 1e-12)
    # Rays find a patch's flux to one over the root of their number, a few places in a beam's edge
    # err by up to the whole.
    error = 1 / np.sqrt(np.maximum(count, 1))
    doubt = sum(_bright(a.level) * a.doubt for a in found) * p.area / np.maximum(gathered, 1e-12)
    apart = (np.abs(told - gathered) > 1.5 * told * error) & (doubt > error)
    expected = gathered / total * len(shots.patch)
    by_rays = (
        ((count >= MANY) & apart)
        | ((count < 1) & (expected > MANY))
        | ((gathered <= 0) & (count > 0))
    )
    rest = float(gathered[~by_rays].sum())
    scale = (float(told.sum()) - float(told[by_rays].sum())) / rest if rest > 0 else 1.0
    scale = float(np.clip(scale, 0.8, 1.25))
    wanted = np.where(by_rays, told, gathered * scale)
    factor = np.divide(wanted, gathered, out=np.zeros(len(p)), where=gathered > 0)
    out = [a._replace(level=a.level * factor[:, None]) for a in found]
    missed = (gathered <= 0) & (told > 0)
    if missed.any():
        # So narrow a beam that no place of the patch was in it.
        mean = way / np.maximum(told, 1e-12)[:, None]
        length = np.linalg.norm(mean, axis=1)
        hue = sum((a.level * p.area[:, None]).sum(0) for a in found)
        level = np.where(missed, told / p.area, 0)[:, None] * hue / max(float(_bright(hue)), 1e-12)
        out.append(
            plain_arrival(level)._replace(
                incoming=mean / np.maximum(length, 1e-9)[:, None],
                spread=np.clip(length, 0, 1),
                middle=shots.middles(len(p)),
            )
        )
    return out


def _bright(level):
    """Luminance of light that is told by one number or by three."""
    return level @ (LUMINANCE if level.shape[-1] == 3 else np.ones(1))


MANY = 40
"""Rays on a patch from which they are believed against its places."""


def _rays_to(emitter, points, normals, count):
    """One ray a place to a place on the face, weighted by the illuminance it would bring [lx].

    Each `count` places in a row belong together, and so do theirs on the face: they fill it evenly,
    or a cloth near a panel would be blotched.

    Returns
    -------
    Rays
    """
    rays = room_for(len(points))
    rays_to(points, normals, count, STRIDE, emitter.face, rays)
    return rays


def _arrived(world, emitter, rays):
    """What of the rays' light gets through [lx, shape (n,)]."""
    lit = np.flatnonzero(rays.weights > 0)
    rays.weights[lit] *= arrive(
        world, emitter, rays.origins[lit], rays.directions[lit], rays.distances[lit]
    )
    return rays.weights


def _close(world, emitter):
    """Which patches are close to a window or to a lamp's flat face, shape (p,)."""
    p = world.patches
    if emitter.via or emitter.kind != RECTANGLE:
        return np.zeros(len(p), bool)
    middle = world.mesh.vertices[world.mesh.faces[p.triangle[p.start[:-1]]]].mean(1)
    reach = 1.2 * emitter.half
    off = middle - emitter.centre
    return (np.abs(off @ emitter.face.forward) < 0.35 * reach) & (
        np.linalg.norm(off, axis=1) < 1.6 * reach
    )


def _close_by(world, emitter, patches, places, rays):
    """Cloth close to a window or a lamp's face: rays spread by the cosine instead of places on the
    face, whose inverse squares have no end. Overwrites those of the rays.
    """
    points, normals = places
    count = len(points) // len(patches)
    near = np.flatnonzero(_close(world, emitter)[patches])
    if not len(near):
        return
    rows = (near[:, None] * count + np.arange(count)).ravel()
    way, radiance, reached = np.empty((len(rows), 3)), np.empty(len(rows)), np.empty(len(rows))
    hemisphere(np.ascontiguousarray(normals[rows[::count]]), count, False, 5, way)
    face_rays(points[rows], way, emitter.face, radiance, reached)
    rays.directions[rows], rays.distances[rows] = way, reached * 0.9999
    rays.weights[rows] = np.pi * radiance
