"""Hair as it grows: ribbons over a scalp and hairs for brows, in place of what the base meshes have
moulded.

A ribbon is a wisp of hairs that lie side by side, up to a millimetre wide: thin enough for the edge
of a head to be rough, and few enough to be traced. What light does on it is told by its direction
(:mod:`moth.transport.fibres`).
"""

from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np
from scipy.spatial import cKDTree

from ..engine.sampling import R2_U, R2_V


@dataclass(frozen=True)
class Cut:
    """How a person's hair is worn; typical."""

    length: float
    """[m]"""
    thick: float
    """How far the moulded hair stands off the scalp at most [m]: ribbons fill what they replace."""
    wisps: int
    width: float
    """Of a wisp at its root [m]."""
    steps: int
    """Straight pieces of a wisp."""
    way: Literal["swept", "whorl", "down"]
    """Drawn back to the nape, grown out from the whorl, or down from the lips and cheeks."""
    stray: float
    """How much wisps differ in direction [rad]."""
    least: float = 0.25
    """How dense it is where it ends, against where it is full."""


CUTS = {
    "weathered-man": Cut(0.034, 0.009, 5200, 0.0011, 4, "whorl", 0.30),
    "young-woman": Cut(0.105, 0.011, 9000, 0.0007, 6, "swept", 0.05),
    "middle-aged-woman": Cut(0.105, 0.013, 9000, 0.0007, 6, "swept", 0.05),
    "broad-man": Cut(0.015, 0.006, 8000, 0.0009, 3, "whorl", 0.35),
    "old-woman": Cut(0.095, 0.009, 9000, 0.0007, 6, "swept", 0.08),
    "young-man": Cut(0.050, 0.012, 5200, 0.0011, 5, "whorl", 0.25),
    "middle-aged-man": Cut(0.030, 0.010, 5600, 0.0010, 4, "whorl", 0.30),
    "girl": Cut(0.100, 0.010, 9000, 0.0007, 6, "swept", 0.06),
}
BEARDS = {
    "short": Cut(0.006, 0.0015, 4200, 0.00045, 2, "down", 0.4, 0.0),
    "full": Cut(0.030, 0.011, 5200, 0.0008, 4, "down", 0.3, 0.0),
}
BROW_HAIRS, BROW_LENGTH, BROW_WIDTH = 210, 0.0085, 1.5e-4
"""Of one brow; hairs of 0.1 mm, drawn half as thick again for two that cross; typical."""
MESH = 0.007
"""Distance of the scalp's places from each other [m]: wisps follow it smoothed over so much."""
EDGE = 0.045
"""Over so much from its edge the hair reaches its full depth [m]."""


class Wisps(NamedTuple):
    """Triangles of hair, and what it needs besides."""

    vertices: np.ndarray
    """(n, 3) [m]"""
    faces: np.ndarray
    """(m, 3)"""
    along: np.ndarray
    """(n, 3) unit, from root to tip."""
    outward: np.ndarray
    """(n, 3) unit, away from the head: what the mass of hair is shaded by."""
    tone: np.ndarray
    """(n,) against the mean of the hair."""


def scalp(vertices, normals, edge, thick):
    """The moulded hair drawn in to about the scalp, and how deep it lies under it.

    Parameters
    ----------
    vertices, normals : ndarray, shape (n, 3)
        Of the moulded hair, in the figure's frame [m].
    edge : ndarray of bool, shape (n,)
        Those that it has in common with the skin.
    thick : float
        [m]

    Returns
    -------
    vertices : ndarray, shape (n, 3)
    depth : ndarray, shape (n,)
        [m]

    Examples
    --------
    >>> flat, up = np.array([[0.0, 0, 0], [0.1, 0, 0]]), np.array([[0.0, 0, 1], [0, 0, 1]])
    >>> scalp(flat, up, np.array([True, False]), 0.01)[1].tolist()
    [0.0, 0.01]
    """
    away = cKDTree(vertices[edge]).query(vertices)[0]
    t = np.clip(away / EDGE, 0, 1)
    depth = thick * t * t * (3 - 2 * t)
    return vertices - depth[:, None] * normals, depth


def _spread(count, seed):
    """Numbers that fill 0..1 evenly, (count, 2), and shuffled ones, (count, 6)."""
    k = np.arange(count) + 1
    even = np.stack([(k * R2_U) % 1, (k * R2_V) % 1], 1)
    return even, np.random.default_rng(seed).random((count, 6))


def grow(cut, head, hair, marks, seed):
    """Wisps over a scalp.

    Parameters
    ----------
    cut : Cut
    head : tuple
        Places and unit normals of skin and scalp, (n, 3) each, and how deep each lies under the
        hair's outside, (n,) [m].
    hair : tuple
        Triangles of the scalp, (m, 3) into these places, and how full the hair is at each place,
        (n,) 0..1: wisps are thin and short where it ends.
    marks : dict
        Landmarks.
    seed : int

    Returns
    -------
    Wisps
    """
    places, normals, depth = head
    faces, full = hair
    corner = places[faces]
    area = np.linalg.norm(
        np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1
    )
    running = np.cumsum(area * (cut.least + (1 - cut.least) * full[faces].mean(1)))
    even, luck = _spread(cut.wisps, seed)
    at = np.searchsorted(running / running[-1], even[:, 0]).clip(0, len(faces) - 1)
    u, v = np.sqrt(luck[:, :1]), even[:, 1:]
    share = np.concatenate([1 - u, u * (1 - v), u * v], 1)
    root = (corner[at] * share[..., None]).sum(1)
    fullness = (full[faces[at]] * share).sum(1)

    tree, swept = cKDTree(places), cut.way == "swept"
    step = cut.length * (0.55 + 0.6 * luck[:, 1]) * (0.4 + 0.6 * fullness) / cut.steps
    # How high in the mass a wisp comes to lie.
    level = (0.6 if swept else 0.15) + (0.4 if swept else 0.85) * luck[:, 2]
    level[luck[:, 3] < 0.03] = 1.1 if swept else 1.25
    turn = cut.stray * (luck[:, 4] - 0.5) * 2
    # Neighbours lean alike, in locks.
    lock = np.sin(140 * root[:, 0] + 60 * root[:, 2]) * np.cos(95 * root[:, 1] - 80 * root[:, 2])
    turn += 0.8 * cut.stray * lock

    spine, out = [], []
    p = root
    for k in range(cut.steps + 1):
        near, index = tree.query(p, k=12)
        weight = np.exp(-((near - near[:, :1]) * (near + near[:, :1])) / (2 * MESH**2))
        weight /= weight.sum(1, keepdims=True)
        n = (normals[index] * weight[..., None]).sum(1)
        n /= np.linalg.norm(n, axis=1, keepdims=True)
        base, deep = places[index], (depth[index] * weight).sum(1)
        height = ((p[:, None] - base) * normals[index]).sum(2)
        height = (height * weight).sum(1)
        part = k / cut.steps
        rise = min(1.0, part * 2.2) * (1 - (0.7 if swept else 0.25) * part**3)
        wanted = 2e-4 + rise * level * np.maximum(deep, 0.0012)
        p = p + (wanted - height)[:, None] * n
        goal = _goal(cut.way, p, marks["crown"])
        d = goal - (goal * n).sum(1, keepdims=True) * n
        d /= np.maximum(np.linalg.norm(d, axis=1, keepdims=True), 1e-6)
        side = np.cross(n, d)
        d = np.cos(turn)[:, None] * d + np.sin(turn)[:, None] * side
        spine.append(p)
        out.append(n)
        p = p + step[:, None] * d
    return _ribbons(np.stack(spine, 1), np.stack(out, 1), cut.width * (0.5 + 0.5 * fullness), luck)


def _goal(way, places, crown):
    """Which way hair grows at places (n, 3), any length; not yet along the skin."""
    if way == "swept":
        return crown - [0.0, 0.115, 0.105] - places
    if way == "whorl":
        return places - (crown + [0.012, -0.055, -0.01])
    out = np.array([[0.0, 0.2, -1.0]]) * np.ones((len(places), 1))
    out[:, 0] = 10 * places[:, 0]
    return out


def _ribbons(spine, out, width, luck):
    """Ribbons along lines (n, k, 3), flat to the surface that they lie over; their last piece ends
    in a point.
    """
    count, k = spine.shape[:2]
    along = np.gradient(spine, axis=1)
    along /= np.maximum(np.linalg.norm(along, axis=2, keepdims=True), 1e-9)
    across = np.cross(out, along)
    across /= np.maximum(np.linalg.norm(across, axis=2, keepdims=True), 1e-9)
    # Not flat as paper: each leans over to one side, or the mass would be a polished shell.
    lean = 0.9 * (luck[:, 5] - 0.5)[:, None, None]
    across = np.cos(lean) * across + np.sin(lean) * out
    outward = np.cos(lean) * out - np.sin(lean) * np.cross(out, along)
    outward = 0.6 * out + 0.4 * outward
    outward /= np.linalg.norm(outward, axis=2, keepdims=True)
    half = width[:, None, None] / 2 * (1 - np.linspace(0, 1, k) ** 3)[None, :, None]
    left, right = (spine + s * half * across for s in (-1, 1))
    # Both edges of every place but the last, then the tip.
    body = np.stack([left[:, :-1], right[:, :-1]], 2).reshape(count, -1, 3)
    vertices = np.concatenate([body, spine[:, -1:]], 1)
    own = vertices.shape[1]
    quads = [
        [[2 * j, 2 * j + 1, 2 * j + 2], [2 * j + 1, 2 * j + 3, 2 * j + 2]] for j in range(k - 2)
    ]
    tip = [[2 * k - 4, 2 * k - 3, 2 * k - 2]]
    pattern = np.array([t for pair in quads for t in pair] + tip)
    faces = (pattern[None] + own * np.arange(count)[:, None, None]).reshape(-1, 3)

    def both(rows):
        doubled = np.repeat(rows[:, :-1], 2, axis=1)
        return np.concatenate([doubled, rows[:, -1:]], 1).reshape(-1, 3)

    tone = np.repeat(np.exp(0.5 * (luck[:, 4] - 0.5)), own)
    return Wisps(vertices.reshape(-1, 3), faces, both(along), both(outward), tone)


def brow(places, normals, dark, middle, seed):
    """Hairs of one brow: up and out near the nose, along it farther out.

    Parameters
    ----------
    places, normals : ndarray, shape (n, 3)
        Of the skin that the brow is painted on.
    dark : ndarray, shape (n,)
        How much of it is painted there, 0..1.
    middle : ndarray, shape (3,)
        Of the eye under it.
    seed : int

    Returns
    -------
    Wisps
    """
    even, luck = _spread(BROW_HAIRS, seed)
    running = np.cumsum(dark)
    at = np.searchsorted(running / running[-1], even[:, 0]).clip(0, len(places) - 1)
    n = normals[at]
    s = np.sign(middle[0])
    # Between the places of the mesh too.
    near = 0.0016 * (luck[:, :2] - 0.5)
    up = np.array([0.0, 0.0, 1.0])
    out = np.array([s, 0.0, 0.0])
    outer = np.clip(((places[at] - middle) @ out + 0.018) / 0.04, 0, 1)[:, None]
    high = np.clip((places[at, 2] - middle[2] - 0.021) / 0.005, -1, 1)[:, None]
    d = (0.25 + 1.0 * outer) * out + (0.75 - 0.85 * outer - 0.35 * high) * up
    d += 0.35 * (luck[:, 2:3] - 0.5) * up
    d -= (d * n).sum(1, keepdims=True) * n
    d /= np.linalg.norm(d, axis=1, keepdims=True)
    length = BROW_LENGTH * (0.55 + 0.6 * luck[:, 3]) * (0.5 + 0.5 * dark[at])
    root = places[at] + near[:, :1] * out + near[:, 1:] * up
    t = np.linspace(0, 1, 4)[None, :, None]
    lift = (0.0011 * np.sin(np.pi * (0.15 + 0.7 * t))) * n[:, None]
    spine = root[:, None] + t * length[:, None, None] * d[:, None] + lift
    return _ribbons(spine, np.repeat(n[:, None], 4, axis=1), np.full(len(at), BROW_WIDTH), luck)
