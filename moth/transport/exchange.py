"""Light from surface to surface: links between patches, and the balance they come to."""

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.linalg import LinearOperator, gmres

from ..engine.caching import Keyed, cached
from .walks import hemisphere, outline_of, patch_samples, walk

PLAIN_RAYS, SHEET_RAYS = 256, 640
"""Rays a patch is linked by: of walls, furniture and people; of grip, which passes on the light
that counts.
"""
WHOLE = 2500
"""Worlds of up to so many patches keep their links as a full matrix: a fifth of them are not zero,
and it is stepped four times as fast.
"""
LEFT, STEPS = 1e-5, 60
"""The balance is solved until less than this part is amiss; steps of the solver before it begins
anew.
"""


def samples(world, chosen, count):
    """Places and unit normals on patches, `count` each, spread evenly; shapes (len(chosen) * count,
    3).
    """
    origins, normals = np.empty((len(chosen) * count, 3)), np.empty((len(chosen) * count, 3))
    patch_samples(outline_of(world), np.asarray(chosen), count, origins, normals)
    return origins, normals


@cached("links between surfaces")
def _links(keyed):
    world = keyed.value
    p = world.patches
    on_earth = np.flatnonzero(p.sky[:, 2] == 0)
    n = len(p)
    cast = np.zeros(n)
    # Seen at once, by number of rays (less what the air takes); and past cloth or by way of
    # mirrors, by share.
    seen: tuple[list, list, list] = ([], [], [])
    past: tuple[list, list, list] = ([], [], [])
    for chosen, count in (
        (on_earth[p.sheet[on_earth] < 0], PLAIN_RAYS),
        (on_earth[p.sheet[on_earth] >= 0], SHEET_RAYS),
    ):
        cast[chosen] = count
        for some in np.array_split(chosen, max(1, len(chosen) * count // 200_000)):
            if not len(some):
                continue
            origins, normals = samples(world, some, count)
            directions = np.empty_like(origins)
            # One ray from each place: the sequence of places and that of directions are
            # independent.
            firsts = np.ascontiguousarray(normals[::count])
            spread_directions(firsts, count, directions, int(some[0]))
            for leg, (owner, patch, weight, *_) in enumerate(
                walk(world, origins, directions, np.repeat(np.arange(len(some)), count))
            ):
                found = some[owner], patch, weight / count if leg else weight
                for column, part in zip(past if leg else seen, found, strict=True):
                    column.append(part)

    def matrix(found):
        rows, columns, shares = (np.concatenate(k) if k else np.zeros(0, int) for k in found)
        return csr_matrix((shares.astype(float), (rows, columns)), shape=(n, n))

    factors = (_both_ways(matrix(seen), cast, p.area) + matrix(past)).astype(np.float32)
    return factors.toarray() if n <= WHOLE else factors


def _both_ways(hits, cast, area):
    """Form factors from rays of both patches of a pair: what i sends j times its area is what j
    sends i times its.

    A small board is seldom met from a far wall, but meets the wall often itself. The most likely
    exchange area
    for n_ij hits of N_i rays and n_ji of N_j is (n_ij + n_ji) / (N_i / A_i + N_j / A_j); then rows
    are brought
    back to the sum their own rays tell, so that no light is made or lost.
    """
    density = cast / area
    sums = np.asarray(hits.sum(1)).ravel() / np.maximum(cast, 1)
    pair = (hits + hits.T).tocoo()
    exchange = csr_matrix(
        (pair.data / (density[pair.row] + density[pair.col]), (pair.row, pair.col)),
        shape=hits.shape,
    )
    wanted, factor = sums * area, np.ones(len(area))
    # Sky has no rays of its own: its rows stay empty.
    for _ in range(20):
        now = factor * (exchange @ factor)
        factor *= np.sqrt(
            np.divide(wanted, now, out=np.ones_like(now), where=(now > 0) & (wanted > 0))
        )
    rows = np.repeat(factor / area, np.diff(exchange.indptr))
    exchange.data *= rows * factor[exchange.indices] * np.repeat(cast > 0, np.diff(exchange.indptr))
    return exchange


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
    ndarray or scipy.sparse.csr_matrix, shape (p, p)
        Form factors, row by row from a patch outward: light on patch i is the sum over j of F[i, j]
        times
        the radiosity of j. In a closed room each row sums to one, and to less only past cloth and
        in mirrors.
    """
    return _links(Keyed(world.key, world))


def balance(world, given):
    """Radiosity of all patches from what lamps bring to them.

    Parameters
    ----------
    world : moth.world.World
    given : ndarray, shape (p, 3)
        Radiosity that comes straight from lamps, reflected or let through once, or emitted
        [lm/m^2].

    Returns
    -------
    ndarray, shape (p, 3)
        Radiosity with all orders of exchange.

    References
    ----------
    Goral et al., "Modeling the interaction of light between diffuse surfaces", SIGGRAPH 1984.
    Solved by GMRES (Saad and Schultz, 1986): counting orders loses 3 % at a reflectance of 0.95.
    """
    p, f = world.patches, links(world)
    shape = given.shape

    def left(flat):
        """What patches send, less what they got from one another."""
        radiosity = flat.reshape(shape).astype(np.float32)
        arrived = f @ radiosity
        back = p.albedo * arrived + p.through * arrived[p.other]
        return (radiosity - back).ravel().astype(np.float64)

    n = given.size
    system = LinearOperator((n, n), matvec=left, dtype=np.float64)
    solved, failed = gmres(system, given.ravel(), rtol=LEFT, atol=0, restart=STEPS, maxiter=4)
    if failed:
        raise ArithmeticError("the balance of light between surfaces does not settle")
    return np.maximum(solved.reshape(shape), 0)
