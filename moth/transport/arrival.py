"""What of a lamp's light gets through: past solid things, through cloth, by way of mirrors and
windows.
"""

from dataclasses import replace

import numpy as np

from ..world import triple
from .emitters import Leg
from .kernels import mirrored_legs, rays_to
from .operands import Legs, room_for


def arrive(world, source, origins, directions, distances):
    """Part of the light from places on the face that arrives.

    Parameters
    ----------
    world : moth.world.World or None
        None for empty space.
    source : Emitter or Glow
        Who knows by which mirrors it is seen.
    origins, directions : ndarray, shape (n, 3)
        Where it is looked from [m] and the unit vector toward the face.
    distances : ndarray, shape (n,)
        To the face [m].

    Returns
    -------
    ndarray, shape (n,)
        0..1
    """
    n = len(distances)
    if world is None:
        return np.ones(n, np.float32)
    if not source.via:
        return world.clear(origins, directions, distances)
    part, on = np.zeros(n, np.float32), np.arange(n)
    left = np.ones(n, np.float32)
    for leg in source.via:
        legs = Legs(*np.empty((2, len(on), 3), np.float32), *np.empty((2, len(on)), np.float32))
        rays = (np.ascontiguousarray(k, float) for k in (origins, directions, distances))
        mirrored_legs(*rays, leg.pane, legs)
        met = np.flatnonzero(legs.first > 0)
        left = left[met] * world.clear(origins[met], directions[met], legs.first[met])
        on, met = on[met][left > 0], met[left > 0]
        left = left[left > 0]
        if leg.opening:
            if world.outside is not None:
                beyond = origins[met], directions[met], distances[met]
                left = left * _past_outside(world, legs.first[met], beyond)
            part[on] = left
            return part
        left = left * leg.pane.mirror
        origins, directions, distances = legs.hits[met], legs.turned[met], legs.rest[met]
    part[on] = left * world.clear(origins, directions, distances)
    return part


def _past_outside(world, first, rays):
    """Whether nothing that stands outside is in the way of rays past the opening, `first` along
    them.
    """
    origins, directions, distances = rays
    start = origins + (first + BEFORE)[:, None] * directions
    return world.outside.clear(start, directions, distances - first - 2 * BEFORE)


BEFORE = 0.02
"""Rays go on so far past an opening, and end so far before a lamp outside [m]."""


def with_images(world, emitters):
    """The emitters, and the images of each in the mirrors that it lights, straight or by way of
    other mirrors.

    Parameters
    ----------
    world : moth.world.World
    emitters : sequence of Emitter

    Returns
    -------
    list of Emitter
    """
    found, newest = list(emitters), list(emitters)
    mirrors = mirrors_of(world)
    for _ in range(MIRRORS if mirrors else 0):
        newest = [
            _image(emitter, sheet)
            for emitter in newest
            for _, sheet in mirrors
            if not (emitter.via and emitter.via[0].pane == sheet.pane)
            and _lights(world, emitter, sheet)
        ]
        found += newest
    return found


def mirrors_of(world):
    """Sheets that mirror, with their numbers."""
    return [(k, sheet) for k, sheet in enumerate(world.sheets) if sheet.material.mirror > 0.05]


MIRRORS = 3
"""Mirrors one after another that light is followed by."""
_PLACES = 14


def _lights(world, emitter, sheet):
    """Whether any light falls on a sheet, by so many places of it each way."""
    k = (np.arange(_PLACES) + 0.5) / _PLACES * 2 - 1
    u, v = (m.reshape(-1, 1) for m in np.meshgrid(k, k))
    points = sheet.centre + u * sheet.half[0] * sheet.right + v * sheet.half[1] * sheet.up
    for side in (1, -1):
        normals = np.tile(side * sheet.normal, (len(points), 1))
        rays = room_for(len(points))
        rays_to(points, normals, len(points), _PLACES - 1, emitter.face, rays)
        lit = np.flatnonzero(rays.weights > 1e-9 * emitter.face.table.max())
        if (
            len(lit)
            and arrive(
                world, emitter, rays.origins[lit], rays.directions[lit], rays.distances[lit]
            ).any()
        ):
            return True
    return False


def _image(emitter, sheet):
    face, n = emitter.face, sheet.normal

    def turned(v, about=0.0):
        v = np.asarray(v) - about
        return triple(about + v - 2 * (v @ n) * n)

    image = face._replace(
        centre=turned(face.centre, sheet.centre),
        right=turned(face.right),
        up=turned(face.up),
        forward=turned(face.forward),
    )
    rods = tuple(
        (turned(one, sheet.centre), turned(other, sheet.centre), r)
        for one, other, r in emitter.rods
    )
    return replace(emitter, face=image, via=(Leg(sheet.pane), *emitter.via), rods=rods)
