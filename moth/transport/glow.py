"""Lit surfaces as sources: cells of cloth, board and wall that send light on, diffuse and in
lobes.
"""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit

from ..engine.sampling import R2_U, R2_V, lobe_density, shifts
from .kernels import OFF_SURFACE, _ggx

_FAST: dict[str, Any] = {"nogil": True, "cache": True, "fastmath": True, "error_model": "numpy"}


@dataclass(frozen=True)
class Glow:
    """Cells of one flat surface that face the same way."""

    sheet: int
    """Index of the sheet, -1 for a wall or a piece of furniture."""
    patches: np.ndarray
    """(k,) that it stands for."""
    cells: np.ndarray
    """(k, 12): middle (3), unit normal (3), half vectors along (3) and up (3) [m]."""
    flux: np.ndarray
    """(k, 3) diffuse: radiosity times area over pi [cd], the intensity straight ahead."""
    beam: np.ndarray
    """(k, 8): axis of the lobe (3), its concentration, and its flux (3) [lm]; last a spare."""

    @property
    def has_beam(self):
        return bool((self.beam[:, 4:7] > 0).any())


TOUCHING = 1e-4
"""Places less far before a cell's plane [m] are on it, and it lights none of its own: a place a
rounding before it would take all its light.
"""


@njit(inline="always")
def _from_cell(cell, beam, luminous, has_beam, px, py, pz, ax, ay, az):
    """Diffuse and lobe geometry of one cell at a place: unit direction, 1/d^2 cos, lobe density /
    d^2.
    """
    lx, ly, lz = cell[0] + ax - px, cell[1] + ay - py, cell[2] + az - pz
    d2 = max(lx * lx + ly * ly + lz * lz, 1e-8)
    inv = 1 / math.sqrt(d2)
    before = -(lx * cell[3] + ly * cell[4] + lz * cell[5])
    lx, ly, lz = lx * inv, ly * inv, lz * inv
    if before <= TOUCHING:
        return lx, ly, lz, 0.0, 0.0, inv
    cose = before * inv
    lobe = 0.0
    if has_beam and beam[3] > 0:
        lobe = lobe_density(beam[3], -(lx * beam[0] + ly * beam[1] + lz * beam[2])) / d2
    return lx, ly, lz, cose / d2, lobe, inv


NEAR, MIDDLING = 9.0, 36.0
"""Squared distances, in half diagonals of a cell: within the first it is taken exactly, within the
second at four places, beyond at one.

One place errs by two percent at six half diagonals, on axis.
"""


@njit(**_FAST)
def _exact(cell, px, py, pz, nx, ny, nz, corners, kept):
    """Lambert's polygon formula for one cell, cut at the receiver's horizon: (illuminance, solid
    angle) at luminance 1.

    corners, kept: room for (5, 3) each. Lambert, Photometria (1760), after Baum et al., "Improving
    radiosity solutions" (1989).
    """
    # The four corners as seen from the place, in order around the cell.
    for k in range(4):
        s = -1.0 if k == 0 or k == 3 else 1.0
        t = -1.0 if k < 2 else 1.0
        corners[k, 0] = cell[0] + s * cell[6] + t * cell[9] - px
        corners[k, 1] = cell[1] + s * cell[7] + t * cell[10] - py
        corners[k, 2] = cell[2] + s * cell[8] + t * cell[11] - pz
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
def shine(
    points,
    normals,
    toward,
    finish,
    roughness,
    normal_reflectance,
    dome,
    cells,
    flux,
    beam,
    has_beam,
    out,
    sheen,
    least=1,
):
    """Illuminance and sheen that cells bring to points, nothing in the way.

    dome: 1 answers as a dome meter, 0 as a plain surface; least: points each way that a cell is
    taken at. Adds to out (n, 3) [lx] and sheen (n, 3) [cd/m^2].
    """
    k = len(cells)
    corners, kept = np.empty((5, 3)), np.empty((5, 3))
    for i in range(len(points)):
        px, py, pz = points[i, 0], points[i, 1], points[i, 2]
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        f0 = 0.0
        alpha = 1.0
        if finish[i] >= 0:
            f0, alpha = normal_reflectance[finish[i]], roughness[finish[i]]
        r0, g0, b0 = 0.0, 0.0, 0.0
        r1, g1, b1 = 0.0, 0.0, 0.0
        for c in range(k):
            cell = cells[c]
            dx, dy, dz = cell[0] - px, cell[1] - py, cell[2] - pz
            d2 = dx * dx + dy * dy + dz * dz
            size2 = (
                cell[6] * cell[6]
                + cell[7] * cell[7]
                + cell[8] * cell[8]
                + cell[9] * cell[9]
                + cell[10] * cell[10]
                + cell[11] * cell[11]
            )
            above = dx * nx + dy * ny + dz * nz
            if above * above > size2 and above < 0:
                continue
            if dx * cell[3] + dy * cell[4] + dz * cell[5] >= -TOUCHING:
                continue
            steps, exact = least, False
            if d2 < MIDDLING * size2:
                # Near, or cut by the horizon: the middle would stand badly for the whole.
                exact = d2 < NEAR * size2 or above * above < size2
                steps = max(least, 3 if exact and has_beam else 2)
            elif above * above < size2 and d2 < 2 * MIDDLING * size2:
                # Farther off it brings too little for the cut to count.
                exact = True
            if exact:
                light, solid = _exact(cell, px, py, pz, nx, ny, nz, corners, kept)
                crossx = cell[7] * cell[11] - cell[8] * cell[10]
                crossy = cell[8] * cell[9] - cell[6] * cell[11]
                crossz = cell[6] * cell[10] - cell[7] * cell[9]
                e = (0.5 * (solid + light) if dome else light) / (
                    4 * math.sqrt(crossx * crossx + crossy * crossy + crossz * crossz)
                )
                r0, g0, b0 = r0 + e * flux[c, 0], g0 + e * flux[c, 1], b0 + e * flux[c, 2]
            for a in range(steps):
                for b in range(steps):
                    ox, oy, oz = 0.0, 0.0, 0.0
                    if steps > 1:
                        s, t = (2 * a + 1) / steps - 1, (2 * b + 1) / steps - 1
                        ox, oy, oz = (
                            s * cell[6] + t * cell[9],
                            s * cell[7] + t * cell[10],
                            s * cell[8] + t * cell[11],
                        )
                    lx, ly, lz, plain, lobe, inv = _from_cell(
                        cell, beam[c], True, has_beam, px, py, pz, ox, oy, oz
                    )
                    if plain <= 0:
                        continue
                    cosine = lx * nx + ly * ny + lz * nz
                    if cosine <= 0:
                        continue
                    response = 0.5 * (1 + cosine) if dome else cosine
                    w = 1.0 / (steps * steps)
                    e, q = plain * response * w, lobe * response * w
                    r, g, bl = (
                        e * flux[c, 0] + q * beam[c, 4],
                        e * flux[c, 1] + q * beam[c, 5],
                        e * flux[c, 2] + q * beam[c, 6],
                    )
                    if exact:
                        r0, g0, b0 = r0 + q * beam[c, 4], g0 + q * beam[c, 5], b0 + q * beam[c, 6]
                    else:
                        r0, g0, b0 = r0 + r, g0 + g, b0 + bl
                    if f0 > 0 and alpha > 0:
                        h = _ggx(
                            nx,
                            ny,
                            nz,
                            toward[i, 0],
                            toward[i, 1],
                            toward[i, 2],
                            lx,
                            ly,
                            lz,
                            alpha,
                            f0,
                        )
                        r1, g1, b1 = r1 + r * h, g1 + g * h, b1 + bl * h
        out[i, 0] += r0
        out[i, 1] += g0
        out[i, 2] += b0
        if f0 > 0 and alpha > 0:
            sheen[i, 0] += r1
            sheen[i, 1] += g1
            sheen[i, 2] += b1


@njit(**_FAST)
def glow_rays(
    points,
    normals,
    dome,
    cells,
    flux,
    beam,
    has_beam,
    count,
    seed,
    origins,
    directions,
    distances,
    weights,
):
    """Rays from points to cells drawn by the light that each would bring; their mean visibility is
    that of the light.

    Writes (n * count, 3) origins and directions, (n * count,) distances [m]; weights 0 where a
    point gets no light.
    """
    k = len(cells)
    running = np.empty(k)
    for i in range(len(points)):
        px, py, pz = points[i, 0], points[i, 1], points[i, 2]
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        total = 0.0
        for c in range(k):
            lx, ly, lz, plain, lobe, _ = _from_cell(
                cells[c], beam[c], True, has_beam, px, py, pz, 0.0, 0.0, 0.0
            )
            cosine = lx * nx + ly * ny + lz * nz
            if cosine > 0:
                response = 0.5 * (1 + cosine) if dome else cosine
                total += response * (
                    plain * (flux[c, 0] + flux[c, 1] + flux[c, 2])
                    + lobe * (beam[c, 4] + beam[c, 5] + beam[c, 6])
                )
            running[c] = total
        su, sv = shifts(i + seed)
        c = 0
        for j in range(count):
            at = i * count + j
            origins[at, 0], origins[at, 1], origins[at, 2] = (
                px + OFF_SURFACE * nx,
                py + OFF_SURFACE * ny,
                pz + OFF_SURFACE * nz,
            )
            directions[at, 0], directions[at, 1], directions[at, 2], distances[at], weights[at] = (
                nx,
                ny,
                nz,
                0.0,
                0.0,
            )
            if total <= 0:
                continue
            pick = (j + su) / count * total
            while c < k - 1 and running[c] < pick:
                c += 1
            s, t = (
                2 * ((sv + j * R2_U) % 1.0) - 1,
                2 * ((su + j * R2_V) % 1.0) - 1,
            )
            cell = cells[c]
            dx = cell[0] + s * cell[6] + t * cell[9] - origins[at, 0]
            dy = cell[1] + s * cell[7] + t * cell[10] - origins[at, 1]
            dz = cell[2] + s * cell[8] + t * cell[11] - origins[at, 2]
            d = math.sqrt(dx * dx + dy * dy + dz * dz)
            if d < 1e-6:
                continue
            directions[at, 0], directions[at, 1], directions[at, 2] = dx / d, dy / d, dz / d
            distances[at], weights[at] = max(d - 3e-3, 0.0), 1.0


def glow_visibility(world, glow, points, normals, count, dome=False, seed=0):
    """Part of a glow's light that reaches each point.

    Parameters
    ----------
    world : moth.world.World
    glow : Glow
    points, normals : ndarray, shape (n, 3)
    count : int
        Rays a point.
    dome : bool
    seed : int

    Returns
    -------
    ndarray, shape (n,)
        0..1; 0 where nothing would arrive.
    """
    n = len(points)
    part = np.zeros(n)
    step = max(1, 200_000 // count)
    for low in range(0, n, step):
        some = slice(low, min(n, low + step))
        m = (some.stop - low) * count
        origins, directions = np.empty((m, 3), np.float32), np.empty((m, 3), np.float32)
        distances, weights = np.empty(m, np.float32), np.empty(m, np.float32)
        glow_rays(
            points[some],
            normals[some],
            dome,
            glow.cells,
            glow.flux,
            glow.beam,
            glow.has_beam,
            count,
            seed + low,
            origins,
            directions,
            distances,
            weights,
        )
        ask = np.flatnonzero(weights > 0)
        seen = np.zeros(m, np.float32)
        seen[ask] = world.clear(origins[ask], directions[ask], distances[ask])
        part[some] = seen.reshape(-1, count).mean(1)
    return part
