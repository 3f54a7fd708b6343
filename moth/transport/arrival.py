"""What of a lamp's light gets through: past solid things, through cloth, by way of mirrors and
windows.
"""

from dataclasses import replace

import numpy as np

from ..world import triple
from .kernels import mirrored_legs
from .operands import Legs


def arrive(world, emitter, origins, directions, distances):
    """Part of the light from places on the face that arrives.

    Parameters
    ----------
    world : moth.world.World or None
        None for empty space.
    emitter : Emitter
    origins, directions : ndarray, shape (n, 3)
        Where it is looked from [m] and the unit vector toward the face.
    distances : ndarray, shape (n,)
        To the face [m].

    Returns
    -------
    ndarray, shape (n,)
        0..1
    """
    if emitter.via is None:
        return (
            np.ones(len(distances), np.float32)
            if world is None
            else world.clear(origins, directions, distances)
        )
    n = len(distances)
    legs = Legs(
        np.empty((n, 3), np.float32),
        np.empty((n, 3), np.float32),
        np.empty(n, np.float32),
        np.empty(n, np.float32),
    )
    mirrored_legs(origins, directions, distances, emitter.via, legs)
    part = np.zeros(n, np.float32)
    met = np.flatnonzero(legs.first > 0)
    if not len(met):
        return part
    part[met] = world.clear(origins[met], directions[met], legs.first[met])
    if not emitter.through:
        on = met[part[met] > 0]
        part[on] *= world.clear(legs.hits[on], legs.turned[on], legs.rest[on]) * emitter.via.mirror
    return part


def with_images(world, emitters):
    """The emitters, and the image of each in every mirror that it lights.

    Parameters
    ----------
    world : moth.world.World
    emitters : sequence of Emitter

    Returns
    -------
    list of Emitter
    """
    found = list(emitters)
    for emitter in emitters:
        if emitter.via is not None:
            continue
        for sheet in world.sheets:
            if sheet.material.mirror > 0.05 and _lights(emitter, sheet):
                found.append(_image(emitter, sheet))
    return found


def _lights(emitter, sheet):
    """Whether any of the beam falls on a sheet: more than a millionth of its peak at one of its
    places.
    """
    k = np.linspace(-0.9, 0.9, 7)
    u, v = (m.reshape(-1, 1) for m in np.meshgrid(k, k))
    toward = (
        sheet.centre
        + u * sheet.half[0] * sheet.right
        + v * sheet.half[1] * sheet.up
        - emitter.centre
    )
    # A mirror may stand in the lamp itself.
    toward /= np.maximum(np.linalg.norm(toward, axis=1, keepdims=True), 1e-9)
    table = emitter.face.table
    at = np.sqrt(np.maximum(0.5 - 0.5 * toward @ emitter.face.forward, 0)) * (table.shape[1] - 1)
    return bool((table[:, at.astype(int)] > 1e-6 * table.max()).any())


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
    return replace(emitter, face=image, via=sheet.pane)
