"""Light that leaves cloth and boards in lobes: by which ways it fell there, and how it goes on."""

from typing import NamedTuple

import numpy as np
from scipy.spatial import cKDTree

from ..materials import lobe_concentration
from .arrival import arrive
from .exchange import samples
from .glow import Glow, glow_rays, lobes_between, matte, shine
from .images import arriving, lobe_images
from .kernels import OFF_SURFACE
from .operands import Cells, Rays, room_for
from .patterns import NODES, fanned, frames, no_pattern, sorted_by_way, spread
from .walks import hemisphere

PLAIN_SAMPLES, CLOTH_SAMPLES = 8, 25
"""Places of a patch that lobes' light is averaged over: of walls, and of cloth that sends it on in
lobes again.
"""


class Lobes(NamedTuple):
    """Lobes that leave patches of one face of a sheet."""

    patches: np.ndarray
    """(k,); one may be there several times, in parts"""
    cells: Cells
    """(k) the places that they leave, without diffuse light: patches, or parts of them where a beam
    is narrower.
    """

    @property
    def flux(self):
        """All of it [lm], colours added up."""
        return float(self.cells.power.sum())


class Arrival(NamedTuple):
    """Light as it falls on all patches."""

    level: np.ndarray
    """(p, 1) or (p, 3) [lx]"""
    doubt: np.ndarray
    """(p,) standard error of the level by how its samples differ, as a part of it; where they
    differ evenly it errs by less"""
    incoming: np.ndarray
    """(p, 3) its mean way, unit"""
    spread: np.ndarray
    """(p,) how nearly all of it is one way, 0..1: the length of the mean of its ways"""
    reach: np.ndarray
    """(p,) distance that it spread from [m]"""
    middle: np.ndarray
    """(p, 3) of where it falls on the patch [m]"""
    parts: np.ndarray
    """(p, PARTS * PARTS) shares of it on parts of a sheet's patches, along right and up"""
    row: np.ndarray
    """(p,) index into `ways` of what is lit from many sides, -1 for what is not"""
    ways: np.ndarray
    """(q, m, m) shares of the light by the way that it would go straight on, see
    :mod:`.patterns`
    """


class Samples(NamedTuple):
    """What places of patches are lit by."""

    amounts: np.ndarray
    """(n, m, 1) or (n, m, 3) what each adds to the level [lx]"""
    ways: np.ndarray
    """(n, m, 3) vectors toward where it comes from, of length one, or less where a sample is the
    mean of ways that differ"""
    distances: np.ndarray
    """(n, m) how far that is [m]"""
    places: np.ndarray
    """(n, m, 3) [m]"""


def plain_arrival(level):
    """Light of which only the level counts: it falls on nothing that sends it on in lobes."""
    n = len(level)
    even = np.full((n, PARTS**2), 1 / PARTS**2)
    way, middle = np.zeros((2, n, 3))
    doubt, spread = np.zeros((2, n))
    return Arrival(
        level, doubt, way, spread, np.ones(n), middle, even, np.full(n, -1), no_pattern(0)
    )


PARTS, UNEVEN, FEW = 4, 0.75, 16
"""A patch of cloth sends lobes on from so many parts each way where less than this part of it, each
way, is lit, and where no more than a few of its neighbours are: of a wide beam only the edge would
gain.
"""


ONE_WAY = 0.98
"""Resultant over which light on cloth is told by its mean way and spread; 1 is all from one point.
Under it a pattern of directions tells it, whose nodes are too far apart for less.
"""


UNTURNED = 1e4
"""Reach of a cell whose light keeps its ways all over it [m]."""


def sends_lobes(sheet):
    """Whether light leaves a sheet in lobes."""
    return max(sheet.material.forward, sheet.material.lobe) >= 0.005


def on_lobed(world):
    """Which patches are of cloth or board that sends light on in lobes, shape (p,)."""
    return np.array([sends_lobes(s) for s in world.sheets] + [False], bool)[world.patches.sheet]


def arrivals(world, patches, found):
    """Light on patches from many samples; on cloth with lobes that is lit from many sides, by all
    the ways that it came.

    Parameters
    ----------
    world : moth.world.World
    patches : ndarray of int, shape (n,)
        On cloth with lobes all of a sheet's side, and in their order.
    found : Samples

    Returns
    -------
    Arrival
    """
    reach = _spread_from(world, patches, found)
    spread_from = reach[:, None]
    strength = found.amounts.sum(2)
    middle = (strength[..., None] * found.places).sum(1) / np.maximum(strength.sum(1), 1e-12)[
        :, None
    ]
    # As seen from the middle of what is lit: what ways differ by over a patch is told by its reach,
    # and must not widen its lobe too.
    length = np.maximum(np.linalg.norm(found.ways, axis=2, keepdims=True), 1e-9)
    ways = found.ways / length * spread_from[..., None] + found.places - middle[:, None]
    ways *= length / np.maximum(np.linalg.norm(ways, axis=2, keepdims=True), 1e-9)
    whole = _arrival(world, patches, found._replace(ways=ways), reach)
    wide = (whole.spread[patches] < ONE_WAY) & (whole.level[patches].max(1) > 0)
    mine = np.flatnonzero(on_lobed(world)[patches] & wide)
    if not len(mine):
        return whole
    # The mean over the cell of all ways that light falls on it: no one distance tells how they turn
    # there, least of all before a window. Straight on, seen from behind the cloth, and mirrored,
    # seen from before it, are one.
    share = strength[mine] / strength[mine].sum(1, keepdims=True)
    share, ways = fanned(share, found.ways[mine])
    frame = frames(sheet_cells(world, patches[mine])) * [[-1], [-1], [1]]
    onward = np.einsum("nij,nmj->nmi", frame, ways)
    whole.row[patches[mine]] = np.arange(len(mine))
    whole.reach[patches[mine]] = UNTURNED
    return whole._replace(ways=sorted_by_way(share, onward))


def _spread_from(world, patches, found):
    """Distance that light spread from, on each patch [m]: of what fell on it, and on cloth with
    lobes by how the light's way turns from cell to cell. A wide face near by turns it little, a
    cloth that passes it in lobes hardly at all.
    """
    p = world.patches
    whole = _arrival(world, patches, found, None)
    reach = whole.reach.copy()
    for k in np.unique(p.sheet[patches]):
        if k >= 0 and sends_lobes(world.sheets[k]):
            for side in (1, -1):
                mine = patches[(p.sheet[patches] == k) & (p.side[patches] == side)]
                reach[mine] = _turning(world.sheets[k], whole, mine)
    return reach[patches]


def _arrival(world, patches, found, reach):
    p = world.patches
    out = plain_arrival(np.zeros((len(p), found.amounts.shape[2])))
    out.level[patches] = found.amounts.sum(1)
    strength = found.amounts.sum(2)
    share = strength / np.maximum(strength.sum(1, keepdims=True), 1e-12)
    out.doubt[patches] = np.sqrt(np.maximum((share**2).sum(1) - 1 / share.shape[1], 0))
    way = -np.einsum("nm,nmk->nk", share, found.ways)
    length = np.linalg.norm(way, axis=1)
    out.incoming[patches] = way / np.maximum(length, 1e-9)[:, None]
    out.spread[patches] = np.clip(length, 0, 1)
    nearness = (share / np.maximum(found.distances, 1e-2)).sum(1)
    out.reach[patches] = 1 / np.clip(nearness, 1e-4, 1e2) if reach is None else reach
    out.middle[patches] = np.einsum("nm,nmk->nk", share, found.places)
    for k in np.unique(p.sheet[patches]):
        if k >= 0 and sends_lobes(world.sheets[k]):
            sheet, mine = world.sheets[k], np.flatnonzero(p.sheet[patches] == k)
            place = [
                (found.places[mine] - sheet.centre) @ unit / half * count / 2 + count / 2
                for unit, half, count in zip(
                    (sheet.right, sheet.up), sheet.half, sheet.cells, strict=True
                )
            ]
            i, j = (np.clip((k % 1.0) * PARTS, 0, PARTS - 1).astype(int) for k in place)
            bins = np.arange(len(mine))[:, None] * PARTS**2 + i * PARTS + j
            inside = np.bincount(bins.ravel(), share[mine].ravel(), len(mine) * PARTS**2)
            parts = inside.reshape(-1, PARTS, PARTS)
            # How many parts are as good as lit, each way: 1 / sum of squares, from 1 to all.
            lit = [1 / np.maximum((parts.sum(k) ** 2).sum(1), 1e-9) / PARTS for k in (1, 2)]
            flux = strength[mine].sum(1)
            few = flux.sum() ** 2 < FEW * max(float((flux**2).sum()), 1e-12)
            narrow = (np.minimum(*lit) < UNEVEN) & few
            out.parts[patches[mine[narrow]]] = parts[narrow].reshape(-1, PARTS**2)
    return out


def _resultant(kappa):
    """Mean cosine to its axis of a lobe."""
    return 1 / np.tanh(kappa) - 1 / kappa


def _concentration(resultant):
    """Lobe of a given mean cosine; Banerjee et al., JMLR 6 (2005)."""
    r = np.clip(resultant, 1e-3, 1 - 1e-6)
    return r * (3 - r * r) / (1 - r * r)


def raised(world, arrival):
    """Lobes that arriving light raises on sheets.

    Returns
    -------
    list of Lobes
    """
    p, out = world.patches, []
    level = np.broadcast_to(arrival.level, (len(p), 3))
    for k, sheet in enumerate(world.sheets):
        m = sheet.material
        for share, width, back in (
            (m.forward, m.forward_width, False),
            (m.lobe, m.lobe_width, True),
        ):
            if share < 0.005:
                continue
            # A face that stands across the cloth's plane lights both sides: each is a piece of its
            # own.
            for side in (1, -1):
                mine = np.flatnonzero((p.sheet == k) & (p.side == side) & (level.max(1) > 0))
                if not len(mine):
                    continue
                axis = arrival.incoming[mine].copy()
                leaving = p.other[mine]
                if back:
                    axis -= 2 * (axis @ sheet.normal)[:, None] * sheet.normal
                    leaving = mine
                own = lobe_concentration(width)
                row = arrival.row[mine]
                cells = sheet_cells(world, leaving)._replace(
                    axis=axis,
                    kappa=_concentration(_resultant(own) * arrival.spread[mine]),
                    power=share * level[mine] * p.area[mine, None] * m.hue,
                    reach=arrival.reach[mine],
                )
                if (row >= 0).any():
                    shaped = row >= 0
                    pattern = np.zeros((len(mine), NODES, NODES), np.float32)
                    pattern[shaped] = spread(arrival.ways[row[shaped]], own)
                    cells = cells._replace(shaped=shaped, pattern=pattern)
                whole = Lobes(leaving, cells)
                out.append(_in_parts(whole, arrival.middle[mine], arrival.parts[mine]))
    return out


def _in_parts(lobes, middle, parts):
    """Lobes cut up where a beam lights but a part of a patch: each part's leave from where it is,
    its axis turned as it is there.
    """
    cut = (np.ptp(parts, axis=1) > 0) & ~lobes.cells.shaped
    if not cut.any():
        return lobes
    row, part = np.nonzero(np.where(cut[:, None], parts > 1e-3, np.arange(PARTS**2) == 0))
    split = cut[row]
    share = np.where(split, parts[row, part], 1.0)
    cells = Cells(*(field[row] for field in lobes.cells))
    s, t = (2 * k + 1 for k in np.divmod(part, PARTS))
    off = (s / PARTS - 1)[:, None] * cells.along + (t / PARTS - 1)[:, None] * cells.up
    by = np.where(split, PARTS, 1)[:, None]
    cells = cells._replace(
        middle=cells.middle + np.where(split[:, None], off, 0),
        along=cells.along / by,
        up=cells.up / by,
    )
    axis = cells.axis * cells.reach[:, None] + np.where(
        split[:, None], cells.middle - middle[row], 0
    )
    axis /= np.maximum(np.linalg.norm(axis, axis=1, keepdims=True), 1e-12)
    return Lobes(lobes.patches[row], cells._replace(axis=axis, power=cells.power * share[:, None]))


def sheet_cells(world, patches, flux=None):
    """Cells of patches made of rectangles' halves, without lobes.

    Parameters
    ----------
    world : moth.world.World
    patches : ndarray of int, shape (k,)
    flux : ndarray, shape (k, 3), optional
        Diffuse.

    Returns
    -------
    Cells
    """
    mesh, p = world.mesh, world.patches
    t = p.triangle[p.start[patches]]
    a, b, c = (mesh.vertices[mesh.faces[t, k]] for k in range(3))
    # rectangle() cuts a cell a b c d into a b c and a c d: the fourth corner closes the
    # parallelogram.
    normal = np.ascontiguousarray(mesh.flat[t] * p.side[patches, None], float)
    k = len(patches)
    flux = np.zeros((k, 3)) if flux is None else flux
    none, one = np.zeros((k, 3)), np.ones(k)
    return Cells(
        (a + c) / 2,
        normal,
        (b - a) / 2,
        (c - b) / 2,
        flux,
        none,
        0 * one,
        none,
        one,
        np.zeros(k, bool),
        no_pattern(k),
    )


def with_lobes(cells, lobes, at):
    """Cells some of which (`at`) send lobes."""
    some = lobes.cells
    room = np.zeros((len(cells.middle), *some.pattern.shape[1:]), np.float32)
    out = cells._replace(pattern=cells.pattern if cells.pattern.size else room)
    fields = ("axis", "kappa", "power", "reach", "shaped")
    out = out._replace(**{field: getattr(out, field).copy() for field in (*fields, "pattern")})
    for field in fields:
        getattr(out, field)[at] = getattr(some, field)
    if some.pattern.size:
        out.pattern[at] = some.pattern
    return out


def beam_glow(world, lobes):
    """A glow of lobes, without diffuse light."""
    return Glow(int(world.patches.sheet[lobes.patches[0]]), lobes.patches, lobes.cells)


def faint_apart(world, beams, least=0.05):
    """Strong lobes, and the radiosity (p, 3) of the faint ones: light on a cloth from all sides
    leaves it without a direction.

    least: part of the strongest on the same sheet below which lobes are taken as diffuse.
    """
    p = world.patches
    strongest: dict = {}
    for beam in beams:
        key = (p.sheet[beam.patches[0]], p.side[beam.patches[0]])
        strongest[key] = max(strongest.get(key, 0.0), beam.flux)
    strong, faint = [], np.zeros((len(p), 3))
    for beam in beams:
        key = (p.sheet[beam.patches[0]], p.side[beam.patches[0]])
        if beam.flux >= least * strongest[key]:
            strong.append(beam)
        else:
            np.add.at(faint, beam.patches, beam.cells.power / p.area[beam.patches, None])
    return strong, faint


def from_beams(world, beams):
    """What lobes bring to all patches.

    Cloth that sends it on in lobes again is lit cell by cell: each cell from its own side. Taken
    from the middle of the first cloth, a second one lost a quarter to a half of the light.

    Returns
    -------
    list of Arrival
    """
    p = world.patches
    earth = p.sky[:, 2] == 0
    again = on_lobed(world) & earth
    level = np.zeros((len(p), 3))
    plain = np.flatnonzero(earth & ~again)
    points, normals = samples(world, plain, PLAIN_SAMPLES)
    shading = matte(points, normals)
    glows = [beam_glow(world, beam) for beam in beams]
    glows += lobe_images(world, glows)
    for glow in glows:
        lit = arriving(world, glow, shading)
        level[plain] += lit.reshape(-1, PLAIN_SAMPLES, 3).mean(1)
    found = [plain_arrival(level)]
    for k in np.unique(p.sheet[again]):
        for side in (1, -1):
            mine = np.flatnonzero(again & (p.sheet == k) & (p.side == side))
            parts = [_cell_by_cell(world, glow, mine) for glow in glows]
            parts = [part for part in parts if part is not None]
            if parts:
                lit = Samples(*(np.concatenate(part, 1) for part in zip(*parts, strict=True)))
                found.append(arrivals(world, mine, lit))
    return found


def matte_glow(glow):
    """A glow without its lobes."""
    cells = glow.cells
    dark = cells._replace(kappa=np.zeros_like(cells.kappa), power=np.zeros_like(cells.power))
    shaped = np.zeros_like(cells.shaped)
    return Glow(
        glow.sheet, glow.patches, dark._replace(shaped=shaped, pattern=no_pattern(len(shaped)))
    )


GLOW_RAYS, CLOSE_RAYS = 8, 64
"""Rays a place: to cells drawn by the light that their middles would bring there; and spread by the
cosine, where a glow is so close that its middles tell nothing.
"""


def from_glows(world, glows, patches):
    """What glows send evenly to one side of a cloth or board with lobes, by the ways that it comes.

    Parameters
    ----------
    world : moth.world.World
    glows : sequence of Glow
        Without lobes.
    patches : ndarray of int, shape (n,)
        All of the side.

    Returns
    -------
    Arrival or None
        None where nothing comes.
    """
    places = samples(world, patches, CLOTH_SAMPLES)
    parts = []
    for glow in glows:
        middle, along, up = glow.cells.middle, glow.cells.along, glow.cells.up
        reach = 2 * np.sqrt(((along**2).sum(1) + (up**2).sum(1)).max())
        close = cKDTree(middle).query(places[0])[0].min() < reach
        amounts, rays = (_from_close if close else _from_afar)(world, glow, places)
        if amounts.any():
            count = len(amounts) // len(places[0])
            shape = len(patches), CLOTH_SAMPLES * count
            found = Samples(
                (amounts / shape[1]).reshape(*shape, 3),
                rays.directions.reshape(*shape, 3),
                rays.distances.reshape(shape),
                np.repeat(places[0], count, 0).reshape(*shape, 3),
            )
            parts.append(found)
    if not parts:
        return None
    return arrivals(
        world, patches, Samples(*(np.concatenate(k, 1) for k in zip(*parts, strict=True)))
    )


def _from_afar(world, glow, places):
    """Light of a glow at each place by rays to its cells: (n * GLOW_RAYS, 3) [lx], and the rays."""
    level, nothing = np.zeros((2, len(places[0]), 3))
    shine(matte(*places), False, glow.cells, level, nothing)
    rays: Rays = room_for(len(level) * GLOW_RAYS)
    glow_rays(places, False, glow.cells, GLOW_RAYS, 0, rays)
    ask = np.flatnonzero(rays.weights > 0)
    rays.weights[ask] = arrive(
        world, glow, rays.origins[ask], rays.directions[ask], rays.distances[ask]
    )
    return np.repeat(level, GLOW_RAYS, 0) * rays.weights[:, None], rays


def _from_close(world, glow, places):
    """The same by rays spread by the cosine, and what they meet first."""
    p, (points, normals) = world.patches, places
    sent = np.zeros((len(p), 3))
    np.add.at(sent, glow.patches, np.pi * glow.cells.flux / p.area[glow.patches, None])
    rays: Rays = room_for(len(points) * CLOSE_RAYS)
    hemisphere(normals, CLOSE_RAYS, False, 0, rays.directions)
    rays.origins[:] = np.repeat(points + OFF_SURFACE * normals, CLOSE_RAYS, 0)
    met, distance = world.rays.nearest(
        np.asarray(rays.origins, np.float32), np.asarray(rays.directions, np.float32)
    )
    slant = (rays.directions * world.mesh.flat[met]).sum(1)
    patch = np.where(slant < 0, world.mesh.front[met], world.mesh.back[met])
    rays.distances[:] = distance
    return np.where(((met >= 0) & (patch >= 0))[:, None], sent[patch], 0), rays


def _turning(sheet, arrival, patches):
    """Distances that light on one side of a sheet spread from [m], by how its way turns."""
    shape, reach = sheet.cells, arrival.reach[patches]
    if min(shape) < 2 or len(patches) != shape[0] * shape[1]:
        return reach
    ways = arrival.incoming[patches].reshape(*shape, 3)
    middles = arrival.middle[patches].reshape(*shape, 3)
    lit = (arrival.level[patches].max(1) > 0).reshape(shape)
    total, known = np.zeros(shape), np.zeros(shape)
    for axis, (unit, half) in enumerate(zip((sheet.right, sheet.up), sheet.half, strict=True)):
        # From middle to middle of what is lit: at a beam's edge that is less than a cell.
        step = np.diff(middles @ unit, axis=axis)
        turn = np.diff(ways @ unit, axis=axis) / np.maximum(step, 0.2 * half / shape[axis])
        both = np.logical_and(*(np.take(lit, range(a, shape[axis] - 1 + a), axis) for a in (0, 1)))
        for first in (0, 1):
            pad = [(0, 0), (0, 0)]
            pad[axis] = (first, 1 - first)
            total += np.pad(np.where(both, turn, 0), pad)
            known += np.pad(both.astype(float), pad)
    found = known.ravel() >= 3
    curve = total.ravel() / np.maximum(known.ravel(), 1)
    reach[found] = 1 / np.clip(curve[found], 1e-3, 50)
    return reach


def _unit(ways):
    return np.asarray(ways / np.linalg.norm(ways, axis=1, keepdims=True), np.float32)


def _cell_by_cell(world, glow, patches):
    """What each cell of a beam brings to places of patches, as Samples; None for nothing."""
    cells, n, k = glow.cells, len(patches), len(glow.patches)
    places = samples(world, patches, CLOTH_SAMPLES)
    m = len(places[0])
    amount, ways, distances = np.zeros((m, k)), np.zeros((m, k, 3)), np.ones((m, k))
    lobes_between(places, cells, amount, ways, distances)
    if not amount.any():
        return None
    bright = amount.reshape(n, -1).max(1).repeat(CLOTH_SAMPLES)
    row, cell = np.nonzero(amount > 1e-4 * bright[:, None])
    points, normals = places
    seen = np.zeros((m, k))
    seen[row, cell] = arrive(
        world,
        glow,
        np.asarray((points + OFF_SURFACE * normals)[row], np.float32),
        _unit(ways[row, cell]),
        np.asarray(np.maximum(distances[row, cell] - 3e-3, 0), np.float32),
    )
    shape = n, CLOTH_SAMPLES * k
    amounts = (amount * seen / CLOTH_SAMPLES)[..., None] * cells.power
    return Samples(
        amounts.reshape(*shape, 3),
        ways.reshape(*shape, 3),
        distances.reshape(shape),
        np.repeat(points, k, 0).reshape(*shape, 3),
    )
