"""Walks of light between surfaces: from places outward until something diffuse is met, past cloth
and mirrors.
"""

import math
from typing import NamedTuple

import numpy as np
from numba import njit

from ..engine.sampling import GOLDEN, R2_U, R2_V, scrambled, shifts
from ..materials import lobe_concentration
from ..world.covered import CLOSED, OPEN, is_open
from ..world.world import left_by_air
from .kernels import OFF_SURFACE

LEGS = 7
"""Turns after which a walk is given up; the weight left by then is below a percent."""
TRIES = 300
"""Places of a triangle that are tried for one that is open."""
STRIDE = 37
"""Has no divisor in common with the numbers of places and rays used."""


class Outline(NamedTuple):
    """Patches as triangles."""

    vertices: np.ndarray
    faces: np.ndarray
    flat: np.ndarray
    """See :class:`moth.world.Mesh`."""
    triangle: np.ndarray
    open: np.ndarray
    share: np.ndarray
    start: np.ndarray
    side: np.ndarray
    """See :class:`moth.world.Patches`."""


def outline_of(world):
    """The patches of a world as the compiled loops take them."""
    m, p = world.mesh, world.patches
    return Outline(m.vertices, m.faces, m.flat, p.triangle, p.open, p.share, p.start, p.side)


class Faces(NamedTuple):
    """What a walk must know of triangles; see :class:`moth.world.Mesh`."""

    flat: np.ndarray
    front: np.ndarray
    back: np.ndarray
    sheet: np.ndarray


class Walkers(NamedTuple):
    """Rays under way."""

    origins: np.ndarray
    directions: np.ndarray
    weights: np.ndarray
    owner: np.ndarray
    turned: np.ndarray
    """What turned it last: see :data:`STRAIGHT`."""

    def some(self, which):
        return Walkers(*(part[which] for part in self))


STRAIGHT, LOBED, MIRRORED = 0, 1, 2
"""What turned a ray last: nothing yet, for it came through cloth, if through any, as it went in; a
cloth's or board's lobe; or a mirror.
"""


class Met(NamedTuple):
    """Where one leg of each walk ended."""

    patch: np.ndarray
    weight: np.ndarray
    going: np.ndarray
    """The walks that go on, as many as the leg returns."""


OPTICS = np.dtype(
    [(n, float) for n in ("straight", "forward", "forward_kappa", "lobe", "lobe_kappa", "mirror")]
)
"""Shares of a sheet, and the concentrations of its lobes."""


@njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def patch_samples(outline, chosen, count, origins, normals):
    """Places on patches and the unit normals there, `count` a patch, evenly spread by area.

    Writes (len(chosen) * count, 3) origins [m], lifted off the surface by half a millimetre: a
    window pane is a millimetre off its wall, and normals.
    """
    vertices, faces, flat, triangle, bare, share, start, side = outline
    for k in range(len(chosen)):
        p = chosen[k]
        shift = (p * R2_U) % 1.0
        for j in range(count):
            at = k * count + j
            # One even sequence picks the triangle, two others the place in it.
            pick = (j + 0.5) / count
            low, high = start[p], start[p + 1] - 1
            while low < high:
                middle = (low + high) // 2
                if share[middle] < pick:
                    low = middle + 1
                else:
                    high = middle
            t = triangle[low]
            # What furniture covers is passed over.
            u = (shift + (j + 1) * R2_U) % 1.0
            v = (shift * 1.7 + (j + 1) * R2_V) % 1.0
            if u + v > 1:
                u, v = 1 - u, 1 - v
            tries = 0 if bare[low] == OPEN or bare[low] == CLOSED else TRIES
            while tries > 0 and not is_open(bare[low], u, v):
                tries -= 1
                u = (shift + (j + 1) * R2_U + tries * R2_V) % 1.0
                v = (shift * 1.7 + (j + 1) * R2_V + tries * R2_U) % 1.0
                if u + v > 1:
                    u, v = 1 - u, 1 - v
            a, b, c = faces[t, 0], faces[t, 1], faces[t, 2]
            for i in range(3):
                normals[at, i] = flat[t, i] * side[p]
                origins[at, i] = (
                    vertices[a, i] * (1 - u - v)
                    + vertices[b, i] * u
                    + vertices[c, i] * v
                    + OFF_SURFACE * normals[at, i]
                )


@njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def hemisphere(normals, count, even, seed, directions):
    """Directions over the half sphere before each normal, `count` each.

    even: uniform in solid angle (pdf 1 / 2 pi); otherwise by the cosine (pdf cos / pi).
    Writes (n * count, 3).
    """
    for i in range(len(normals)):
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        s = 1.0 if nz >= 0 else -1.0
        a = -1.0 / (s + nz)
        b = nx * ny * a
        su, sv = shifts(i + seed)
        for j in range(count):
            # Not in the order of places on a patch, whose first half lies in its first triangle:
            # steep rays would all leave from there, and flat ones from the other.
            k = (j * STRIDE) % count
            u = (k + su) / count
            v = (sv + k * GOLDEN) % 1.0
            z = 1 - u if even else math.sqrt(1 - u)
            r = math.sqrt(max(0.0, 1 - z * z))
            x, y = r * math.cos(2 * math.pi * v), r * math.sin(2 * math.pi * v)
            at = i * count + j
            directions[at, 0] = x * (1 + s * nx * nx * a) + y * b + z * nx
            directions[at, 1] = x * s * b + y * (s + ny * ny * a) + z * ny
            directions[at, 2] = -x * s * nx - y * ny + z * nz


@njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _onward(hits, walkers, faces, cloth_and_air, leg, met):
    """One leg of every walk: what patch it met with what weight, and which walks go on; moves
    origins and directions.

    hits: triangles and distances [m]; cloth_and_air: (s,) of dtype OPTICS, and the extinction of
    the air [1/m].
    """
    primitive, distance = hits
    optics, extinction = cloth_and_air
    origins, directions, weights, owner, turned = walkers
    flat, front, back, sheet = faces
    patch_met, weight_met, goes_on = met
    going = 0
    for i in range(len(primitive)):
        patch_met[i], weight_met[i] = -1, 0.0
        t = primitive[i]
        if t < 0:
            continue
        if extinction > 0:
            weights[i] *= left_by_air(extinction, distance[i])
        slant = (
            flat[t, 0] * directions[i, 0]
            + flat[t, 1] * directions[i, 1]
            + flat[t, 2] * directions[i, 2]
        )
        patch_met[i] = front[t] if slant < 0 else back[t]
        weight_met[i] = weights[i]
        k = sheet[t]
        if k < 0:
            continue
        cloth = optics[k]
        straight, forward, lobe, mirror = cloth.straight, cloth.forward, cloth.lobe, cloth.mirror
        onward = straight + forward + lobe + mirror
        if onward * weights[i] < 0.004 or leg >= 6:
            continue
        # One way on is drawn, with the weight of all: the mean is that of following every way.
        h = scrambled(np.uint64(owner[i]) * np.uint64(9781) + np.uint64(leg * 7919 + i * 31 + 17))
        pick = float(h & np.uint64(0xFFFF)) / 65536.0 * onward
        u = float((h >> np.uint64(16)) & np.uint64(0xFFFF)) / 65536.0
        v = float(scrambled(h) & np.uint64(0xFFFF)) / 65536.0
        dx, dy, dz = directions[i, 0], directions[i, 1], directions[i, 2]
        through = pick < straight + forward
        if not through:
            dx, dy, dz = (
                dx - 2 * slant * flat[t, 0],
                dy - 2 * slant * flat[t, 1],
                dz - 2 * slant * flat[t, 2],
            )
        if pick >= straight:
            turned[i] = LOBED if pick < straight + forward + lobe else MIRRORED
        spread = 0.0
        if straight <= pick < straight + forward:
            spread = cloth.forward_kappa
        elif through == False and pick < straight + forward + lobe:  # noqa: E712
            spread = cloth.lobe_kappa
        weight = weights[i] * onward
        if spread > 0:
            incoming = abs(dx * flat[t, 0] + dy * flat[t, 1] + dz * flat[t, 2])
            w = 1 + math.log(max(u + (1 - u) * math.exp(-2 * spread), 1e-30)) / spread
            r = math.sqrt(max(0.0, 1 - w * w))
            cx, cy = r * math.cos(2 * math.pi * v), r * math.sin(2 * math.pi * v)
            s = 1.0 if dz >= 0 else -1.0
            a = -1.0 / (s + dz)
            b = dx * dy * a
            x = cx * (1 + s * dx * dx * a) + cy * b + w * dx
            y = cx * s * b + cy * (s + dy * dy * a) + w * dy
            z = -cx * s * dx - cy * dy + w * dz
            before = dx * flat[t, 0] + dy * flat[t, 1] + dz * flat[t, 2]
            after = x * flat[t, 0] + y * flat[t, 1] + z * flat[t, 2]
            if before * after <= 0:
                continue
            # Walked backward: light that comes in along the new way leaves in a lobe about it, with
            # 1 / cos of the way out.
            weight *= abs(after) / max(incoming, 0.05)
            dx, dy, dz = x, y, z
        if weight < 0.004:
            continue
        for c in range(3):
            origins[i, c] += distance[i] * directions[i, c]
        origins[i, 0] += 1e-4 * dx
        origins[i, 1] += 1e-4 * dy
        origins[i, 2] += 1e-4 * dz
        directions[i, 0], directions[i, 1], directions[i, 2] = dx, dy, dz
        weights[i] = weight
        goes_on[going] = i
        going += 1
    return going


def optics_of(world):
    """Shares of each sheet as plain numbers for the walks."""
    rows = [
        (
            m.straight,
            m.forward,
            lobe_concentration(m.forward_width),
            m.lobe,
            lobe_concentration(m.lobe_width),
            m.mirror,
        )
        for m in (s.material for s in world.sheets)
    ]
    return np.array(rows, OPTICS)


def walk(world, origins, directions, owner, dark=None):
    """Follow rays until nothing of their weight is left.

    Parameters
    ----------
    world : moth.world.World
    origins, directions : ndarray of float32, shape (n, 3)
        Overwritten.
    owner : ndarray of int, shape (n,)
        Whom each ray belongs to.
    dark : ndarray, shape (n,), optional
        What each ray meets nearer than this [m] sends nothing.

    Returns
    -------
    list of (owner, patch, weight, turned, far)
        Arrays, five a leg: the patches met, the share of their radiance that comes back along the
        ray, what turned the ray last (:data:`STRAIGHT`, LOBED or MIRRORED), and how far they are
        from the leg's beginning [m].
        The first leg is what is seen directly; later ones came past cloth or by way of mirrors.
    """
    mesh, optics = world.mesh, optics_of(world)
    faces = Faces(mesh.flat, mesh.front, mesh.back, mesh.sheet)
    walkers = Walkers(
        np.ascontiguousarray(origins, np.float32),
        np.ascontiguousarray(directions, np.float32),
        np.ones(len(owner), np.float32),
        np.asarray(owner),
        np.full(len(owner), STRAIGHT, np.int8),
    )
    found = []
    for leg in range(LEGS):
        n = len(walkers.owner)
        if not n:
            break
        primitive, distance = world.rays.nearest(walkers.origins, walkers.directions)
        if leg == 0 and dark is not None:
            primitive[distance < dark] = -1
        hits = primitive, distance
        met = Met(np.empty(n, np.int32), np.empty(n, np.float32), np.empty(n, np.int64))
        turned = walkers.turned.copy()
        going = _onward(hits, walkers, faces, (optics, world.extinction), leg, met)
        hit = met.patch >= 0
        found.append(
            (walkers.owner[hit], met.patch[hit], met.weight[hit], turned[hit], distance[hit])
        )
        walkers = walkers.some(met.going[:going])
    return found
