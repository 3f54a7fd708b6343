"""Secondary sources: cloths, boards and hot patches of walls that are followed as sources of their
own, each with the cells that it sends from.
"""

import numpy as np

from ..colour import LUMINANCE
from .exchange import samples
from .glow import Glow
from .images import lobe_images
from .lobes import beam_glow, sheet_cells, with_lobes
from .operands import Cells

MOST_HOT, HOT = 96, 5.0
"""Patches of walls taken as sources of their own, at most, and how much brighter than the mean they
are.
"""


def glows_of(world, given, radiosity, beams, straight):
    """Surfaces to follow as sources, and the radiosity that is left.

    Parameters
    ----------
    world : moth.world.World
    given, radiosity : ndarray, shape (p, 3)
        What patches send of lamps' light and that of lobes, and of all orders [lm/m^2].
    beams : list
        Lobes that cloths send out.
    straight : tuple
        What lamps bring to each patch (p, 3) [lx], and their Shots.

    Returns
    -------
    glows : list of Glow
    rest : ndarray, shape (p, 3)
        [lm/m^2]
    """
    p = world.patches
    rest = radiosity.copy()
    power = (radiosity * p.area[:, None]) @ LUMINANCE
    earth = p.sky[:, 2] == 0
    total = float(power[earth].sum()) + 1e-12
    groups: dict = {}
    for beam in beams:
        key = (int(p.sheet[beam.patches[0]]), int(p.side[beam.patches[0]]))
        groups.setdefault(key, []).append(beam)
    glows = []
    for k, ring in rings_of(world.sheets).items():
        for side in (1, -1):
            patches = np.flatnonzero(np.isin(p.sheet, ring) & (p.side == side))
            lobes = groups.pop((k, side), [])
            if power[patches].sum() < 0.004 * total and not lobes:
                continue
            flux = rest[patches] * p.area[patches, None] / np.pi
            rest[patches] = 0
            place = {int(patch): at for at, patch in enumerate(patches)}
            cells = sheet_cells(world, patches, flux)
            extra = []
            for beam in lobes:
                at = np.array([place[int(w)] for w in beam.patches])
                whole = np.array_equal(beam.cells.along, cells.along[at])
                if cells.power[at].any() or not whole:
                    extra.append(beam)
                else:
                    cells = with_lobes(cells, beam, at)
            glows.append(Glow(k, patches, cells))
            # A second lamp's lobes over the same cells leave along their own axes, and those of a
            # narrow beam from where that falls.
            glows += [beam_glow(world, beam) for beam in extra]
    glows += [beam_glow(world, beam) for lobes in groups.values() for beam in lobes]
    glows += lobe_images(world, glows)
    return glows + hot_walls(world, given, rest, earth, straight), rest


def rings_of(sheets):
    """Sheets that are followed as sources, by the first of each: one that stands alone by itself,
    all flats of a round shade together. Slats are not among them: they count as walls do.

    Returns
    -------
    dict of int, list of int
    """
    out: dict = {}
    first: dict = {}
    for k, sheet in enumerate(sheets):
        if sheet.behind:
            out.setdefault(first.setdefault(sheet.piece, k), []).append(k)
        elif sheet.cells[0] * sheet.cells[1] >= 4:
            out[k] = [k]
    return out


def bright_sheets(world, rest, most):
    """The brightest patches of cloths and boards, without lobes, taken out of the rest.

    Parameters
    ----------
    world : moth.world.World
    rest : ndarray, shape (p, 3)
        What patches send evenly [lm/m^2]; those that are taken send 0 after this.
    most : int
        Patches at most.

    Returns
    -------
    list of Glow
    """
    p = world.patches
    followed = [k for ring in rings_of(world.sheets).values() for k in ring]
    flux = np.where(np.isin(p.sheet, followed), rest @ LUMINANCE * p.area, 0)
    bright = np.argsort(-flux)[:most]
    bright = bright[flux[bright] > 0]
    glows = []
    for k, side in np.unique(np.stack([p.sheet[bright], p.side[bright]], 1), axis=0):
        mine = bright[(p.sheet[bright] == k) & (p.side[bright] == side)]
        cells = sheet_cells(world, mine, rest[mine] * p.area[mine, None] / np.pi)
        glows.append(Glow(int(k), mine, cells))
        rest[mine] = 0
    return glows


def hot_walls(world, given, rest, earth, straight, most=MOST_HOT):
    """Patches of walls, furniture and slats that a lamp lights far above the mean, taken out of the
    rest.

    Parameters
    ----------
    given, rest, straight
        As in :func:`glows_of`; what is taken sends 0 of the rest after this.
    earth : ndarray of bool, shape (p,)
        Which patches are not sky.
    most : int
        Patches at most.

    Returns
    -------
    list of Glow
    """
    p, mesh = world.patches, world.mesh
    level, shots = straight
    first = p.triangle[p.start[:-1]]
    followed = {k for ring in rings_of(world.sheets).values() for k in ring}
    slats = np.array([k not in followed for k in range(len(world.sheets))] + [False], bool)[p.sheet]
    flat_faced = earth & ((p.sheet < 0) | slats) & p.planar
    bright = given @ LUMINANCE
    mean = float((bright * p.area)[earth].sum() / p.area[earth].sum()) + 1e-12
    hot = np.flatnonzero(flat_faced & (bright > HOT * mean) & (p.area < 4))
    hot = hot[np.argsort(-(bright * p.area)[hot])][:most]
    if not len(hot):
        return []
    normal = (mesh.flat[first[hot]] * p.side[hot, None]).round(2)
    # A wall's patches lie in one plane; all slats of a blind that face the same way are one source.
    blind = np.array([s.piece + 1000.0 for s in world.sheets] + [0.0])[p.sheet[hot]]
    offset = np.where(
        blind > 0, blind, (mesh.vertices[mesh.faces[first[hot], 0]] * normal).sum(1).round(2)
    )[:, None]
    _, plane = np.unique(np.concatenate([normal, offset], 1) + 0.0, axis=0, return_inverse=True)
    owner, cells, lamps, even = _parted(world, hot, shots)
    which = hot[owner]
    # What lamps bring lies where they bring it; all else is spread evenly.
    own = np.minimum(p.albedo[which] * level[which], rest[which])
    flux = own * lamps[:, None] + (rest[which] - own) * even[:, None]
    cells = cells._replace(flux=flux * p.area[which, None] / np.pi)
    rest[hot] = 0
    together = [np.flatnonzero(plane[owner] == k) for k in range(int(plane.max()) + 1)]
    return [Glow(-1, which[at], Cells(*(part[at] for part in cells))) for at in together]


CUTS, CUT_FROM = 3, 0.3
"""A hot patch is parted into so many each way where lamps' light on it differs by this part of its
mean: at the edge of a beam.
"""
ENOUGH, BOXED = 12 * CUTS * CUTS, 256
"""Rays on a patch that tell how it is lit, and places that tell its outline."""


def _parted(world, patches, shots):
    """Cells of flat patches, finer where lamps light them unevenly: (patch each cell is of, cells,
    their shares of lamps' light, their shares of even light).
    """
    p, n, parts = world.patches, len(patches), CUTS**2
    cells = sheet_cells(world, patches)
    whole = _rectangles(p, patches, cells)
    even, own = np.full((n, parts), 1 / parts), np.full((n, parts, 3), np.nan)
    odd = np.flatnonzero(~whole)
    even[odd], own[odd] = _boxes(world, patches[odd], cells, odd)
    told, count = _beams_over(world, cells, patches, shots)
    # Slats are narrow already.
    apart = (count >= ENOUGH) & (p.sheet[patches] < 0)
    uneven = (np.ptp(told, axis=1) > CUT_FROM * told.mean(1)) & apart
    cut = uneven | ~whole
    lamps = np.where(uneven[:, None], told, even)[cut].ravel()
    steps = (np.arange(CUTS) + 0.5) / CUTS * 2 - 1
    s, t = (k.ravel()[:, None] for k in np.meshgrid(steps, steps, indexing="ij"))
    owner = np.concatenate([np.flatnonzero(~cut), np.repeat(np.flatnonzero(cut), parts)])
    pieces = Cells(*(part[owner] for part in cells))
    k = int((~cut).sum())
    grid = cells.middle[cut, None] + s * cells.along[cut, None] + t * cells.up[cut, None]
    # A part that the outline cuts sends from what it holds, as wide as that.
    own = own[cut]
    pieces.middle[k:] = np.where(np.isnan(own), grid, own).reshape(-1, 3)
    sides = 4 * np.linalg.norm(np.cross(cells.along[cut], cells.up[cut]), axis=1)
    filled = even[cut] * p.area[patches[cut], None] / np.maximum(sides[:, None] / parts, 1e-12)
    scale = np.where(whole[cut, None], 1.0, np.sqrt(np.clip(filled, 0.01, 1))).ravel() / CUTS
    pieces.along[k:] *= scale[:, None]
    pieces.up[k:] *= scale[:, None]
    one = np.ones(k)
    return (
        owner,
        pieces,
        np.concatenate([one, lamps]),
        np.concatenate([one, even[cut].ravel()]),
    )


def _rectangles(patches, chosen, cells):
    """Which patches are the whole of the rectangle that their first triangle is half of."""
    two = patches.start[chosen + 1] - patches.start[chosen] == 2
    area = 4 * np.linalg.norm(np.cross(cells.along, cells.up), axis=1)
    return two & (np.abs(area - patches.area[chosen]) < 1e-3 * area)


def _beams_over(world, cells, patches, shots):
    """Shares of lamps' light on the parts of cells (n, CUTS * CUTS), and how many rays tell."""
    n = len(patches)
    row = np.full(len(world.patches), -1)
    row[patches] = np.arange(n)
    out, count = np.zeros(n * CUTS**2), np.zeros(n, int)
    for shot in shots:
        at = row[shot.patch]
        mine = np.flatnonzero(at >= 0)
        at, off = at[mine], shot.place[mine] - cells.middle[at[mine]]
        i, j = (
            np.clip(
                (((off * axis[at]).sum(1) / (axis[at] ** 2).sum(1) + 1) / 2 * CUTS).astype(int),
                0,
                CUTS - 1,
            )
            for axis in (cells.along, cells.up)
        )
        out += np.bincount(at * CUTS**2 + i * CUTS + j, shot.flux[mine], n * CUTS**2)
        count += np.bincount(at, minlength=n)
    inside = out.reshape(n, -1)
    return inside / np.maximum(inside.sum(1, keepdims=True), 1e-12), count


def _boxes(world, patches, cells, at):
    """Make some cells the rectangles about flat patches of any outline; what part of a patch lies
    in each of its parts (k, CUTS * CUTS), and the middle of that (k, CUTS * CUTS, 3), nan where
    there is none.
    """
    points = samples(world, patches, BOXED)[0].reshape(-1, BOXED, 3)
    normal = cells.normal[at]
    steep = np.abs(normal[:, 2:]) < 0.9
    along = np.cross(normal, np.where(steep, [0.0, 0.0, 1.0], [1.0, 0.0, 0.0]))
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    middle, row = (points[:, 0] * normal).sum(1, keepdims=True) * normal, []
    for axis, edge in ((along, cells.along), (np.cross(normal, along), cells.up)):
        off = np.einsum("kni,ki->kn", points, axis)
        low, high = off.min(1, keepdims=True), off.max(1, keepdims=True)
        middle += (low + high) / 2 * axis
        edge[at] = np.maximum((high - low) / 2, 1e-4) * axis
        part = ((off - low) / np.maximum(high - low, 1e-9) * CUTS).astype(int)
        row.append(np.clip(part, 0, CUTS - 1))
    cells.middle[at] = middle
    parts = CUTS**2
    where = (np.arange(len(at))[:, None] * parts + row[0] * CUTS + row[1]).ravel()
    count = np.bincount(where, minlength=len(at) * parts).reshape(-1, parts)
    sums = np.stack([np.bincount(where, k, count.size) for k in points.reshape(-1, 3).T], 1)
    with np.errstate(invalid="ignore"):
        return count / BOXED, sums.reshape(-1, parts, 3) / count[..., None]
