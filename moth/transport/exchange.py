"""Light from surface to surface: links between patches, and the balance they come to."""

import numpy as np
from scipy.sparse import csr_matrix

from ..world.keys import Keyed, kept
from .walks import hemisphere, patch_samples, walk

PLAIN_RAYS, SHEET_RAYS = 256, 640
"""Rays a patch is linked by: of walls, furniture and people; of grip, which passes on the light that counts."""
ORDERS, LEFT = 60, 1e-4
"""The balance is stepped until less than this part is still under way, and never longer than so many orders."""


def samples(world, chosen, count):
    """Places and unit normals on patches, `count` each, spread evenly; shapes (len(chosen) * count, 3)."""
    mesh, p = world.mesh, world.patches
    origins, normals = np.empty((len(chosen) * count, 3)), np.empty((len(chosen) * count, 3))
    patch_samples(mesh.vertices, mesh.faces, mesh.flat, p.triangle, p.share, p.start, p.side, np.asarray(chosen), count, origins, normals)
    return origins, normals


@kept(6)
def _links(keyed):
    world = keyed.value
    p = world.patches
    on_earth = np.flatnonzero(p.sky[:, 2] == 0)
    rows, columns, values = [], [], []
    for chosen, count in ((on_earth[p.sheet[on_earth] < 0], PLAIN_RAYS), (on_earth[p.sheet[on_earth] >= 0], SHEET_RAYS)):
        for some in np.array_split(chosen, max(1, len(chosen) * count // 200_000)):
            if not len(some):
                continue
            origins, normals = samples(world, some, count)
            directions = np.empty_like(origins)
            # One ray from each place: the sequence of places and that of directions are independent.
            spread_directions(normals[::count], count, directions, int(some[0]))
            for owner, patch, weight in walk(world, origins, directions, np.repeat(np.arange(len(some)), count)):
                rows.append(some[owner])
                columns.append(patch)
                values.append(weight / count)
    n = len(p)
    return csr_matrix((np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), shape=(n, n), dtype=np.float32)


def spread_directions(normals, count, directions, seed=0):
    """Cosine-spread directions; see :func:`moth.transport.walks.hemisphere`."""
    hemisphere(normals, count, False, seed, directions)


def links(world):
    """Share of each patch's view that every other patch takes up, cached by world.

    Parameters
    ----------
    world : moth.world.World

    Returns
    -------
    scipy.sparse.csr_matrix, shape (p, p)
        Form factors, row by row from a patch outward: light on patch i is the sum over j of F[i, j] times
        the radiosity of j. In a closed room each row sums to one, and to less only past cloth and in mirrors.
    """
    return _links(Keyed(world.key, world))


def balance(world, given):
    """Radiosity of all patches from what lamps bring to them.

    Parameters
    ----------
    world : moth.world.World
    given : ndarray, shape (p, 3)
        Radiosity that comes straight from lamps, reflected or let through once, or emitted [lm/m^2].

    Returns
    -------
    ndarray, shape (p, 3)
        Radiosity with all orders of exchange.

    References
    ----------
    Goral et al., "Modeling the interaction of light between diffuse surfaces", SIGGRAPH 1984.
    """
    p, f = world.patches, links(world)
    total, moving = given.copy(), given
    for _ in range(ORDERS):
        arrived = f @ moving
        moving = p.albedo * arrived + p.through * arrived[p.other]
        total += moving
        if moving.sum() <= LEFT * total.sum():
            break
    return total
