"""One source's light in a world: lamps and their images, surfaces that glow, and the balance of all
the rest.
"""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from ..colour import LUMINANCE
from ..engine.caching import Keyed, cached
from ..engine.cancelling import checkpoint
from ..materials import lobe_concentration
from .arrival import arrive, with_images
from .exchange import balance, samples
from .glow import Glow, glow_visibility, matte, shine
from .kernels import OFF_SURFACE, face_rays, rays_to
from .operands import RECTANGLE, Cells, room_for
from .walks import hemisphere

PATCH_SAMPLES = 24
"""Places of a patch that a lamp's light on it is averaged over."""
MOST_HOT, HOT = 96, 5.0
"""Patches of walls taken as sources of their own, at most, and how much brighter than the mean they
are.
"""


@dataclass(frozen=True)
class Light:
    """All that a source at full and white does in a world."""

    emitters: tuple
    """Lamps, and their images in mirrors."""
    lit: np.ndarray
    """(p, 3) illuminance of each patch straight from lamps and lobes [lx]."""
    radiosity: np.ndarray
    """(p, 3) of each patch, all orders [lm/m^2]."""
    glows: tuple
    """Surfaces that are followed as sources."""
    rest: np.ndarray
    """(p, 3) radiosity that is left to the links, the glows taken out."""


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
    emitters = with_images(world, source.emitters)
    lit = np.zeros((len(p), 3))
    beams = []
    for emitter in emitters:
        for level, incoming, spread in _on_patches(world, emitter):
            lit += level[:, None]
            beams += _lobes(world, np.repeat(level[:, None], 3, 1), incoming, spread)
        checkpoint()
    straight = lit.copy()
    # What left in lobes may fall on another cloth and leave that in lobes again: book lights,
    # double cloth.
    fresh = beams
    for _ in range(2):
        level, incoming, spread = _from_beams(world, fresh)
        lit += level
        fresh = _lobes(world, level, incoming, spread) if fresh else []
        beams += fresh
        if not fresh:
            break
    beams, faint = _faint_apart(world, beams)
    given = p.albedo * lit + p.through * lit[p.other] + faint
    if source.sky is not None:
        open_sky = np.flatnonzero(p.sky[:, 2] != 0)
        given[open_sky] += np.pi * source.sky(p.sky[open_sky])[:, None]
    checkpoint()
    radiosity = balance(world, given)
    glows, rest = _glows(world, given, radiosity, beams, emitters, straight)
    return Light(tuple(emitters), lit, radiosity, tuple(glows), rest)


def _on_patches(world, emitter):
    """Level on each patch [lx], flux-weighted way it comes along, and how nearly all of it is one
    way (0..1).

    Returns them once, or quarter by quarter where cloth with lobes is lit from many sides at once:
    by a window, by a lamp close by.
    """
    p = world.patches
    earth = np.flatnonzero(p.sky[:, 2] == 0)
    points, normals = samples(world, earth, PATCH_SAMPLES)
    rays = _rays_to(emitter, points, normals, PATCH_SAMPLES)
    if emitter.via is None and emitter.kind == RECTANGLE:
        _close_by(world, emitter, earth, (points, normals), rays)
    sums = _arrived(world, emitter, rays).reshape(-1, PATCH_SAMPLES)
    ways = rays.directions.reshape(-1, PATCH_SAMPLES, 3)
    whole = _ways(len(p), earth, sums, ways)
    quarter = np.zeros(sums.shape, int)
    for k, sheet in enumerate(world.sheets):
        mine = np.flatnonzero(
            (p.sheet[earth] == k) & (whole[2][earth] < ONE_WAY) & (whole[0][earth] > 0)
        )
        if max(sheet.material.forward, sheet.material.lobe) >= 0.005:
            # About the middle of what arrives: the sky is only above.
            middle = -whole[1][earth[mine], None]
            quarter[mine] = ((ways[mine] - middle) @ sheet.right > 0) + 2 * (
                (ways[mine] - middle) @ sheet.up > 0
            )
    if not quarter.any():
        return [whole]
    parts = [_ways(len(p), earth, np.where(quarter == k, sums, 0), ways) for k in range(4)]
    return [
        (level, incoming, np.where(whole[2] < ONE_WAY, spread**EVEN, spread))
        for level, incoming, spread in parts
    ]


ONE_WAY = 0.9
"""Resultant over which light on cloth is taken as one lobe's worth; 1 is all from one point."""
EVEN = 1.6
"""Power on the resultant of a quarter. Light that fills it evenly has a flat top and clear ends,
and moments alone would make
its lobe too peaked; with this the error is halved for lobes of 8 to 60 degrees under a sky, a
window and a near panel (docs/light-model.md)."""


def _ways(count, earth, sums, ways):
    """Mean level, flux-weighted way and its resultant of samples, patch by patch."""
    level, incoming, spread = np.zeros(count), np.zeros((count, 3)), np.zeros(count)
    level[earth] = sums.mean(1)
    way = -(sums[:, :, None] * ways).sum(1) / np.maximum(sums.sum(1), 1e-12)[:, None]
    length = np.linalg.norm(way, axis=1)
    incoming[earth] = way / np.maximum(length, 1e-9)[:, None]
    spread[earth] = np.clip(length, 0, 1)
    return level, incoming, spread


def _rays_to(emitter, points, normals, count):
    """One ray a place to a place on the face, weighted by the illuminance it would bring [lx].

    Each `count` places in a row belong together, and so do theirs on the face: they fill it evenly,
    or a cloth near a panel would be blotched.

    Returns
    -------
    Rays
    """
    rays = room_for(len(points))
    rays_to(points, normals, count, _STRIDE, emitter.face, rays)
    return rays


def _arrived(world, emitter, rays):
    """What of the rays' light gets through [lx, shape (n,)]."""
    lit = np.flatnonzero(rays.weights > 0)
    rays.weights[lit] *= arrive(
        world, emitter, rays.origins[lit], rays.directions[lit], rays.distances[lit]
    )
    return rays.weights


_STRIDE = 7
"""Has no divisor in common with the numbers of places used."""


def _close_by(world, emitter, earth, places, rays):
    """Cloth close to a window or a lamp's face: rays spread by the cosine instead of places on the
    face, whose inverse squares have no end. Overwrites those of the rays.
    """
    points, normals = places
    p = world.patches
    first = p.triangle[p.start[:-1]][earth]
    middle = world.mesh.vertices[world.mesh.faces[first]].mean(1)
    reach = 1.2 * emitter.half
    off = middle - emitter.centre
    near = np.flatnonzero(
        (np.abs(off @ emitter.face.forward) < 0.35 * reach)
        & (np.linalg.norm(off, axis=1) < 1.6 * reach)
    )
    if not len(near):
        return
    rows = (near[:, None] * PATCH_SAMPLES + np.arange(PATCH_SAMPLES)).ravel()
    way, radiance, reached = np.empty((len(rows), 3)), np.empty(len(rows)), np.empty(len(rows))
    hemisphere(np.ascontiguousarray(normals[rows[::PATCH_SAMPLES]]), PATCH_SAMPLES, False, 5, way)
    face_rays(points[rows], way, emitter.face, radiance, reached)
    rays.directions[rows], rays.distances[rows] = way, reached * 0.9999
    rays.weights[rows] = np.pi * radiance


def _resultant(kappa):
    """Mean cosine to its axis of a lobe."""
    return 1 / np.tanh(kappa) - 1 / kappa


def _concentration(resultant):
    """Lobe of a given mean cosine; Banerjee et al., JMLR 6 (2005)."""
    r = np.clip(resultant, 1e-3, 1 - 1e-6)
    return r * (3 - r * r) / (1 - r * r)


class Lobes(NamedTuple):
    """Lobes that leave patches of one face of a sheet."""

    patches: np.ndarray
    """(k,)"""
    axis: np.ndarray
    """(k, 3) unit"""
    kappa: np.ndarray
    """(k,) concentration"""
    power: np.ndarray
    """(k, 3) [lm]"""


def _lobes(world, level, incoming, spread):
    """Lobes that light from one way raises on sheets, a list of Lobes."""
    p, out = world.patches, []
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
                axis = incoming[mine].copy()
                leaving = p.other[mine]
                if back:
                    axis -= 2 * (axis @ sheet.normal)[:, None] * sheet.normal
                    leaving = mine
                kappa = _concentration(_resultant(lobe_concentration(width)) * spread[mine])
                power = share * level[mine] * p.area[mine, None] * m.hue
                out.append(Lobes(leaving, axis, kappa, power))
    return out


FAINT = 0.05
"""Lobes with less than this part of the strongest on the same sheet are taken as diffuse."""


def _faint_apart(world, beams):
    """Strong lobes, and the radiosity of the faint ones: light on a cloth from all sides leaves it
    without a direction.
    """
    p = world.patches
    strongest: dict = {}
    for beam in beams:
        key = (p.sheet[beam.patches[0]], p.side[beam.patches[0]])
        strongest[key] = max(strongest.get(key, 0.0), float(beam.power.sum()))
    strong, faint = [], np.zeros((len(p), 3))
    for beam in beams:
        key = (p.sheet[beam.patches[0]], p.side[beam.patches[0]])
        if beam.power.sum() >= FAINT * strongest[key]:
            strong.append(beam)
        else:
            faint[beam.patches] += beam.power / p.area[beam.patches, None]
    return strong, faint


def _from_beams(world, beams):
    """Level on each patch that lobes bring [lx] (3), with its way and spread."""
    p = world.patches
    level, way = np.zeros((len(p), 3)), np.zeros((len(p), 3))
    if not beams:
        return level, way, np.zeros(len(p))
    earth = np.flatnonzero(p.sky[:, 2] == 0)
    count = 8
    points, normals = samples(world, earth, count)
    shading = matte(points, normals)
    for beam in beams:
        glow = _beam_glow(world, beam)
        out, nothing = np.zeros((len(points), 3)), np.zeros((len(points), 3))
        shine(shading, False, glow.cells, out, nothing)
        some = np.flatnonzero(out.sum(1) > 0)
        out[some] *= glow_visibility(world, glow, points[some], normals[some], 4)[:, None]
        strength = beam.power.sum(1, keepdims=True)
        middle = (glow.cells.middle * strength).sum(0) / max(float(strength.sum()), 1e-12)
        toward = points - middle
        toward /= np.maximum(np.linalg.norm(toward, axis=1, keepdims=True), 1e-9)
        here = out.reshape(-1, count, 3).mean(1)
        level[earth] += here
        way[earth] += (out.sum(1)[:, None] * toward).reshape(-1, count, 3).sum(1)
    length = np.linalg.norm(way, axis=1)
    amount = np.maximum(level.sum(1) * count, 1e-12)
    # Width of the glowing sheet as seen from the patch is left out: its middle stands for it.
    return level, way / np.maximum(length, 1e-12)[:, None], np.clip(length / amount, 0, 1)


def _sheet_cells(world, patches, flux=None, lobes=None):
    """Cells of patches made of rectangles' halves.

    flux: (k, 3) diffuse; lobes: Lobes of these patches, in their order.
    """
    mesh, p = world.mesh, world.patches
    t = p.triangle[p.start[patches]]
    a, b, c = (mesh.vertices[mesh.faces[t, k]] for k in range(3))
    # rectangle() cuts a cell a b c d into a b c and a c d: the fourth corner closes the
    # parallelogram.
    normal = mesh.flat[t] * p.side[patches, None]
    k, none = len(patches), np.zeros((len(patches), 3))
    return Cells(
        (a + c) / 2,
        np.ascontiguousarray(normal, float),
        (b - a) / 2,
        (c - b) / 2,
        none if flux is None else flux,
        none if lobes is None else lobes.axis,
        np.zeros(k) if lobes is None else lobes.kappa,
        none if lobes is None else lobes.power,
    )


def _beam_glow(world, lobes):
    """A glow of lobes, without diffuse light."""
    sheet = int(world.patches.sheet[lobes.patches[0]])
    return Glow(sheet, lobes.patches, _sheet_cells(world, lobes.patches, lobes=lobes))


def _glows(world, given, radiosity, beams, emitters, straight):
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
    for k, sheet in enumerate(world.sheets):
        if sheet.cells[0] * sheet.cells[1] < 4:
            continue
        for side in (1, -1):
            patches = np.flatnonzero((p.sheet == k) & (p.side == side))
            lobes = groups.pop((k, side), [])
            if power[patches].sum() < 0.004 * total and not lobes:
                continue
            flux = rest[patches] * p.area[patches, None] / np.pi
            rest[patches] = 0
            place = {int(patch): at for at, patch in enumerate(patches)}
            cells = _sheet_cells(world, patches, flux)._replace(
                axis=np.zeros((len(patches), 3)),
                kappa=np.zeros(len(patches)),
                power=np.zeros((len(patches), 3)),
            )
            extra = []
            for beam in lobes:
                at = np.array([place[int(w)] for w in beam.patches])
                if cells.power[at].any():
                    extra.append(beam)
                else:
                    cells.axis[at], cells.kappa[at], cells.power[at] = beam[1:]
            glows.append(Glow(k, patches, cells))
            # A second lamp's lobes over the same cells leave along their own axes.
            glows += [_beam_glow(world, beam) for beam in extra]
    glows += [_beam_glow(world, beam) for lobes in groups.values() for beam in lobes]
    return glows + _hot_walls(world, given, rest, earth, emitters, straight), rest


def _hot_walls(world, given, rest, earth, emitters, straight):
    """Patches of walls, boxes and slats that a lamp lights far above the mean, taken out of the
    rest.
    """
    p, mesh = world.patches, world.mesh
    first = p.triangle[p.start[:-1]]
    slats = np.array([s.cells[0] * s.cells[1] < 4 for s in world.sheets] + [False], bool)[p.sheet]
    flat_faced = earth & ((p.sheet < 0) | slats) & (p.start[1:] - p.start[:-1] == 2)
    bright = given @ LUMINANCE
    mean = float((bright * p.area)[earth].sum() / p.area[earth].sum()) + 1e-12
    hot = np.flatnonzero(flat_faced & (bright > HOT * mean) & (p.area < 4))
    hot = hot[np.argsort(-(bright * p.area)[hot])][:MOST_HOT]
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
        # Slats are narrow already.
        owner, cells, shares = _parted(
            _sheet_cells(world, mine), emitters if p.sheet[mine[0]] < 0 else (), world
        )
        which = mine[owner]
        # What lamps bring lies where they bring it; all else is spread evenly.
        own = np.minimum(p.albedo[which] * straight[which], rest[which])
        count = np.bincount(owner)[owner][:, None]
        flux = (own * shares[:, None] + (rest[which] - own) / count) * p.area[which, None] / np.pi
        rest[mine] = 0
        glows.append(Glow(-1, which, cells._replace(flux=flux)))
    return glows


PARTS, UNEVEN = 3, 0.3
"""A hot patch is parted into so many each way where lamps' light on it differs by this part of its
mean: at the edge of a beam.
"""


def _parted(cells, emitters, world):
    """Cells cut finer where lamps light them unevenly: (cell each piece is of, pieces, their shares
    of the lamps' light).
    """
    fine = 2 * PARTS
    steps = (np.arange(fine) + 0.5) / fine * 2 - 1
    s, t = (k.ravel() for k in np.meshgrid(steps, steps, indexing="ij"))
    points = (
        cells.middle[:, None] + s[:, None] * cells.along[:, None] + t[:, None] * cells.up[:, None]
    ).reshape(-1, 3)
    normals = np.repeat(cells.normal, fine * fine, axis=0)
    level = np.zeros(len(points))
    for emitter in emitters:
        level += _level_at(world, emitter, points + OFF_SURFACE * normals, normals, fine * fine)
    level = level.reshape(-1, PARTS, 2, PARTS, 2).mean((2, 4)).reshape(-1, PARTS * PARTS)
    mean = level.mean(1)
    cut = ((level.max(1) - level.min(1)) > UNEVEN * mean) & (mean > 0)
    whole = np.flatnonzero(~cut)
    steps = (np.arange(PARTS) + 0.5) / PARTS * 2 - 1
    s, t = (k.ravel() for k in np.meshgrid(steps, steps, indexing="ij"))
    owner = np.repeat(np.flatnonzero(cut), PARTS * PARTS)
    s, t = (np.tile(k, int(cut.sum()))[:, None] for k in (s, t))
    which = np.concatenate([whole, owner])
    pieces = Cells(*(part[which] for part in cells))
    n = len(whole)
    pieces.middle[n:] += s * pieces.along[n:] + t * pieces.up[n:]
    pieces.along[n:] /= PARTS
    pieces.up[n:] /= PARTS
    shares = level[cut] / (PARTS * PARTS * mean[cut, None])
    return which, pieces, np.concatenate([np.ones(n), shares.ravel()])


def _level_at(world, emitter, points, normals, count):
    """Illuminance that a lamp brings to places [lx], one sample of its face each; `count` places in
    a row are of one cell.
    """
    return _arrived(world, emitter, _rays_to(emitter, points, normals, count))
