"""What of a lamp's light gets through: past solid things, through cloth, by way of mirrors and
windows.
"""

from dataclasses import replace

import numpy as np

from .emitters import POINT
from .kernels import mirrored_legs


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
    hits, turned = np.empty((n, 3), np.float32), np.empty((n, 3), np.float32)
    first, rest = np.empty(n, np.float32), np.empty(n, np.float32)
    mirrored_legs(origins, directions, distances, emitter.via, hits, turned, first, rest)
    part = np.zeros(n, np.float32)
    met = np.flatnonzero(first > 0)
    if not len(met):
        return part
    part[met] = world.clear(origins[met], directions[met], first[met])
    if not emitter.through:
        on = met[part[met] > 0]
        part[on] *= world.clear(hits[on], turned[on], rest[on]) * emitter.via[15]
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
    at = np.sqrt(np.maximum(0.5 - 0.5 * toward @ emitter.frame[10:13], 0)) * (
        emitter.table.shape[1] - 1
    )
    return bool((emitter.table[:, at.astype(int)] > 1e-6 * emitter.table.max()).any())


def _image(emitter, sheet):
    frame = emitter.frame.copy()
    n = sheet.normal
    frame[1:4] -= 2 * ((frame[1:4] - sheet.centre) @ n) * n
    for k in (4, 7, 10):
        frame[k : k + 3] -= 2 * (frame[k : k + 3] @ n) * n
    if emitter.kind == POINT:
        frame[13:15] = 0
    return replace(emitter, frame=frame, via=sheet.row)
