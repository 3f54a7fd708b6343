"""One source's light in a world: lamps and their images, surfaces that glow, and the balance of all
the rest.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..colour import LUMINANCE
from ..engine.caching import Keyed, cached
from ..engine.cancelling import checkpoint
from .arrival import arrive, with_images
from .cast import lobe_shots, turned_light
from .exchange import balance, links, samples
from .glow import Glow, matte
from .images import lobe_images
from .kernels import face_rays, rays_to
from .lobes import (
    PLAIN_SAMPLES,
    Samples,
    arrivals,
    arriving,
    beam_glow,
    faint_apart,
    from_beams,
    from_glows,
    matte_glow,
    on_lobed,
    plain_arrival,
    raised,
    sends_lobes,
    sheet_cells,
    with_lobes,
)
from .operands import RECTANGLE, Cells, room_for
from .shots import shots_of
from .slopes import slopes_of
from .walks import STRIDE, hemisphere

PATCH_SAMPLES, CLOTH_SAMPLES, CLOSE_SAMPLES = 24, 120, 960
"""Places of a patch that a lamp's light on it is averaged over: of walls, of cloth that sends it on
in lobes, where it counts by which ways and where it falls, and of such cloth close to a window,
where it comes from everywhere: a lobe is as wide as a hundredth of all ways.
"""
MOST_HOT, HOT = 96, 5.0
"""Patches of walls taken as sources of their own, at most, and how much brighter than the mean they
are.
"""


@dataclass(frozen=True)
class Light:
    """All that a source at full and white does in a world."""

    emitters: tuple
    """Lamps, and their images in mirrors."""
    straight: np.ndarray
    """(p, 3) illuminance of each patch by lamps and their images alone [lx]."""
    lit: np.ndarray
    """(p, 3) illuminance of each patch straight from lamps and lobes [lx]."""
    radiosity: np.ndarray
    """(p, 3) of each patch, all orders [lm/m^2]."""
    glows: tuple
    """Surfaces that are followed as sources."""
    rest: np.ndarray
    """(p, 3) radiosity that is left to the links, the glows taken out."""
    lobed: np.ndarray
    """(p, 3) radiosity for rays that a lobe turned last: less what glows send on through lobes."""
    slopes: np.ndarray
    """(p, 3, 3) how that changes over flat patches; see :func:`moth.transport.slopes.slopes_of`."""

    @property
    def by_turn(self):
        """What patches send to rays that nothing, a lobe or a mirror turned last: see
        :data:`moth.transport.walks.STRAIGHT`.
        """
        return self.rest, self.lobed, self.radiosity


def light_key(world, source):
    """What tells a source in a world from all others: of their content hashes."""
    return f"light/{world.key}/{source.key}"


def light_of(world, source):
    """A source's light, worked out once a world.

    Parameters
    ----------
    world : moth.world.World
    source : Source

    Returns
    -------
    Light

    Raises
    ------
    Cancelled
    """
    return _light(Keyed(light_key(world, source), (world, source)))


@cached("light in a world")
def _light(keyed):
    world, source = keyed.value
    p = world.patches
    lit = np.zeros((len(p), 3))
    emitters, beams, shots = [], [], []
    for emitter in source.emitters:
        images = with_images(world, [emitter])
        emitters += images
        found = [arrival for image in images for arrival in _on_patches(world, image)]
        shot = shots_of(world, emitter)
        if shot is not None:
            found = _conserved(world, found, shot)
            shots.append(shot)
        for arrival in found:
            lit += arrival.level
            beams += raised(world, arrival)
        checkpoint()
    straight = lit.copy()
    beams, by_lobes = _in_rounds(world, beams)
    lit += by_lobes
    beams, faint = faint_apart(world, beams)
    given = p.albedo * lit + p.through * lit[p.other] + faint
    if source.sky is not None:
        open_sky = np.flatnonzero(p.sky[:, 2] != 0)
        given[open_sky] += np.pi * source.sky(p.sky[open_sky])[:, None]
    checkpoint()
    radiosity = _balanced(world, given, (straight, shots))
    glows, rest = _glows(world, given, radiosity, beams, (straight, shots))
    more, sent, faint = _through_cloths(world, glows, radiosity)
    glows, rest, lobed = glows + more, rest + faint, radiosity - sent
    taken = np.zeros(len(p), bool)
    for glow in glows:
        taken[glow.patches] = True
    slopes = slopes_of(world, rest, taken)
    return Light(tuple(emitters), straight, lit, radiosity, tuple(glows), rest, lobed, slopes)


ROUNDS, LEAST_ROUND = 5, 0.003
"""Times that light in lobes is followed to other cloth, at most, and the part of it below which it
is let be.
"""


def _in_rounds(world, beams):
    """All lobes that some raise, with themselves, and what they bring to the patches (p, 3) [lx].

    What left in lobes may fall on another cloth and leave that in lobes again: book lights, two and
    three cloths one after another.
    """
    lit = np.zeros((len(world.patches), 3))
    fresh, first = beams, sum(b.flux for b in beams)
    for _ in range(ROUNDS):
        if not fresh or sum(b.flux for b in fresh) < LEAST_ROUND * first:
            break
        found = _conserved(world, from_beams(world, fresh), lobe_shots(world, _cells_of(fresh)))
        fresh = []
        for arrival in found:
            lit += arrival.level
            fresh += raised(world, arrival)
        beams = beams + fresh
    return beams, lit


def _on_patches(world, emitter):
    """How a lamp, or its image, lights the patches.

    Returns
    -------
    list of Arrival
    """
    earth = world.patches.sky[:, 2] == 0
    again = on_lobed(world) & earth
    close = np.isin(world.patches.sheet, world.patches.sheet[again & _close(world, emitter)])
    return [
        _on_some(world, emitter, np.flatnonzero(chosen), count)
        for chosen, count in (
            (earth & ~again, PATCH_SAMPLES),
            (again & ~close, CLOTH_SAMPLES),
            (again & close, CLOSE_SAMPLES),
        )
        if chosen.any()
    ]


def _on_some(world, emitter, patches, count):
    points, normals = samples(world, patches, count)
    rays = _rays_to(emitter, points, normals, count)
    _close_by(world, emitter, patches, (points, normals), rays)
    found = Samples(
        _arrived(world, emitter, rays).reshape(-1, count, 1) / count,
        rays.directions.reshape(-1, count, 3),
        rays.distances.reshape(-1, count),
        points.reshape(-1, count, 3),
    )
    return arrivals(world, patches, found)


def _conserved(world, found, shots):
    """Levels on patches brought into line with the flux that the lamp sends.

    Places of a patch tell its level well where that is even, and rays from the lamp where it is
    not: each patch is told by what errs less. What rays do not tell is scaled to the flux that is
    left, so that none is lost and none made up.
    """
    p = world.patches
    gathered = sum(_bright(a.level) for a in found) * p.area
    told, count, way = shots.over(len(p))
    total = max(float(told.sum()), 1e-12)
    # Rays find a patch's flux to one over the root of their number, a few places in a beam's edge
    # err by up to the whole.
    error = 1 / np.sqrt(np.maximum(count, 1))
    doubt = sum(_bright(a.level) * a.doubt for a in found) * p.area / np.maximum(gathered, 1e-12)
    apart = (np.abs(told - gathered) > 1.5 * told * error) & (doubt > error)
    expected = gathered / total * len(shots.patch)
    by_rays = (
        ((count >= MANY) & apart)
        | ((count < 1) & (expected > MANY))
        | ((gathered <= 0) & (count > 0))
    )
    rest = float(gathered[~by_rays].sum())
    scale = (float(told.sum()) - float(told[by_rays].sum())) / rest if rest > 0 else 1.0
    scale = float(np.clip(scale, 0.8, 1.25))
    wanted = np.where(by_rays, told, gathered * scale)
    factor = np.divide(wanted, gathered, out=np.zeros(len(p)), where=gathered > 0)
    out = [a._replace(level=a.level * factor[:, None]) for a in found]
    missed = (gathered <= 0) & (told > 0)
    if missed.any():
        # So narrow a beam that no place of the patch was in it.
        mean = way / np.maximum(told, 1e-12)[:, None]
        length = np.linalg.norm(mean, axis=1)
        hue = sum((a.level * p.area[:, None]).sum(0) for a in found)
        level = np.where(missed, told / p.area, 0)[:, None] * hue / max(float(_bright(hue)), 1e-12)
        out.append(
            plain_arrival(level)._replace(
                incoming=mean / np.maximum(length, 1e-9)[:, None],
                spread=np.clip(length, 0, 1),
                middle=shots.middles(len(p)),
            )
        )
    return out


def _bright(level):
    """Luminance of light that is told by one number or by three."""
    return level @ (LUMINANCE if level.shape[-1] == 3 else np.ones(1))


def _cells_of(sources):
    return [source.cells for source in sources]


MANY = 40
"""Rays on a patch from which they are believed against its places."""


def _rays_to(emitter, points, normals, count):
    """One ray a place to a place on the face, weighted by the illuminance it would bring [lx].

    Each `count` places in a row belong together, and so do theirs on the face: they fill it evenly,
    or a cloth near a panel would be blotched.

    Returns
    -------
    Rays
    """
    rays = room_for(len(points))
    rays_to(points, normals, count, STRIDE, emitter.face, rays)
    return rays


def _arrived(world, emitter, rays):
    """What of the rays' light gets through [lx, shape (n,)]."""
    lit = np.flatnonzero(rays.weights > 0)
    rays.weights[lit] *= arrive(
        world, emitter, rays.origins[lit], rays.directions[lit], rays.distances[lit]
    )
    return rays.weights


def _close(world, emitter):
    """Which patches are close to a window or to a lamp's flat face, shape (p,)."""
    p = world.patches
    if emitter.via or emitter.kind != RECTANGLE:
        return np.zeros(len(p), bool)
    middle = world.mesh.vertices[world.mesh.faces[p.triangle[p.start[:-1]]]].mean(1)
    reach = 1.2 * emitter.half
    off = middle - emitter.centre
    return (np.abs(off @ emitter.face.forward) < 0.35 * reach) & (
        np.linalg.norm(off, axis=1) < 1.6 * reach
    )


def _close_by(world, emitter, patches, places, rays):
    """Cloth close to a window or a lamp's face: rays spread by the cosine instead of places on the
    face, whose inverse squares have no end. Overwrites those of the rays.
    """
    points, normals = places
    count = len(points) // len(patches)
    near = np.flatnonzero(_close(world, emitter)[patches])
    if not len(near):
        return
    rows = (near[:, None] * count + np.arange(count)).ravel()
    way, radiance, reached = np.empty((len(rows), 3)), np.empty(len(rows)), np.empty(len(rows))
    hemisphere(np.ascontiguousarray(normals[rows[::count]]), count, False, 5, way)
    face_rays(points[rows], way, emitter.face, radiance, reached)
    rays.directions[rows], rays.distances[rows] = way, reached * 0.9999
    rays.weights[rows] = np.pi * radiance


def _glows(world, given, radiosity, beams, straight):
    """Surfaces to follow as sources, and the radiosity that is left."""
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
    return glows + _hot_walls(world, given, rest, earth, straight), rest


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


FEW_BRIGHT, MOST_BRIGHT = 64, 48
"""Light that leaves fewer patches than this (as its squares tell) is known by too few rays of the
links where it arrives: the brightest of them are then sent on place by place.
"""


def _balanced(world, given, straight):
    """Radiosity (p, 3) of all orders.

    From a patch of sun on the floor of a hall a ceiling gets light by a handful of links' rays: as
    a whole 14 % too much of it came to a face there.
    """
    p = world.patches
    earth = p.sky[:, 2] == 0
    flux = np.where(earth, given @ LUMINANCE * p.area, 0)
    if flux.sum() ** 2 >= FEW_BRIGHT * (flux**2).sum():
        return balance(world, given)
    rest = given.copy()
    glows = _bright_sheets(world, rest)
    glows += _hot_walls(world, given, rest, earth, straight, MOST_BRIGHT)
    if not glows:
        return balance(world, given)
    sent, lit = given - rest, np.zeros_like(given)
    on = np.flatnonzero(earth)
    lit[on] = _by_glows(world, glows, on)
    if world.sheets:
        lit += turned_light(world, _cells_of(glows))
    once = p.albedo * lit + p.through * lit[p.other]
    return sent + balance(world, rest + once)


def _bright_sheets(world, rest):
    """The brightest patches of cloths and boards, without lobes, taken out of the rest."""
    p = world.patches
    followed = [k for ring in rings_of(world.sheets).values() for k in ring]
    flux = np.where(np.isin(p.sheet, followed), rest @ LUMINANCE * p.area, 0)
    bright = np.argsort(-flux)[:MOST_BRIGHT]
    bright = bright[flux[bright] > 0]
    glows = []
    for k, side in np.unique(np.stack([p.sheet[bright], p.side[bright]], 1), axis=0):
        mine = bright[(p.sheet[bright] == k) & (p.side[bright] == side)]
        cells = sheet_cells(world, mine, rest[mine] * p.area[mine, None] / np.pi)
        glows.append(Glow(int(k), mine, cells))
        rest[mine] = 0
    return glows


BOOK = 0.02
"""Part of all light that a cloth, board or lit wall sends evenly, and part of that which falls on
other cloths with lobes, from which it is followed through these: a book light, two cloths. By the
rays of gathering points alone it made blotches of up to a third.
"""


def _through_cloths(world, glows, radiosity):
    """What cloths and boards pass on in lobes of what glows send evenly.

    Returns
    -------
    beams : list of Glow
    sent : ndarray, shape (p, 3)
        The part of the radiosity that these follow.
    faint : ndarray, shape (p, 3)
        What the faint ones of these lobes come to, as radiosity of the sheets that they leave.
    """
    p = world.patches
    sent, faint = np.zeros((2, *radiosity.shape))
    lobed = np.flatnonzero([sends_lobes(sheet) for sheet in world.sheets])
    total = float((np.where(p.sky[:, 2] == 0, radiosity @ LUMINANCE, 0) * p.area).sum())
    senders: list = []
    beams: list = []
    for glow in glows if len(lobed) else []:
        flux = np.pi * float((glow.cells.flux @ LUMINANCE).sum())
        if glow.via or flux <= BOOK * total:
            continue
        own = np.zeros(len(p), np.float32)
        own[glow.patches] = radiosity[glow.patches] @ LUMINANCE
        fell = (links(world) @ own) * p.area
        if fell[np.isin(p.sheet, lobed) & (p.sheet != glow.sheet)].sum() > BOOK * flux:
            senders.append(matte_glow(glow))
            sent[glow.patches] = radiosity[glow.patches]
    lit = links(world) @ sent.astype(np.float32) if senders else sent
    fell = (lit @ LUMINANCE) * p.area
    for k in lobed if senders else []:
        m = world.sheets[k].material
        for side in (1, -1):
            mine = np.flatnonzero((p.sheet == k) & (p.side == side))
            if fell[mine].sum() > LEAST_ROUND * fell.sum():
                found = from_glows(world, senders, mine)
                beams += raised(world, found) if found is not None else []
            else:
                faint[mine] += m.lobe * lit[mine] * m.hue
                faint[p.other[mine]] += m.forward * lit[mine] * m.hue
    beams, weak = faint_apart(world, _in_rounds(world, beams)[0])
    found = [beam_glow(world, beam) for beam in beams]
    return found + lobe_images(world, found), sent, faint + weak


UNSURE, PLACES = 3e-4, 192
"""Patches that a few places may tell wrong by this part of all that the bright ones send are told
by so many: in a corner what goes from wall to wall was up to a quarter off.
"""


def _by_glows(world, glows, patches):
    """What glows bring to patches, mean of their places, shape (len(patches), 3) [lx]."""

    def at_places(chosen, count):
        shading = matte(*samples(world, chosen, count))
        light = sum(arriving(world, glow, shading) for glow in glows)
        return light.reshape(len(chosen), count, 3)

    light = at_places(patches, PLAIN_SAMPLES)
    out = light.mean(1)
    power = (light @ LUMINANCE) * world.patches.area[patches, None]
    doubt = power.std(1) / PLAIN_SAMPLES
    again = np.flatnonzero(doubt > UNSURE * power.mean(1).sum())
    if len(again):
        out[again] = at_places(patches[again], PLACES).mean(1)
    return out


def _hot_walls(world, given, rest, earth, straight, most=MOST_HOT):
    """Patches of walls, furniture and slats that a lamp lights far above the mean, taken out of the
    rest.

    straight: what lamps bring to each patch (p, 3) [lx], and their Shots.
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
    owner = np.array([s.piece + 1000.0 for s in world.sheets] + [0.0])[p.sheet[hot]]
    offset = np.where(
        owner > 0, owner, (mesh.vertices[mesh.faces[first[hot], 0]] * normal).sum(1).round(2)
    )[:, None]
    _, plane = np.unique(np.concatenate([normal, offset], 1) + 0.0, axis=0, return_inverse=True)
    glows = []
    for k in range(int(plane.max()) + 1):
        mine = hot[plane == k]
        owner, cells, lamps, even = _parted(world, mine, shots)
        which = mine[owner]
        # What lamps bring lies where they bring it; all else is spread evenly.
        own = np.minimum(p.albedo[which] * level[which], rest[which])
        flux = own * lamps[:, None] + (rest[which] - own) * even[:, None]
        rest[mine] = 0
        glows.append(Glow(-1, which, cells._replace(flux=flux * p.area[which, None] / np.pi)))
    return glows


CUTS, CUT_FROM = 3, 0.3
"""A hot patch is parted into so many each way where lamps' light on it differs by this part of its
mean: at the edge of a beam.
"""
ENOUGH = 12 * CUTS * CUTS
"""Rays on a patch that tell how it is lit."""


def _parted(world, patches, shots):
    """Cells of flat patches, finer where lamps light them unevenly: (patch each cell is of, cells,
    their shares of lamps' light, their shares of even light).
    """
    p, n, parts = world.patches, len(patches), CUTS**2
    cells = sheet_cells(world, patches)
    whole = _rectangles(p, patches, cells)
    even: Any = np.full((n, parts), 1 / parts)
    own: Any = np.full((n, parts, 3), np.nan)
    for at in np.flatnonzero(~whole):
        even[at], own[at] = _box(world, patches[at], cells, at)
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


def _box(world, patch, cells, at):
    """Make a cell the rectangle about a flat patch of any outline; what part of the patch lies in
    each of its parts, and the middle of that, nan where there is none.
    """
    points, _ = samples(world, np.array([patch]), 256)
    normal = cells.normal[at]
    along = np.cross(normal, [0.0, 0.0, 1.0] if abs(normal[2]) < 0.9 else [1.0, 0.0, 0.0])
    along /= np.linalg.norm(along)
    up = np.cross(normal, along)
    a, b = points @ along, points @ up
    (a0, a1), (b0, b1) = (a.min(), a.max()), (b.min(), b.max())
    cells.middle[at] = (a0 + a1) / 2 * along + (b0 + b1) / 2 * up + (points[0] @ normal) * normal
    cells.along[at] = max((a1 - a0) / 2, 1e-4) * along
    cells.up[at] = max((b1 - b0) / 2, 1e-4) * up
    i, j = (
        np.clip(((k - low) / max(high - low, 1e-9) * CUTS).astype(int), 0, CUTS - 1)
        for k, low, high in ((a, a0, a1), (b, b0, b1))
    )
    count = np.bincount(i * CUTS + j, minlength=CUTS**2)
    sums = np.zeros((CUTS**2, 3))
    np.add.at(sums, i * CUTS + j, points)
    with np.errstate(invalid="ignore"):
        return count / len(points), sums / count[:, None]
