"""Light that leaves cells of cloth and wall followed ray by ray, from the cells' side: what a few
places of a patch cannot tell, for so little of it is lit.
"""

import numpy as np

from ..colour import LUMINANCE
from ..materials import lobe_concentration
from .operands import Cells
from .patterns import drawn_ways, frames
from .shots import LEGS, even_sequence, followed

LIFTED = 2e-4
"""Rays leave so far before their cell [m]: farther than sheets are thick."""


def lobe_shots(world, lobes):
    """Where the light of lobes falls, straight, past cloth and by way of mirrors.

    Parameters
    ----------
    world : moth.world.World
    lobes : sequence of Cells

    Returns
    -------
    Shots
    """
    cells = _joined(lobes)
    power = cells.power @ LUMINANCE
    row, off, (u, v) = _places(cells, power)
    way = np.empty((len(row), 3))
    plain = ~cells.shaped[row]
    # Over a cell the axis turns as if its light came from the cell's reach.
    axis = cells.axis[row] + off / cells.reach[row, None]
    axis /= np.maximum(np.linalg.norm(axis, axis=1, keepdims=True), 1e-12)
    way[plain] = lobe_ways(axis[plain], cells.kappa[row[plain]], u[plain], v[plain])
    if not plain.all():
        shaped = np.flatnonzero(~plain)
        local = drawn_ways(cells.pattern, row[shaped], u[shaped], v[shaped])
        way[shaped] = np.einsum("nij,ni->nj", frames(cells)[row[shaped]], local)
    place = cells.middle[row] + off + LIFTED * cells.normal[row]
    flux = np.full(len(row), power.sum() / len(row))
    out = np.flatnonzero((way * cells.normal[row]).sum(1) > 0)
    return followed(world, place[out], way[out], flux[out])


def turned_light(world, cells):
    """What cells send evenly and cloths or mirrors turn on its way, where it falls.

    Parameters
    ----------
    world : moth.world.World
    cells : sequence of Cells

    Returns
    -------
    ndarray, shape (p, 3)
        Illuminance of the patches [lx].
    """
    cells = _joined(cells)
    flux = np.pi * cells.flux
    row, off, (u, v) = _places(cells, flux @ LUMINANCE)
    frame = frames(cells)[row]
    r, turn = np.sqrt(u), 2 * np.pi * v
    local = np.stack([r * np.cos(turn), r * np.sin(turn), np.sqrt(1 - u)], 1)
    # Along and up of a cell need not be square to each other.
    frame[:, 1] = np.cross(frame[:, 2], frame[:, 0])
    way = np.einsum("nij,ni->nj", frame, local)
    place = cells.middle[row] + off + LIFTED * cells.normal[row]
    count = np.bincount(row, minlength=len(flux))
    return _turned(world, place, way, (flux / np.maximum(count, 1)[:, None])[row])


def _turned(world, place, way, flux):
    mesh, p, rng = world.mesh, world.patches, np.random.default_rng(5)
    names = ("straight", "forward", "lobe", "mirror")
    shares = np.array([[getattr(s.material, n) for n in names] for s in world.sheets])
    widths = ("forward_width", "lobe_width")
    kappa = np.array(
        [[lobe_concentration(getattr(s.material, w)) for w in widths] for s in world.sheets]
    )
    turned = np.zeros(len(place), bool)
    lit = np.zeros((len(p), 3))
    for _ in range(LEGS):
        primitive, distance = world.rays.nearest(
            np.asarray(place, np.float32), np.asarray(way, np.float32)
        )
        flux = flux * world.left_by_air(distance)[:, None]
        slant = (way * mesh.flat[primitive]).sum(1)
        patch = np.where(slant < 0, mesh.front[primitive], mesh.back[primitive])
        told = turned & (primitive >= 0) & (patch >= 0)
        for c in range(3):
            lit[:, c] += np.bincount(patch[told], flux[told, c], len(p))
        on = np.flatnonzero((primitive >= 0) & (mesh.sheet[primitive] >= 0))
        sheet, normal, slant = mesh.sheet[primitive[on]], mesh.flat[primitive[on]], slant[on]
        place, way = place[on] + distance[on, None] * way[on], way[on]
        running = np.cumsum(shares[sheet], 1)
        flux = flux[on] * running[:, -1:]
        fate = (rng.random(len(on))[:, None] * running[:, -1:] >= running[:, :-1]).sum(1)
        back = fate >= 2
        way = way - np.where(back, 2 * slant, 0)[:, None] * normal
        for share, column in ((1, 0), (2, 1)):
            some = np.flatnonzero(fate == share)
            u, v = rng.random((2, len(some)))
            way[some] = lobe_ways(way[some], kappa[sheet[some], column], u, v)
        turned = turned[on] | (fate > 0)
        # What a lobe would send into the sheet itself is lost.
        side = np.sign(slant) * np.where(back, -1, 1)
        kept = ((way * normal).sum(1) * side > 0) & flux.any(1)
        place, way, flux, turned = place[kept], way[kept], flux[kept], turned[kept]
        place = place + 1e-4 * way
        if not len(place):
            break
    return lit / p.area[:, None]


def lobe_ways(axis, kappa, u, v):
    """Ways of von Mises-Fisher lobes.

    Parameters
    ----------
    axis : ndarray, shape (n, 3)
        Unit vectors.
    kappa : ndarray, shape (n,)
    u, v : ndarray, shape (n,)
        Numbers 0..1.

    Returns
    -------
    ndarray, shape (n, 3)
        Unit vectors.

    References
    ----------
    Jakob, "Numerically stable sampling of the von Mises Fisher distribution on S2" (2012).

    Examples
    --------
    >>> lobe_ways(np.array([[0.0, 0.0, 1.0]]), np.array([50.0]), np.ones(1), np.zeros(1)).tolist()
    [[0.0, 0.0, 1.0]]
    """
    cosine = 1 + np.log(np.maximum(u + (1 - u) * np.exp(-2 * kappa), 1e-300)) / kappa
    sine = np.sqrt(np.maximum(1 - cosine**2, 0))
    other = np.where(np.abs(axis[:, 2:]) < 0.9, [[0.0, 0.0, 1.0]], [[1.0, 0.0, 0.0]])
    a = np.cross(axis, other)
    a /= np.maximum(np.linalg.norm(a, axis=1, keepdims=True), 1e-12)
    b = np.cross(axis, a)
    turn = 2 * np.pi * v
    aside = np.cos(turn)[:, None] * a + np.sin(turn)[:, None] * b
    return cosine[:, None] * axis + sine[:, None] * aside


def _joined(many):
    """Cells of several sources as one."""
    nodes = max(c.pattern.shape[1] for c in many)

    def field(name):
        rows = [getattr(c, name) for c in many]
        if name == "pattern":
            rows = [
                r if r.shape[1] == nodes else np.zeros((len(r), nodes, nodes), r.dtype)
                for r in rows
            ]
        return np.concatenate(rows)

    return Cells(*(field(name) for name in Cells._fields))


def _places(cells, weight):
    """Cells by their weight, one place of each a ray: (row, off its middle [m], two more even
    numbers).
    """
    s, t, u, v = even_sequence().T
    n = len(s)
    pick = (np.arange(n) + 0.5) / n * weight.sum()
    row = np.minimum(np.searchsorted(np.cumsum(weight), pick), len(weight) - 1)
    off = (2 * s - 1)[:, None] * cells.along[row] + (2 * t - 1)[:, None] * cells.up[row]
    return row, off, (u, v)
