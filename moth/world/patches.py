"""The surfaces cut into patches: what light is exchanged between."""

from dataclasses import dataclass
from itertools import pairwise
from typing import NamedTuple

import numpy as np
import shapely

from .covered import middles_open, share_open
from .normals import middles

FINEST, MOST = 0.30, 900
"""Least side of a wall's patch [m], and about how many a room is cut into."""


@dataclass(frozen=True)
class Patches:
    """Pieces of surface of about even light. A sheet has two sets, front and back."""

    area: np.ndarray
    """(p,) of what is open of it [m^2]."""
    albedo: np.ndarray
    """(p, 3) diffuse, linear BT.709."""
    through: np.ndarray
    """(p, 3) diffuse share that arrives from the other side."""
    other: np.ndarray
    """(p,) patch on the other side; itself for what is not a sheet."""
    sheet: np.ndarray
    """(p,) index of the sheet, -1 for none."""
    side: np.ndarray
    """(p,) 1 front, -1 back."""
    triangle: np.ndarray
    """(t,) triangles in the order of their patches."""
    open: np.ndarray
    """(t,) which parts of each are not covered by furniture; see :mod:`moth.world.covered`."""
    share: np.ndarray
    """(t,) running part of the patch's area, 0..1, at the end of each."""
    start: np.ndarray
    """(p + 1,) where each patch begins in `triangle`."""
    middle: np.ndarray
    """(p, 3) of what is open [m]."""
    sky: np.ndarray
    """(p, 3) middle of a patch of sky seen from the ground, zero for all else."""
    planar: np.ndarray
    """(p,) whether all of it lies in one plane."""

    def __len__(self):
        return len(self.area)

    def arrived(self, radiosity, chosen):
        """Illuminance that patches' radiosity tells: what a cloth's two faces send tells what fell
        on each.

        B = a E + t E' before a cloth and B' = a E' + t E behind it are two equations for the light
        on both faces.

        Parameters
        ----------
        radiosity : ndarray, shape (p, 3)
            Of all patches [lm/m^2].
        chosen : ndarray of int, shape (n,)

        Returns
        -------
        ndarray, shape (n, 3)
            [lx]; 0 where a face sends back just what it lets through, which tells nothing, or is
            nearly black.
        """
        a, t = self.albedo[chosen], self.through[chosen]
        det = a * a - t * t
        known = (np.abs(det) > 1e-6) & (a + t > 0.05)
        return np.where(
            known,
            np.maximum(
                (a * radiosity[chosen] - t * radiosity[self.other[chosen]])
                / np.where(known, det, 1.0),
                0,
            ),
            0.0,
        )


def cell_size(area):
    """Side of a wall's patches [m] for a room of so much surface [m^2].

    Examples
    --------
    >>> cell_size(60), round(cell_size(900), 2)
    (0.3, 1.0)
    """
    return max(FINEST, float(np.sqrt(area / MOST)))


def even(count):
    """Cuts of a side into equal parts.

    Examples
    --------
    >>> even(2).tolist()
    [0.0, 0.5, 1.0]
    """
    return np.linspace(0, 1, count + 1)


def cuts(length, cell, at=()):
    """Cuts of a side of a wall into parts of about `cell`, with cuts where something begins or
    ends.

    A patch half behind a window would be half dark, and look so on its open half.

    Parameters
    ----------
    length, cell : float
        [m]
    at : sequence of float
        Places along the side that must be cuts [m]; those outside it are left out.

    Returns
    -------
    ndarray
        0 to 1, rising.

    Examples
    --------
    >>> cuts(2.0, 1.0).tolist(), cuts(2.0, 1.0, [0.5]).tolist()
    ([0.0, 0.5, 1.0], [0.0, 0.25, 0.625, 1.0])
    """
    ends = [0.0, *sorted({round(k, 4) for k in at if 0.01 < k < length - 0.01}), length]
    parts = [
        np.linspace(a, b, max(1, round((b - a) / cell)) + 1)[1:]
        for a, b in pairwise(ends)
        if b - a > 1e-3
    ]
    return np.concatenate([[0.0], *parts]) / length


def rectangle(corner, along, up, us, vs):
    """Triangles of a rectangle cut into cells: vertices, faces, and the cell of each face.

    Examples
    --------
    >>> v, f, cell = rectangle(np.zeros(3), np.array([2.0, 0, 0]), np.array([0, 1.0, 0]), even(2),
    ...     even(1))
    >>> v.shape, f.shape, cell.tolist()
    ((6, 3), (4, 3), [0, 0, 1, 1])
    """
    nu, nv = len(us) - 1, len(vs) - 1
    u, v = np.meshgrid(us, vs, indexing="ij")
    vertices = corner + u.reshape(-1, 1) * along + v.reshape(-1, 1) * up
    i, j = (k.ravel() for k in np.meshgrid(np.arange(nu), np.arange(nv), indexing="ij"))
    a = i * (nv + 1) + j
    b, c, d = a + nv + 1, a + nv + 2, a + 1
    faces = np.stack([np.stack([a, b, c], 1), np.stack([a, c, d], 1)], 1).reshape(-1, 3)
    return vertices, faces, np.repeat(np.arange(nu * nv), 2)


def within_outline(vertices, faces, cells, corners):
    """The part of a level rectangle's cells that an outline leaves.

    Parameters
    ----------
    vertices, faces, cells : ndarray
        As :func:`rectangle` gives them.
    corners : sequence of (float, float)
        The outline, counter-clockwise [m].

    Returns
    -------
    tuple of ndarray
        The same of what is left, cells numbered anew.

    Examples
    --------
    >>> plain = rectangle(np.zeros(3), np.array([2.0, 0, 0]), np.array([0, 2.0, 0]), even(2),
    ...     even(2))
    >>> v, f, cell = within_outline(*plain, [(0, 0), (2, 0), (2, 1), (1, 1), (1, 2), (0, 2)])
    >>> len(f), int(cell.max()) + 1
    (6, 3)
    """
    plan = shapely.Polygon(corners)
    shapely.prepare(plan)
    # A rectangle's triangles come by twos, a cell each.
    quads = [
        shapely.Polygon(vertices[[*faces[k], faces[k + 1][2]], :2]) for k in range(0, len(faces), 2)
    ]
    kept_v, kept_f, kept_c, count, first = [vertices], [], [], 0, len(vertices)
    up = np.cross(*(vertices[faces[0, k]] - vertices[faces[0, 0]] for k in (1, 2)))[2] > 0
    for at, quad in enumerate(quads):
        if plan.covers(quad):
            kept_f.append(faces[2 * at : 2 * at + 2])
            kept_c.append(np.full(2, count))
            count += 1
            continue
        left = quad.intersection(plan)
        if left.area < LEAST_PART * quad.area:
            continue
        triangles = [
            np.array(t.exterior.coords)[:3]
            for t in shapely.constrained_delaunay_triangles(left).geoms
        ]
        for t in triangles:
            (ax, ay), (bx, by) = t[1] - t[0], t[2] - t[0]
            t = t if (ax * by - ay * bx > 0) == up else t[::-1]
            kept_v.append(np.column_stack([t, np.full(3, vertices[0, 2])]))
            kept_f.append(np.arange(first, first + 3)[None])
            kept_c.append(np.full(1, count))
            first += 3
        count += bool(triangles)
    return (
        np.concatenate(kept_v),
        np.concatenate(kept_f),
        np.concatenate(kept_c),
    )


LEAST_PART = 1e-7
"""Part of a cell below which what the outline leaves of it is left out."""


SECTOR = 0.38
"""Part of a triangle's normal along an axis from which it faces that way too: sectors of 45°."""
DEEP, SQUARE = 4, 0.999
"""What faces along an axis, to so near a cosine, is sorted by so many parts of a cube that way."""
NO_AREA = 1e-12
"""Twice the area of a triangle that is none [m^2]."""


def clusters(vertices, faces, size, sectors=False):
    """Triangles of a body gathered by place and by the way they face: cluster of each.

    Parameters
    ----------
    vertices, faces : ndarray
    size : float
        Side of the cubes they are sorted into [m].
    sectors : bool
        Whether the ways are told by eighths of a turn and not by quarters.

    Returns
    -------
    ndarray of int, shape (m,)
    """
    corners = vertices[faces]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    length = np.linalg.norm(normal, axis=1)
    axis = np.abs(normal).argmax(1)
    facing = axis * 2 + (np.take_along_axis(normal, axis[:, None], 1)[:, 0] < 0)
    if sectors:
        unit = normal / np.maximum(length, NO_AREA)[:, None]
        facing = (np.sign(unit) * (np.abs(unit) > SECTOR) + 1).astype(int) @ (9, 3, 1)
        # A pole's triangles, which have no area, face nowhere: they go with those before them.
        like = np.maximum.accumulate(np.where(length > NO_AREA, np.arange(len(faces)), 0))
        facing = facing[like]
    middle = middles(corners)
    from_low = middle - middle.min(0)
    cube = np.floor(from_low / size).astype(int)
    if sectors:
        # A shelf's back is not lit as its boards' edges before it.
        at = np.flatnonzero(np.abs(normal).max(1) > SQUARE * length)
        cube[at, axis[at]] = from_low[at, axis[at]] / (size / DEEP)
    key = ((cube[:, 0] * 1000 + cube[:, 1]) * 1000 + cube[:, 2]) * 27 + facing
    return np.unique(key, return_inverse=True)[1]


class Sides(NamedTuple):
    """What is known of each patch; see :class:`Patches`."""

    through: np.ndarray
    other: np.ndarray
    sheet: np.ndarray
    side: np.ndarray
    sky: np.ndarray


def gather_patches(vertices, faces, front, albedo, masks, sides):
    """Patches from the triangles' numbers; the index arrays are made here.

    `front` (m,) is the patch of each triangle, `masks` (m,) what is open of it, `sides` a
    :class:`Sides`; a sheet's back patches lie on the same triangles as its `other`.
    """
    through, other, sheet, side, sky = sides
    corners = vertices[faces]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    double = np.linalg.norm(normal, axis=1)
    normal /= np.maximum(double, NO_AREA)[:, None]
    area = double / 2
    count = len(other)
    back = np.flatnonzero(side < 0)
    # Back patches repeat the triangles of their fronts.
    whose = np.where(side < 0, other, np.arange(count))
    order = np.argsort(front, kind="stable")
    starts = np.searchsorted(front[order], np.arange(count + 1))
    many = np.diff(starts)[whose]
    start = np.concatenate([[0], np.cumsum(many)])
    owner = np.repeat(np.arange(count), many)
    triangle = order[np.arange(start[-1]) + (starts[whose] - start[:-1])[owner]]
    # What is covered but for a chink keeps that much: a ray that finds the chink would make it
    # glow.
    bare = area * np.maximum(share_open(masks), LEAST_OPEN)
    total = np.maximum(np.bincount(owner, bare[triangle], count), 1e-9)
    # Rounding must not leave a patch whose running share ends below one.
    running = np.concatenate([[0.0], np.cumsum(bare[triangle])])
    share = np.clip((running[1:] - running[start[:-1]][owner]) / total[owner], 0.0, 1.0)
    share[start[1:] - 1] = 1.0
    weighted = np.stack([np.bincount(front, k, count) for k in (albedo * area[:, None]).T], 1)
    own = np.bincount(front, area, count)
    mean = weighted / np.maximum(own, 1e-12)[:, None]
    mean[back] = mean[other[back]]
    moment = bare[triangle, None] * middles_open(corners, masks)[triangle]
    middle = np.stack([np.bincount(owner, moment[:, k], count) for k in range(3)], 1)
    return Patches(
        total,
        mean,
        through,
        other,
        sheet,
        side,
        triangle,
        masks[triangle],
        share,
        start,
        middle / total[:, None],
        sky,
        _planar(corners[triangle], normal[triangle], owner, count),
    )


LEAST_OPEN = 1 / 128
"""Part of a triangle that counts as open where none was found open."""


def _planar(corners, normal, patch, count):
    """Which patches have all their triangles (t, 3, 3) in one plane."""
    first = np.searchsorted(patch, np.arange(count))
    alike = (normal * normal[first[patch]]).sum(1) > 0.9999
    off = middles(corners) - corners[first[patch], 0]
    alike &= np.abs((off * normal[first[patch]]).sum(1)) < 1e-4
    return np.bincount(patch, ~alike, count) == 0
