"""A lamp's flux followed from the lamp's side: none of it is lost or made up, however narrow."""

import hashlib
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..engine.caching import Keyed, cached
from .arrival import BEFORE
from .beyond import FAR
from .kernels import rays_to
from .operands import BALL, DISC, DISTANT, RECTANGLE, Rays, room_for

SHOTS = 1 << 14
"""Rays a lamp sends out."""
LEGS = 6
"""Cloths and mirrors that one is followed by."""
STRIDE = 4097
"""Has no divisor in common with the number of rays."""
START = 1e-4
"""Before the face [m]."""


@dataclass(frozen=True)
class Shots:
    """Where a lamp's light falls, straight, past cloth and by way of mirrors."""

    patch: np.ndarray
    """(n,)"""
    place: np.ndarray
    """(n, 3) [m]"""
    flux: np.ndarray
    """(n,) [lm]"""
    way: np.ndarray
    """(n, 3) unit, along the light."""

    def over(self, count):
        """Flux on each of so many patches [lm], number of rays, flux-weighted way (count, 3)."""
        flux = np.bincount(self.patch, self.flux, count)
        way = np.stack(
            [np.bincount(self.patch, self.flux * self.way[:, k], count) for k in range(3)], 1
        )
        return flux, np.bincount(self.patch, minlength=count), way

    def middles(self, count):
        """Middle of what falls on each of so many patches (count, 3) [m]."""
        flux = np.maximum(np.bincount(self.patch, self.flux, count), 1e-12)
        return np.stack(
            [np.bincount(self.patch, self.flux * self.place[:, k], count) / flux for k in range(3)],
            1,
        )


@lru_cache(maxsize=1)
def even_sequence():
    """Four even numbers a ray, (SHOTS, 4)."""
    # The library takes a third of a second to load: only whoever works light out waits for it.
    from scipy.stats import qmc

    # Scrambled once and for all: the same light every time.
    return qmc.Sobol(4, rng=np.random.default_rng(5)).random(SHOTS)


@cached("where tables send their flux")
def _towards(keyed):
    """Directions of an intensity table for :func:`even_sequence`: cosine off the axis, turn; and
    the flux of all [lm].
    """
    table = keyed.value
    rows = table if len(table) == 1 else (table[1:] + table[:-1]) / 2
    middle = (rows[:, 1:] + rows[:, :-1]) / 2
    k = middle.shape[1]
    t = (np.arange(k) + 0.5) / k
    # With t = sin(angle / 2) a solid angle is 4 t dt dturn.
    part = middle * 4 * t / k * (2 * np.pi / len(rows))
    total = float(part.sum())
    if total <= 0:
        return np.ones(SHOTS), np.zeros(SHOTS), 0.0
    u, v = even_sequence()[:, 0], even_sequence()[:, 1]
    by_row = np.cumsum(part.sum(1)) / total
    row = np.minimum(np.searchsorted(by_row, v), len(rows) - 1)
    before = np.concatenate([[0], by_row])[row]
    turn = (row + (v - before) / np.maximum(by_row[row] - before, 1e-12)) / len(rows) * 2 * np.pi
    running = np.cumsum(part, 1)
    running /= np.maximum(running[:, -1:], 1e-12)
    # All rows at once: each is moved to a stretch of its own.
    column = np.searchsorted((running + np.arange(len(rows))[:, None]).ravel(), row + u)
    column = np.clip(column - row * k, 0, k - 1)
    low = np.where(column > 0, running[row, np.maximum(column - 1, 0)], 0)
    inside = (u - low) / np.maximum(running[row, column] - low, 1e-12)
    s = (column + np.clip(inside, 0, 1)) / k
    return 1 - 2 * s * s, turn, total


def _starts(face, way):
    """Places of the face that rays set out from [m], and their weight by its brightness."""
    u, v = even_sequence()[:, 2], even_sequence()[:, 3]
    centre, right, up = (np.array(k) for k in (face.centre, face.right, face.up))
    weight = np.ones(SHOTS)
    if face.kind in (DISC, RECTANGLE):
        a, b = 2 * u - 1, 2 * v - 1
        if face.kind == DISC:
            a, b = np.sqrt(u) * np.cos(2 * np.pi * v), np.sqrt(u) * np.sin(2 * np.pi * v)
        k = len(face.pattern)
        if k > 1:
            i, j = (np.clip(((c + 1) / 2 * k).astype(int), 0, k - 1) for c in (a, b))
            weight = face.pattern[i, j]
        return centre + np.outer(a * face.half_width, right) + np.outer(
            b * face.half_height, up
        ), weight
    if face.kind == BALL:
        # Seen along a ray an even ball is an even disc square to it.
        off, turn = np.sqrt(u) * face.half_width, 2 * np.pi * v
        x = np.cross(way, np.where(np.abs(way[:, 2:]) < 0.9, [[0, 0, 1.0]], [[1.0, 0, 0]]))
        x /= np.linalg.norm(x, axis=1, keepdims=True)
        y = np.cross(way, x)
        rise = np.sqrt(np.maximum(face.half_width**2 - off**2, 0))
        place = (off * np.cos(turn))[:, None] * x + (off * np.sin(turn))[:, None] * y
        return centre + place + rise[:, None] * way, weight
    return np.tile(centre, (SHOTS, 1)), weight


def _from_lamp(emitter):
    """Places, ways and flux [lm] of the rays that leave a lamp."""
    table = emitter.face.table
    key = hashlib.blake2b(table.tobytes(), digest_size=16).hexdigest()
    cosine, turn, total = _towards(Keyed(key, table))
    sine = np.sqrt(np.maximum(1 - cosine**2, 0))
    right, up, forward = emitter.vectors
    way = (
        cosine[:, None] * forward
        + (sine * np.cos(turn))[:, None] * right
        + (sine * np.sin(turn))[:, None] * up
    )
    place, weight = _starts(emitter.face, way)
    return place, way, total / SHOTS * weight


def _through_opening(emitter):
    """The same of what comes in at an opening: the sun, or a lamp outside."""
    pane, face = emitter.via[0].pane, emitter.face
    a, b, u, v = (2 * k - 1 for k in even_sequence().T)
    place = (
        np.array(pane.centre)
        + np.outer(a * pane.half[0], pane.right)
        + np.outer(b * pane.half[1], pane.up)
    )
    if face.kind != DISTANT:
        rays: Rays = room_for(SHOTS)
        out = np.tile(-np.array(pane.normal), (SHOTS, 1))
        rays_to(place, out, SHOTS, STRIDE, face, rays)
        return place, -rays.directions, rays.weights * (4 * np.prod(pane.half) / SHOTS)
    right, up, forward = emitter.vectors
    off, turn = np.sqrt((u + 1) / 2) * face.half_width, np.pi * (v + 1)
    way = forward + (off * np.cos(turn))[:, None] * right + (off * np.sin(turn))[:, None] * up
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    # All alike: the tilt of one opening against a source so small hardly varies.
    total = float(face.table[0, 0]) * abs(float(forward @ pane.normal)) * 4 * np.prod(pane.half)
    return place, way, np.full(SHOTS, total / SHOTS)


def shots_of(world, emitter):
    """Follow a lamp's flux to the surfaces.

    Parameters
    ----------
    world : moth.world.World
    emitter : Emitter
        No image.

    Returns
    -------
    Shots or None
        None for the sun in the open, whose flux has no end.

    References
    ----------
    Jensen, "Realistic image synthesis using photon mapping" (2001), ch. 4.
    """
    if emitter.via:
        place, way, flux = _through_opening(emitter)
        if world.outside is not None:
            afar = np.full(len(place), FAR)
            flux = flux * world.outside.clear(place - BEFORE * way, -way, afar)
    elif emitter.face.kind == DISTANT:
        return None
    else:
        place, way, flux = _from_lamp(emitter)
    return followed(world, place + START * way, way, flux)


def followed(world, place, way, flux):
    """Rays followed to what they fall on, past cloth by its straight share and by way of mirrors.

    Parameters
    ----------
    world : moth.world.World
    place, way : ndarray, shape (n, 3)
        Where they begin [m], and unit vectors.
    flux : ndarray, shape (n,)
        [lm]

    Returns
    -------
    Shots
    """
    mesh, rows, found = world.mesh, world.rows, []
    for _ in range(LEGS):
        primitive, distance = world.rays.nearest(
            np.asarray(place, np.float32), np.asarray(way, np.float32)
        )
        on = np.flatnonzero(primitive >= 0)
        place, way, flux, primitive = (
            place[on] + distance[on, None] * way[on],
            way[on],
            flux[on] * world.left_by_air(distance[on]),
            primitive[on],
        )
        slant = (way * mesh.flat[primitive]).sum(1)
        patch = np.where(slant < 0, mesh.front[primitive], mesh.back[primitive])
        known = patch >= 0
        found.append(tuple(k[known] for k in (patch, place, flux, way)))
        sheet = mesh.sheet[primitive]
        if not len(rows.straight):
            break
        straight = np.where(sheet >= 0, rows.straight[sheet], 0)
        mirror = np.where(sheet >= 0, rows.mirror[sheet], 0)
        on = np.flatnonzero(np.maximum(straight, mirror) > 0.002)
        if not len(on):
            break
        # No catalogue cloth both mirrors and lets through: the greater share is followed.
        turned = mirror[on] > straight[on]
        flux = flux[on] * np.where(turned, mirror[on], straight[on])
        way = np.where(
            turned[:, None],
            way[on] - 2 * slant[on, None] * mesh.flat[primitive[on]],
            way[on],
        )
        place = place[on] + 1e-4 * way
    return Shots(*(np.concatenate(k) for k in zip(*found, strict=True)))
