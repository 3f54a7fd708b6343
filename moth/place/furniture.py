"""A piece of furniture as it stands: its parts, the surface that is seen of it, what is inside."""

import math
from dataclasses import replace
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from manifold3d import Manifold, OpType

from ..engine.caching import cached
from .parts import Part
from .pieces import PIECES
from .scans import inside_scan, scan_parts


def parts_of(item):
    """Parts of a piece as it stands in the room.

    Parameters
    ----------
    item : moth.document.Furniture

    Returns
    -------
    list of Part
        With places and turns of the room.

    Examples
    --------
    >>> from moth.document import Furniture
    >>> table = Furniture(id="t", name="Table", kind="table", position=(2, 3, 0), size=(2, 1, 0.75))
    >>> [round(v, 3) for v in parts_of(table)[-1].position]
    [2.0, 3.0, 0.72]
    """
    c, s = math.cos(math.radians(item.turn)), math.sin(math.radians(item.turn))
    x, y, z = item.position
    return [
        Part(
            part.kind,
            (
                x + c * part.position[0] - s * part.position[1],
                y + s * part.position[0] + c * part.position[1],
                z + part.position[2],
            ),
            part.size,
            part.turn + item.turn,
            part.second,
        )
        for part in _own_parts(item)
    ]


def _own_parts(item):
    if item.scan:
        return scan_parts(item.scan, tuple(item.size), item.name)
    return PIECES[item.kind].parts(item.size, item.open)


def flats_of(item):
    """Flats of a piece as it stands in the room: its shade, its mirror.

    Parameters
    ----------
    item : moth.document.Furniture

    Returns
    -------
    list of Flat
        With places and directions of the room.

    Examples
    --------
    >>> from moth.document import Furniture
    >>> glass = Furniture(id="m", name="Mirror", kind="wall-mirror", position=(2, 3, 1),
    ...     size=(0.7, 0.03, 1.0), turn=90)
    >>> [[round(v, 3) + 0.0 for v in flat.facing] for flat in flats_of(glass)]
    [[-1.0, 0.0, 0.0]]
    """
    c, s = math.cos(math.radians(item.turn)), math.sin(math.radians(item.turn))
    x, y, z = item.position
    return [
        replace(
            flat,
            centre=(
                x + c * flat.centre[0] - s * flat.centre[1],
                y + s * flat.centre[0] + c * flat.centre[1],
                z + flat.centre[2],
            ),
            facing=(
                c * flat.facing[0] - s * flat.facing[1],
                s * flat.facing[0] + c * flat.facing[1],
                flat.facing[2],
            ),
        )
        for flat in ([] if item.scan else PIECES[item.kind].flats(*item.size))
    ]


class Shape(NamedTuple):
    """The outside of a piece in its own axes, each triangle with corners of its own."""

    vertices: np.ndarray
    """(3 m, 3) [m], three after three."""
    normals: np.ndarray
    """(3 m, 3)"""
    second: np.ndarray
    """(m,) whether it is of the second surface."""
    shade: np.ndarray
    """(m,) how much lighter or darker than its surface it is."""


EDGE = 0.4
"""Longest edge of a piece's triangles [m]."""
ROUND = 20
"""Sides of a round part of a piece."""


def edge_of(kind, size):
    """Longest edge of a piece's triangles and patches [m]; a house takes longer ones than a chair.

    Examples
    --------
    >>> edge_of("chair", (0.4, 0.4, 0.9)), edge_of("house", (12, 8, 6))
    (0.4, 2.0)
    """
    return max(EDGE, max(size) / 6) if PIECES[kind].outside else EDGE


@cached("shapes of furniture")
def shape_of(kind, size, open=0.0):
    """What is seen of a piece: where its parts touch or run into each other there is no surface.

    A face that stands against another would count among the patch that it is of, and be dark.

    Parameters
    ----------
    kind : str
        Key of :data:`PIECES`.
    size : tuple of float
        [m]
    open : float
        How far its leaf is open [deg].

    Returns
    -------
    Shape

    Examples
    --------
    >>> shape = shape_of("bench", (1.0, 0.4, 0.5))
    >>> len(shape.normals) == len(shape.vertices) == 3 * len(shape.second)
    True
    """
    parts = PIECES[kind].parts(size, open)
    solids = [_manifold(part) for part in parts]
    mesh = (
        Manifold.batch_boolean(solids, OpType.Add).refine_to_length(edge_of(kind, size)).to_mesh()
    )
    corners = mesh.vert_properties[mesh.tri_verts].astype(float)
    flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    area = np.linalg.norm(flat, axis=1)
    # Splinters of no area have no side.
    kept = area > 1e-10
    whose = np.repeat(
        [[s.original_id() for s in solids].index(k) for k in mesh.run_original_id],
        np.diff(mesh.run_index) // 3,
    )
    corners, whose = corners[kept], whose[kept]
    normals = np.repeat((flat[kept] / area[kept, None])[:, None], 3, axis=1)
    for at, part in enumerate(parts):
        mine = np.flatnonzero(whose == at)
        if part.kind == "cylinder":
            mine = mine[np.abs(normals[mine, 0, 2]) < 0.5]
        if part.kind != "box":
            normals[mine] = _rounded(part, corners[mine])
    return Shape(
        corners.reshape(-1, 3),
        normals.reshape(-1, 3),
        np.array([part.second for part in parts])[whose],
        np.array([part.shade for part in parts])[whose],
    )


STEP = 2.0**-16
"""Corners are set to whole steps of this [m]: parts that touch share a face to the last bit, or it
would stay within, though their places come by other sums.
"""


def _manifold(part):
    solid = {
        "box": lambda: Manifold.cube((1, 1, 1), True).translate((0, 0, 0.5)),
        "cylinder": lambda: Manifold.cylinder(1, 0.5, 0.5, ROUND),
        "ball": lambda: Manifold.sphere(0.5, ROUND).translate((0, 0, 0.5)),
    }[part.kind]()
    placed = solid.scale(part.size).rotate((0, 0, part.turn)).translate(part.position)
    return placed.warp_batch(lambda corners: np.round(corners / STEP) * STEP).as_original()


def _rounded(part, corners):
    """Normals of a cylinder's side or a ball at places on it (m, 3, 3)."""
    c, s = math.cos(math.radians(part.turn)), math.sin(math.radians(part.turn))
    half = np.asarray(part.size) / 2
    off = corners - part.position - [0, 0, half[2]]
    own = np.stack(
        [
            (c * off[..., 0] + s * off[..., 1]) / half[0] ** 2,
            (c * off[..., 1] - s * off[..., 0]) / half[1] ** 2,
            off[..., 2] / half[2] ** 2 if part.kind == "ball" else np.zeros_like(off[..., 2]),
        ],
        -1,
    )
    out = np.stack(
        [
            c * own[..., 0] - s * own[..., 1],
            s * own[..., 0] + c * own[..., 1],
            own[..., 2],
        ],
        -1,
    )
    return out / np.maximum(np.linalg.norm(out, axis=-1, keepdims=True), 1e-12)


def _own(item, points):
    """Points of the room in the axes of a piece."""
    c, s = math.cos(math.radians(item.turn)), math.sin(math.radians(item.turn))
    off = points - item.position
    return np.stack([c * off[:, 0] + s * off[:, 1], c * off[:, 1] - s * off[:, 0], off[:, 2]], 1)


def inside(item, points):
    """Whether points are inside a piece: inside one of its parts.

    Parameters
    ----------
    item : moth.document.Furniture
    points : ndarray, shape (n, 3)

    Returns
    -------
    ndarray of bool, shape (n,)

    Examples
    --------
    >>> from moth.document import Furniture
    >>> table = Furniture(id="t", name="Table", kind="table", position=(2, 3, 0), size=(2, 1, 0.75))
    >>> inside(table, np.array([[2, 3, 0.4], [2, 3, 0.74]])).tolist()
    [False, True]
    """
    if item.scan:
        return inside_scan(item.scan, tuple(item.size), _own(item, points), item.name)
    solid = _solids(item.kind, tuple(item.size), item.open)
    off = _own(item, points)[:, None] - solid.middle
    c, s = np.cos(solid.turn), np.sin(solid.turn)
    x = c * off[..., 0] + s * off[..., 1]
    y = c * off[..., 1] - s * off[..., 0]
    u = np.stack([x, y, off[..., 2]], -1) / solid.half
    boxes = (np.abs(u) < 1).all(-1)
    balls = (u**2).sum(-1) < 1
    drums = (np.hypot(u[..., 0], u[..., 1]) < 1) & (np.abs(u[..., 2]) < 1)
    of = np.where(solid.kind == "box", boxes, np.where(solid.kind == "ball", balls, drums))
    return of.any(1)


class _Solids(NamedTuple):
    """Parts of a piece in its own axes, p of them."""

    kind: np.ndarray
    middle: np.ndarray
    """Shape (p, 3) [m]."""
    half: np.ndarray
    """Half of each size, shape (p, 3) [m]."""
    turn: np.ndarray
    """[rad]"""


@lru_cache(maxsize=256)
def _solids(kind, size, leaf):
    """What a piece is made of, as arrays: a shelf of books has a hundred parts, and every move of a
    lamp asks whether it stands in one of them.
    """
    parts = PIECES[kind].parts(size, leaf)
    half = np.array([part.size for part in parts], float) / 2
    middle = np.array([part.position for part in parts], float) + half * (0, 0, 1)
    turn = np.radians([part.turn for part in parts])
    return _Solids(np.array([part.kind for part in parts]), middle, half, turn)
