"""Furniture as triangles: what is seen of a piece where it stands, in patches of one paint."""

from typing import NamedTuple

import numpy as np

from ..place import SOLIDS, edge_of, scan_of, shape_of
from .figures import placed, surface_albedo
from .normals import smooth_normals
from .patches import clusters, even, rectangle


class Body(NamedTuple):
    """What is seen of a piece of furniture, in the room [m]."""

    vertices: np.ndarray
    """(n, 3)"""
    faces: np.ndarray
    """(m, 3)"""
    normals: np.ndarray
    """(n, 3) unit, for shading."""
    albedo: np.ndarray
    """(n, 3) linear BT.709."""
    gloss: np.ndarray
    """(m,) whether it is polished."""
    cell: np.ndarray
    """(m,) patch of each triangle, numbered from 0."""
    closed: bool
    """Whether nobody sees its inside."""


def body_of(item):
    """A piece of furniture as it stands in the room.

    Parameters
    ----------
    item : moth.document.Furniture

    Returns
    -------
    Body

    Raises
    ------
    moth.errors.DocumentError
        For a scan that is not on this machine.

    Examples
    --------
    >>> from moth.document import Furniture
    >>> crate = Furniture(id="c", name="Crate", position=(1, 2, 0), size=(0.5, 0.4, 0.3))
    >>> body_of(crate).vertices.min(0).tolist()
    [0.75, 1.8, 0.0]
    """
    if item.scan:
        own = _scan(item)
    elif item.kind in SOLIDS:
        own = _solid(item)
    else:
        own = _made(item)
    return own._replace(
        vertices=placed(own.vertices, item.position[:2], item.turn) + [0, 0, item.position[2]],
        normals=placed(own.normals, (0, 0), item.turn),
        albedo=np.broadcast_to(own.albedo, own.vertices.shape),
        gloss=own.gloss | (item.gloss > 0.5),
    )


def _made(item):
    """Of one of our own kinds, in its own axes."""
    vertices, normals, second, shade = shape_of(item.kind, tuple(item.size), item.open)
    faces = np.arange(len(vertices)).reshape(-1, 3)
    cell = clusters(vertices, faces, edge_of(item.kind, item.size), sectors=True)
    # A patch is of one paint: the lid of a lamp is not its arm.
    _, cell = np.unique(2 * cell + second, return_inverse=True)
    paint = np.where(
        second[:, None], surface_albedo(item.second or item.surface), surface_albedo(item.surface)
    )
    albedo = np.repeat(np.minimum(paint * shade[:, None], 0.95), 3, axis=0)
    return Body(vertices, faces, normals, albedo, np.zeros(len(faces), bool), cell, True)


FINE, PATCHES = 0.25, 300
"""Least side of a scan's patches [m], and how many they are at most; twice as many where both its
sides are seen.
"""
CREASE = 0.7
"""Cosine between a triangle and the smooth surface about it below which there is an edge [45°]."""
SHADES = 3
"""Steps by which the paints of a scan's patches are told apart, for each colour; so coarse that
they do not fall to crumbs.
"""


def _scan(item):
    """Of what was brought in, in its own axes."""
    scan = scan_of(item.scan, item.name)
    own = scan.scaled(item.size)
    vertices = own[scan.faces].reshape(-1, 3)
    faces = np.arange(len(vertices)).reshape(-1, 3)
    flat = smooth_normals(vertices, faces)
    smooth = smooth_normals(own, scan.faces)[scan.faces].reshape(-1, 3)
    normals = np.where((flat * smooth).sum(1)[:, None] > CREASE, smooth, flat)
    if item.second:
        albedo = np.broadcast_to(surface_albedo(item.second), vertices.shape)
    else:
        albedo = scan.albedo.reshape(-1, 3)
    shade = np.round(SHADES * np.sqrt(albedo.reshape(-1, 3, 3).mean(1))) @ (1, 10, 100)
    size = FINE
    while True:
        cell = clusters(vertices, faces, size)
        _, cell = np.unique(1000 * cell + shade, return_inverse=True)
        if cell.max() < PATCHES or size > 50:
            break
        size *= 1.3
    return Body(vertices, faces, normals, albedo, scan.gloss, cell, scan.closed)


def _faceted(corners, faces):
    """Vertices apart for every triangle, with flat normals."""
    vertices = corners[faces].reshape(-1, 3)
    faces = np.arange(len(vertices), dtype=np.int32).reshape(-1, 3)
    return vertices, faces, smooth_normals(vertices, faces)


def _ball(rings=24, around=48):
    t, a = np.meshgrid(
        np.linspace(0, np.pi, rings),
        np.linspace(0, 2 * np.pi, around, endpoint=False),
        indexing="ij",
    )
    vertices = np.stack([np.sin(t) * np.cos(a), np.sin(t) * np.sin(a), np.cos(t)], -1).reshape(
        -1, 3
    )
    k = np.arange(around)
    faces = np.concatenate(
        [
            np.concatenate(
                [
                    np.stack([r + k, r + k + around, r + (k + 1) % around + around], 1),
                    np.stack([r + k, r + (k + 1) % around + around, r + (k + 1) % around], 1),
                ]
            )
            for r in range(0, (rings - 1) * around, around)
        ]
    )
    return vertices / 2 + [0, 0, 0.5], faces


def _cylinder(around=48):
    a = np.linspace(0, 2 * np.pi, around, endpoint=False)
    ring = np.stack([np.cos(a) / 2, np.sin(a) / 2, 0 * a], 1)
    k, n = np.arange(around), (np.arange(around) + 1) % around
    side_v = np.concatenate([ring, ring + [0, 0, 1]])
    side = np.concatenate(
        [np.stack([k, n, n + around], 1), np.stack([k, n + around, k + around], 1)]
    )
    caps_v = np.concatenate([side_v, [[0, 0, 0], [0, 0, 1]]])
    bottom = np.stack([np.full(around, 2 * around), n, k], 1)
    top = np.stack([np.full(around, 2 * around + 1), k + around, n + around], 1)
    flat_v, flat_f, flat_n = _faceted(caps_v, np.concatenate([bottom, top]))
    normals = np.concatenate([np.concatenate([ring, ring]) * 2, flat_n])
    return np.concatenate([side_v, flat_v]), np.concatenate([side, flat_f + len(side_v)]), normals


def _solid(item):
    """Of a plain solid, in its own axes."""
    size, albedo = np.asarray(item.size), surface_albedo(item.surface)
    if item.kind == "box":
        vertices, faces, normals, cell = _box_cells(item)
    else:
        if item.kind == "ball":
            vertices, faces = _ball()
            normals = (vertices - [0, 0, 0.5]) * 2
        else:
            vertices, faces, normals = _cylinder()
        normals = normals / size
        normals /= np.linalg.norm(normals, axis=1, keepdims=True)
        vertices = vertices * size
        cell = clusters(vertices, faces, 0.4, sectors=True)
    return Body(vertices, faces, normals, albedo, np.zeros(len(faces), bool), cell, True)


FACES = {  # corner, along, up in parts of the room's box
    "floor": ((0, 0, 0), (1, 0, 0), (0, 1, 0)),
    "ceiling": ((0, 0, 1), (0, 1, 0), (1, 0, 0)),
    "south": ((0, 0, 0), (0, 0, 1), (1, 0, 0)),
    "north": ((0, 1, 0), (1, 0, 0), (0, 0, 1)),
    "west": ((0, 0, 0), (0, 1, 0), (0, 0, 1)),
    "east": ((1, 0, 0), (0, 0, 1), (0, 1, 0)),
}


def _box_cells(item):
    """A box's faces cut into patches of about half a metre at most."""
    size = np.asarray(item.size, float)
    vertices, faces, normals, cells, at, first = [], [], [], [], 0, 0
    for corner, along, up in FACES.values():
        a, u = np.array(up) * size, np.array(along) * size  # the other way round: outward
        nu, nv = (min(8, max(1, round(float(np.linalg.norm(side)) / 0.4))) for side in (a, u))
        v, f, c = rectangle((np.array(corner) - [0.5, 0.5, 0]) * size, a, u, even(nu), even(nv))
        vertices.append(v)
        faces.append(f + first)
        cells.append(c + at)
        n = np.cross(a, u)
        normals.append(np.tile(n / np.linalg.norm(n), (len(v), 1)))
        first, at = first + len(v), at + nu * nv
    return (
        np.concatenate(vertices),
        np.concatenate(faces),
        np.concatenate(normals),
        np.concatenate(cells),
    )
