"""Lit surfaces as sources: cells of cloth, board and wall that send light on, diffuse and in
lobes.
"""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit

from ..engine.sampling import GOLDEN, R2_U, R2_V, lobe_densities, lobe_density, shifts
from .arrival import arrive
from .emitters import Leg
from .gloss import no_gloss, returned, strand_gloss
from .kernels import off_surface
from .operands import Cells, Rays, Shading, no_strands, room_for
from .patterns import frames, pattern_densities, pattern_density
from .vectors import at_row, dot, minus, put, scaled

_FAST: dict[str, Any] = {"nogil": True, "cache": True, "fastmath": True, "error_model": "numpy"}


@dataclass(frozen=True)
class Glow:
    """Cells of one flat surface that face the same way, or of a round shade, out or in."""

    sheet: int
    """Index of the sheet, -1 for a wall or a piece of furniture."""
    patches: np.ndarray
    """(k,) that it stands for."""
    cells: Cells
    via: tuple[Leg, ...] = ()
    """Mirrors that this is the image in, the last first."""

    @property
    def extent(self):
        """Its middle, and how far it reaches from there [m]."""
        c = self.cells
        middle = c.middle.mean(0)
        corners = [c.middle + s * c.along + t * c.up - middle for s in (-1, 1) for t in (-1, 1)]
        return middle, float(max(np.linalg.norm(k, axis=1).max() for k in corners))

    @property
    def has_beam(self):
        return bool((self.cells.power > 0).any())


def matte(points, normals):
    """Places that have no sheen.

    Returns
    -------
    Shading
    """
    n = len(points)
    return Shading(points, normals, normals, no_gloss(n), no_strands(n))


TOUCHING = 1e-4
"""Places less far before a cell's plane [m] are on it, and it lights none of its own: a place a
rounding before it would take all its light.
"""


@njit(inline="always")
def _from_cell(place, facing, p):
    """A place of a cell as seen from another: unit direction, cos / d^2, 1 / d^2; the last two are
    0 from behind.

    place, facing: of the cell.
    """
    to = (place[0] - p[0], place[1] - p[1], place[2] - p[2])
    d2 = max(dot(to, to), 1e-8)
    inv = 1 / math.sqrt(d2)
    before = -dot(to, facing)
    ray = scaled(to, inv)
    if before <= TOUCHING:
        return ray, 0.0, 0.0
    return ray, before * inv / d2, 1 / d2


FAINT_LOBE = 25.0
"""Squared angle over a lobe's width, e^-12 of its middle, beyond which it lights nothing."""


@njit(**_FAST)
def places_across(ratio):
    """Places each way that a lobe must be taken at, by the square of what it turns over the cell
    against its own width; errs by under a percent.
    """
    if ratio < 0.3:
        return 1
    return 2 if ratio < 1.2 else 3 if ratio < 4 else 5


@njit(**_FAST)
def _turned(axis, off, reach):
    """A lobe's axis at a place off the cell's middle."""
    x, y, z = axis[0] * reach + off[0], axis[1] * reach + off[1], axis[2] * reach + off[2]
    inv = 1 / math.sqrt(max(x * x + y * y + z * z, 1e-12))
    return x * inv, y * inv, z * inv


@njit(**_FAST)
def _sent(lobes, c, part, ray):
    """Density [1/sr] of a cell's lobe against a ray that comes to a part of it.

    lobes: fields of Cells from the second on; part: from -1 to 1 along and up.
    """
    facings, alongs, ups, axes, kappas, reaches, shaped, patterns = lobes
    s, t = part
    reach = reaches[c]
    along, up = at_row(alongs, c), at_row(ups, c)
    if shaped[c]:
        a, b = math.sqrt(dot(along, along)), math.sqrt(dot(up, up))
        x = -dot(ray, along) / a - s * a / reach
        y = -dot(ray, up) / b - t * b / reach
        return pattern_density(patterns, c, x, y, -dot(ray, at_row(facings, c)))
    axis = at_row(axes, c)
    if s != 0 or t != 0:
        off = (
            s * along[0] + t * up[0],
            s * along[1] + t * up[1],
            s * along[2] + t * up[2],
        )
        axis = _turned(axis, off, reach)
    return lobe_density(kappas[c], -dot(ray, axis))


NEAR, MIDDLING = 9.0, 36.0
"""Squared distances, in half diagonals of a cell: within the first it is taken exactly, within the
second at four places, beyond at one.

One place errs by two percent at six half diagonals, on axis.
"""


@njit(**_FAST)
def _exact(cell, p, normal, corners, kept):
    """Lambert's polygon formula for one cell, cut at the receiver's horizon: (illuminance, solid
    angle) at luminance 1.

    cell: its middle and half vectors; corners, kept: room for (5, 3) each. Lambert, Photometria
    (1760), after Baum et al., "Improving radiosity solutions" (1989).
    """
    middle, along, up = cell
    nx, ny, nz = normal
    # The four corners as seen from the place, in order around the cell.
    for k in range(4):
        s = -1.0 if k == 0 or k == 3 else 1.0
        t = -1.0 if k < 2 else 1.0
        corners[k, 0] = middle[0] + s * along[0] + t * up[0] - p[0]
        corners[k, 1] = middle[1] + s * along[1] + t * up[1] - p[1]
        corners[k, 2] = middle[2] + s * along[2] + t * up[2] - p[2]
    n = 0
    for k in range(4):
        j = (k + 1) % 4
        here = corners[k, 0] * nx + corners[k, 1] * ny + corners[k, 2] * nz
        there = corners[j, 0] * nx + corners[j, 1] * ny + corners[j, 2] * nz
        if here >= 0:
            for i in range(3):
                kept[n, i] = corners[k, i]
            n += 1
        if (here >= 0) != (there >= 0):
            part = here / (here - there)
            for i in range(3):
                kept[n, i] = corners[k, i] + part * (corners[j, i] - corners[k, i])
            n += 1
    if n < 3:
        return 0.0, 0.0
    for k in range(n):
        length = math.sqrt(max(kept[k, 0] ** 2 + kept[k, 1] ** 2 + kept[k, 2] ** 2, 1e-16))
        for i in range(3):
            kept[k, i] /= length
    light, solid = 0.0, 0.0
    for k in range(n):
        j = (k + 1) % n
        cx = kept[k, 1] * kept[j, 2] - kept[k, 2] * kept[j, 1]
        cy = kept[k, 2] * kept[j, 0] - kept[k, 0] * kept[j, 2]
        cz = kept[k, 0] * kept[j, 1] - kept[k, 1] * kept[j, 0]
        sine = math.sqrt(cx * cx + cy * cy + cz * cz)
        dot = kept[k, 0] * kept[j, 0] + kept[k, 1] * kept[j, 1] + kept[k, 2] * kept[j, 2]
        if sine > 1e-12:
            light += math.atan2(sine, dot) / sine * (cx * nx + cy * ny + cz * nz)
        if 0 < k < n - 1:
            # Van Oosterom & Strackee (1983), triangle by triangle from the first corner.
            triple = cx * kept[0, 0] + cy * kept[0, 1] + cz * kept[0, 2]
            first = kept[0, 0] * kept[k, 0] + kept[0, 1] * kept[k, 1] + kept[0, 2] * kept[k, 2]
            last = kept[0, 0] * kept[j, 0] + kept[0, 1] * kept[j, 1] + kept[0, 2] * kept[j, 2]
            solid += 2 * math.atan2(triple, 1 + first + dot + last)
    return abs(light) / 2, abs(solid)


@njit(**_FAST)
def shine(shading, dome, cells, out, sheen, least=1):
    """Illuminance and sheen that cells bring to points, nothing in the way.

    shading: Shading; dome: whether they answer as dome meters, else as plain surfaces; cells:
    Cells; least: points each way that a cell is taken at. Adds to out (n, 3) [lx] and sheen (n, 3)
    [cd/m^2].
    """
    # Taken apart once: counting references at every access would double the time.
    middles, facings, alongs, ups, fluxes, axes, kappas, powers, reaches, shaped, patterns = cells
    lobes = facings, alongs, ups, axes, kappas, reaches, shaped, patterns
    points, normals, toward, gloss, strands = shading
    shiny = gloss.shiny
    row, ways, once, twice = strands
    corners, kept = np.empty((5, 3)), np.empty((5, 3))
    has_beam = (powers > 0).any()
    for i in range(len(points)):
        p, n = at_row(points, i), at_row(normals, i)
        r0, g0, b0 = 0.0, 0.0, 0.0
        r1, g1, b1 = 0.0, 0.0, 0.0
        for c in range(len(middles)):
            middle, facing = at_row(middles, c), at_row(facings, c)
            along, up = at_row(alongs, c), at_row(ups, c)
            to = minus(middle, p)
            d2 = dot(to, to)
            size2 = dot(along, along) + dot(up, up)
            above = dot(to, n)
            if above * above > size2 and above < 0:
                continue
            if dot(to, facing) >= -TOUCHING:
                continue
            steps, exact = least, False
            if d2 < MIDDLING * size2:
                # Near, or cut by the horizon: the middle would stand badly for the whole.
                exact = d2 < NEAR * size2 or above * above < size2
                steps = max(least, 3 if exact and has_beam else 2)
            elif above * above < size2 and d2 < 2 * MIDDLING * size2:
                # Farther off it brings too little for the cut to count.
                exact = True
            flux, power = at_row(fluxes, c), at_row(powers, c)
            beam = has_beam and kappas[c] > 0
            if beam:
                kappa, axis, reach = kappas[c], at_row(axes, c), reaches[c]
                # Over the cell the axis turns one way and the sight of it the other: against the
                # lobe's own width.
                inv = 1 / math.sqrt(d2)
                turn = math.sqrt(size2) * (inv + 1 / reach)
                chord = math.sqrt(max(2 + 2 * dot(to, axis) * inv, 0.0))
                if chord - turn > math.sqrt(FAINT_LOBE / kappa):
                    beam = False
                else:
                    steps = max(steps, places_across(turn * turn * kappa))
            if exact:
                light, solid = _exact((middle, along, up), p, n, corners, kept)
                cross = (
                    along[1] * up[2] - along[2] * up[1],
                    along[2] * up[0] - along[0] * up[2],
                    along[0] * up[1] - along[1] * up[0],
                )
                e = (0.5 * (solid + light) if dome else light) / (4 * math.sqrt(dot(cross, cross)))
                r0, g0, b0 = r0 + e * flux[0], g0 + e * flux[1], b0 + e * flux[2]
            for a in range(steps):
                for b in range(steps):
                    s, t = 0.0, 0.0
                    if steps > 1:
                        s, t = (2 * a + 1) / steps - 1, (2 * b + 1) / steps - 1
                    place = (
                        middle[0] + s * along[0] + t * up[0],
                        middle[1] + s * along[1] + t * up[1],
                        middle[2] + s * along[2] + t * up[2],
                    )
                    ray, plain, density = _from_cell(place, facing, p)
                    if plain <= 0:
                        continue
                    cosine = dot(ray, n)
                    if cosine <= 0:
                        continue
                    density = density * _sent(lobes, c, (s, t), ray) if beam else 0.0
                    response = 0.5 * (1 + cosine) if dome else cosine
                    w = 1.0 / (steps * steps)
                    e, q = plain * response * w, density * response * w
                    r, g, bl = (
                        e * flux[0] + q * power[0],
                        e * flux[1] + q * power[1],
                        e * flux[2] + q * power[2],
                    )
                    if exact:
                        r0, g0, b0 = r0 + q * power[0], g0 + q * power[1], b0 + q * power[2]
                    else:
                        r0, g0, b0 = r0 + r, g0 + g, b0 + bl
                    if shiny[i]:
                        if row[i] >= 0:
                            hair = row[i], ways, once, twice
                            hr, hg, hb = strand_gloss(hair, n, at_row(toward, i), ray)
                        else:
                            hr = hg = hb = returned(gloss, i, n, at_row(toward, i), ray)
                        r1, g1, b1 = r1 + r * hr, g1 + g * hg, b1 + bl * hb
        out[i, 0] += r0
        out[i, 1] += g0
        out[i, 2] += b0
        if shiny[i]:
            sheen[i, 0] += r1
            sheen[i, 1] += g1
            sheen[i, 2] += b1


WIDE_CELL, PLACES, MOST_PLACES = 1.0, 4, 128
"""Squared size of a cell over the width of its lobe where that arrives, from which more than one
place of the cell is asked; so many times that squared size are, up to the most. Of two cloths a few
centimetres apart a place sees a lobe from a hundredth of a cell: too few would turn its mean way.
"""


@njit(**_FAST)
def lobes_between(places, cells, amount, ways, distances):
    """What lobes of each cell bring to each place, nothing in the way.

    places: (points, normals). Writes (n, k) density times cosine over squared distance, the mean
    of the ways that it comes (n, k, 3), shorter than one as they differ, and distances to the cell
    along them [m]. Each pair looks at other places of
    its cell, and not in the order in which the points lie over their patch: only their difference
    counts, and it must be spread too.
    """
    points, normals = places
    middles, facings, alongs, ups, _, axes, kappas, powers, reaches, shaped, patterns = cells
    lobes = facings, alongs, ups, axes, kappas, reaches, shaped, patterns
    for i in range(len(points)):
        p, n = at_row(points, i), at_row(normals, i)
        for c in range(len(middles)):
            kappa, axis, reach = kappas[c], at_row(axes, c), reaches[c]
            if kappa <= 0 or powers[c, 0] + powers[c, 1] + powers[c, 2] <= 0:
                continue
            middle, facing = at_row(middles, c), at_row(facings, c)
            along, up = at_row(alongs, c), at_row(ups, c)
            to = minus(middle, p)
            d2 = max(dot(to, to), 1e-8)
            size2 = dot(along, along) + dot(up, up)
            size, inv = math.sqrt(size2), 1 / math.sqrt(d2)
            if dot(to, n) < -size or dot(to, facing) >= -TOUCHING:
                continue
            chord = math.sqrt(max(2 + 2 * dot(to, axis) * inv, 0.0))
            if chord - size * (inv + 1 / reach) > math.sqrt(FAINT_LOBE / kappa):
                continue
            wide = size2 * kappa / d2
            count = min(max(int(PLACES * wide), 6), MOST_PLACES) if wide > WIDE_CELL else 1
            total, x, y, z = 0.0, 0.0, 0.0, 0.0
            j = (i * len(middles) + c) * GOLDEN
            for q in range(count):
                s = 2 * ((j + (c + q) * R2_U) % 1.0) - 1
                t = 2 * ((7.3 * j + q * R2_V) % 1.0) - 1
                off = (
                    s * along[0] + t * up[0],
                    s * along[1] + t * up[1],
                    s * along[2] + t * up[2],
                )
                place = (middle[0] + off[0], middle[1] + off[1], middle[2] + off[2])
                ray, plain, density = _from_cell(place, facing, p)
                cosine = dot(ray, n)
                if plain > 0 and cosine > 0:
                    a = density * cosine * _sent(lobes, c, (s, t), ray)
                    total, x, y, z = total + a, x + a * ray[0], y + a * ray[1], z + a * ray[2]
            if total <= 0:
                continue
            long = 1 / math.sqrt(x * x + y * y + z * z)
            way = (x * long, y * long, z * long)
            amount[i, c] = total / count
            put(ways[i], c, (x / total, y / total, z / total))
            distances[i, c] = max(dot(to, facing) / min(dot(way, facing), -1e-6), 0.0)


@njit(**_FAST)
def glow_rays(spots, dome, cells, count, seed, rays):
    """Rays from points to cells drawn by the light that each would bring; their mean visibility is
    that of the light.

    spots: (points, normals). Fills n * count rays; weights 0 where a point gets no light.
    """
    points, normals = spots
    middles, facings, alongs, ups, fluxes, axes, kappas, powers, reaches, shaped, patterns = cells
    lobes = facings, alongs, ups, axes, kappas, reaches, shaped, patterns
    origins, directions, distances, weights = rays
    k = len(middles)
    running = np.empty(k)
    for i in range(len(points)):
        p, n = at_row(points, i), at_row(normals, i)
        total = 0.0
        for c in range(k):
            ray, plain, density = _from_cell(at_row(middles, c), at_row(facings, c), p)
            density = density * _sent(lobes, c, (0.0, 0.0), ray) if kappas[c] > 0 else 0.0
            cosine = dot(ray, n)
            if cosine <= 0:
                # Cut by the horizon, its middle below: what is above is what the place sees.
                to = minus(at_row(middles, c), p)
                above = dot(to, n) + abs(dot(at_row(alongs, c), n)) + abs(dot(at_row(ups, c), n))
                cosine = 0.5 * above / math.sqrt(dot(to, to)) if above > 0 else 0.0
            if cosine > 0:
                response = 0.5 * (1 + cosine) if dome else cosine
                total += response * (
                    plain * (fluxes[c, 0] + fluxes[c, 1] + fluxes[c, 2])
                    + density * (powers[c, 0] + powers[c, 1] + powers[c, 2])
                )
            running[c] = total
        su, sv = shifts(i + seed)
        start = off_surface(points, normals, i)
        c = 0
        for j in range(count):
            at = i * count + j
            put(origins, at, start)
            put(directions, at, n)
            distances[at], weights[at] = 0.0, 0.0
            if total <= 0:
                continue
            pick = (j + su) / count * total
            while c < k - 1 and running[c] < pick:
                c += 1
            s, t = (
                2 * ((sv + j * R2_U) % 1.0) - 1,
                2 * ((su + j * R2_V) % 1.0) - 1,
            )
            to = (
                middles[c, 0] + s * alongs[c, 0] + t * ups[c, 0] - origins[at, 0],
                middles[c, 1] + s * alongs[c, 1] + t * ups[c, 1] - origins[at, 1],
                middles[c, 2] + s * alongs[c, 2] + t * ups[c, 2] - origins[at, 2],
            )
            d = math.sqrt(dot(to, to))
            if d < 1e-6:
                continue
            put(directions, at, scaled(to, 1 / d))
            distances[at], weights[at] = max(d - 3e-3, 0.0), 1.0


def glow_visibility(world, glow, places, count, dome=False, seed=0, skip=None):
    """Part of a glow's light that reaches each point.

    Parameters
    ----------
    world : moth.world.World
    glow : Glow
    places : tuple of two ndarrays, shape (n, 3)
        Points [m] and their normals.
    count : int
        Rays a point.
    dome : bool
    seed : int
    skip : ndarray, shape (n,), optional
        What is nearer than this throws no shade [m].

    Returns
    -------
    ndarray, shape (n,)
        0..1; 0 where nothing would arrive.
    """
    points, normals = places
    n = len(points)
    skip = np.zeros(n) if skip is None else skip
    part = np.zeros(n)
    step = max(1, 200_000 // count)
    for low in range(0, n, step):
        some = slice(low, min(n, low + step))
        m = (some.stop - low) * count
        rays: Rays = room_for(m)
        glow_rays((points[some], normals[some]), dome, glow.cells, count, seed + low, rays)
        ask = np.flatnonzero(rays.weights > 0)
        past = np.minimum(np.repeat(skip[some], count)[ask], rays.distances[ask]).astype(np.float32)
        rays.origins[ask] += past[:, None] * rays.directions[ask]
        rays.distances[ask] -= past
        seen = np.zeros(m, np.float32)
        seen[ask] = arrive(
            world, glow, rays.origins[ask], rays.directions[ask], rays.distances[ask]
        )
        part[some] = seen.reshape(-1, count).mean(1)
    return part


def lobes_along(cells, rows, ways, off=None):
    """Density of cells' lobes [1/sr] along ways that leave them.

    Parameters
    ----------
    cells : Cells
    rows : ndarray of int, shape (...)
        Of the cells.
    ways : ndarray, shape (..., 3)
        Unit vectors away from the cells.
    off : ndarray, shape (..., 3), optional
        From the cells' middles to where the ways begin [m].

    Returns
    -------
    ndarray, shape (...)
    """
    turn = 0.0 if off is None else off / cells.reach[rows][..., None]
    axis = cells.axis[rows] + turn
    axis /= np.maximum(np.linalg.norm(axis, axis=-1, keepdims=True), 1e-12)
    out = lobe_densities(np.maximum(cells.kappa[rows], 1e-3), (axis * ways).sum(-1))
    on = cells.shaped[rows]
    if on.any():
        local = np.einsum("nij,nj->ni", frames(cells)[rows[on]], (ways - turn)[on])
        out[on] = pattern_densities(cells.pattern, rows[on], local)
    return out


def lobes_and_glow(place, facing, cells, steps=3):
    """What cells bring to a disc, nothing in the way, each in several parts.

    Parameters
    ----------
    place, facing : ndarray, shape (3,)
        Of the disc [m], and the unit vector it looks along.
    cells : Cells
    steps : int
        Parts of a cell each way.

    Returns
    -------
    toward : ndarray, shape (n, 3)
        Unit vectors to the parts.
    distances : ndarray, shape (n,)
        [m]
    level : ndarray, shape (n, 3)
        [lx]
    """
    k = (2 * np.arange(steps) + 1) / steps - 1
    s, t = (v.reshape(-1, 1, 1) for v in np.meshgrid(k, k))
    off = s * cells.along + t * cells.up
    to = cells.middle + off - place
    distance = np.maximum(np.linalg.norm(to, axis=2), 1e-4)
    to /= distance[..., None]
    leaving, cosine = -(to * cells.normal).sum(2), to @ facing
    lit = (leaving * distance > TOUCHING) & (cosine > 0)
    rows = np.broadcast_to(np.arange(len(cells.middle)), to.shape[:2])
    density = lobes_along(cells, rows, -to, off)
    share = np.where(lit, cosine / distance**2, 0)[..., None] / steps**2
    level = share * (leaving[..., None] * cells.flux + density[..., None] * cells.power)
    return to.reshape(-1, 3), distance.ravel(), level.reshape(-1, 3)
