"""Light from all surfaces at once: on meters, and on every point of a picture through a few
gathering points.
"""

from dataclasses import dataclass

import numpy as np
from numba import njit
from scipy.sparse import csr_matrix
from scipy.spatial import cKDTree

from ..engine.caching import Keyed, cached, content_hash
from ..materials import FINISHES
from .glow import glow_visibility, matte, shine
from .kernels import OFF_SURFACE
from .operands import Grid
from .points import receive
from .walks import LOBED, MIRRORED, STRAIGHT, hemisphere, walk
from .ways import LAMP, MIRROR, ROOM, Route, Way

METER_RAYS = 8192
GATHER_RAYS = 160
STEP = {192: 4, 480: 4, 640: 5}
"""Pixels between gathering points on even surfaces, by the width of the picture."""


@cached("views of meters")
def _meter_view(keyed):
    """Weights of all patches on a meter, times radiosity [lx]: (3, p) seen straight, by lobes and
    by mirrors, as walks tell; and (p, 3) how far off their middles they are seen, times its slopes
    [lx].
    """
    world, place = keyed.value
    normal = np.asarray(place.direction, float)[None]
    directions = np.empty((METER_RAYS, 3))
    hemisphere(normal, METER_RAYS, True, 7, directions)
    cosine = directions @ normal[0]
    response = (1 + cosine) / 2 if place.receiver == "dome" else cosine
    origins = np.broadcast_to(np.asarray(place.position, float), directions.shape)
    n = len(world.patches)
    views, moments = np.zeros((3, n)), np.zeros((n, 3))
    for leg, (owner, patch, weight, turned, far) in enumerate(
        walk(world, origins.copy(), directions, np.arange(METER_RAYS))
    ):
        light = weight * response[owner] * (2 / METER_RAYS)
        views += np.bincount(turned * np.int64(n) + patch, light, 3 * n).reshape(3, n)
        if leg == 0:
            off = origins[owner] + far[:, None] * directions[owner] - world.patches.middle[patch]
            for k in range(3):
                moments[:, k] = np.bincount(patch, light * off[:, k], n)
    return views, moments


def meter_light(world, light, place):
    """What a source at full brings to a meter, by the way it takes.

    Parameters
    ----------
    world : moth.world.World
    light : Light
    place : moth.transport.Place
        Position, direction and receiver of the meter.

    Returns
    -------
    dict of moth.transport.ways.Route to ndarray, shape (3,)
        Linear BT.709 parts [lx].
    """
    position, direction, dome = (
        np.array([place.position], float),
        np.array([place.direction], float),
        place.receiver == "dome",
    )
    ways: dict = {}

    def add(route, rgb):
        ways[route] = ways.get(route, np.zeros(3)) + rgb

    for emitter in light.emitters:
        level = receive(world, emitter, position, direction, [dome])[0]
        add(
            MIRROR if emitter.mirrored else LAMP,
            np.full(3, level),
        )
    for k, glow in enumerate(light.glows):
        out, nothing = np.zeros((1, 3)), np.zeros((1, 3))
        shine(matte(position, direction), dome, glow.cells, out, nothing, 4)
        if out.max() > 0:
            out *= glow_visibility(world, glow, (position, direction), 512, dome, k)[:, None]
        if glow.sheet >= 0:
            route = Route(Way.SHEET, world.sheets[glow.sheet].piece)
        else:
            route = Route(Way.WALL, int(glow.patches[0]))
        add(route, out[0])
    views, moments = _meter_view(
        Keyed(
            content_hash("meter", world.key, place.position, place.direction, place.receiver),
            (world, place),
        )
    )
    # What a board or cloth sends besides its glow, or turned by another one, is still its light.
    # What glows has been summed above, past the straight share of cloth as well.
    rest = sum(view[:, None] * sent for view, sent in zip(views, light.by_turn, strict=True))
    rest += (moments[:, :, None] * light.slopes).sum(1)
    owner = np.array([-1, *(s.piece for s in world.sheets)])[world.patches.sheet + 1]
    for piece in np.unique(owner):
        rgb = rest[owner == piece].sum(0)
        if piece < 0 or rgb.any():
            add(ROOM if piece < 0 else Route(Way.SHEET, int(piece)), rgb)
    return ways


@dataclass(frozen=True)
class Ambient:
    """Where a picture's light from surfaces is gathered, and how it is spread over its points."""

    at: np.ndarray
    """(g,) shading points at which it is gathered."""
    neighbours: np.ndarray
    """(n, 4) gathering points of each shading point."""
    shares: np.ndarray
    """(n, 4) their weights, which sum to one."""
    views: tuple
    """Three csr_matrix (g, p): share of each patch in what is seen straight, past cloth or none;
    and of what lobes and what mirrors turned last.
    """
    apart: np.ndarray
    """(g,) half of how far it is from one to the next [m]: a lapel's shade of a few millimetres is
    not the shade of all that a point stands for.
    """
    blend: csr_matrix
    """(g, g) each gathering point with its like neighbours: evens out the grain of the rays."""

    def spread(self, values):
        """Values of the gathering points, (g,) or (g, c), at every shading point."""
        out = np.empty((len(self.neighbours), values.reshape(len(values), -1).shape[1]))
        _spread(
            np.ascontiguousarray(values.reshape(len(values), -1), float),
            self.neighbours,
            self.shares,
            out,
        )
        return out.reshape(len(out), *values.shape[1:])


@njit(nogil=True, cache=True, fastmath=True)
def _spread(values, neighbours, shares, out):
    for i in range(len(neighbours)):
        for c in range(values.shape[1]):
            s = 0.0
            for k in range(4):
                if shares[i, k] > 0:
                    s += shares[i, k] * values[neighbours[i, k], c]
            out[i, c] = s


SAME, STEPPED = 0.99995, 0.002
"""What faces the same way to such a cosine lies in one plane to so much [m], more from a decimetre
on, or is another's.
"""


@njit(nogil=True, cache=True)
def _weigh(places, past, step, gathering, neighbours, shares):
    """Weights of the four gathering points round each shading point; the sum of each, before it is
    made one.

    places: Grid; gathering: (cloths on the way, grid places) gathering points.
    """
    points, normals, toward_depth, pixel, _, width, height = places
    columns = (width + step - 1) // step
    rows = (height + step - 1) // step
    sums = np.zeros(len(points))
    for i in range(len(points)):
        x, y = pixel[i] % width, pixel[i] // width
        gx, gy = (x - (step - 1) / 2) / step, (y - (step - 1) / 2) / step
        x0, y0 = int(np.floor(gx)), int(np.floor(gy))
        total = 0.0
        for k in range(4):
            cx, cy = min(max(x0 + k % 2, 0), columns - 1), min(max(y0 + k // 2, 0), rows - 1)
            j = gathering[past[i], cy * columns + cx]
            fx = max(1 - abs(gx - cx), 0.15)
            fy = max(1 - abs(gy - cy), 0.15)
            neighbours[i, k] = j
            shares[i, k] = 0.0
            if j < 0:
                neighbours[i, k] = 0
                continue
            dot = (
                normals[i, 0] * normals[j, 0]
                + normals[i, 1] * normals[j, 1]
                + normals[i, 2] * normals[j, 2]
            )
            if dot < 0.8:
                continue
            off = 0.0
            gap = 0.0
            for c in range(3):
                d = points[j, c] - points[i, c]
                off += d * normals[i, c]
                gap += d * d
            reach = 0.012 * toward_depth[i]
            if dot > SAME and abs(off) > STEPPED * (1 + np.sqrt(gap) / 0.1):
                # Two boards that face the very same way, one behind the other.
                continue
            if (
                abs(off) > reach + 0.25 * np.sqrt(gap)
                or gap > (0.06 * toward_depth[i] + 0.05) ** 2 * 9
            ):
                continue
            w = fx * fy * dot**8 / (1 + (off / reach) ** 2)
            shares[i, k] = w
            total += w
        sums[i] = total
        if total > 0:
            for k in range(4):
                shares[i, k] /= total
    return sums


@cached("gathering points")
def _ambient(keyed):
    world, view = keyed.value
    width, height = view.size
    step = STEP.get(width, max(2, round(width / 130)))
    first = np.full((view.past.max(initial=0) + 1, width * height), -1)
    first[view.past[::-1], view.pixel[::-1]] = np.arange(len(view.pixel))[::-1]
    xs = np.minimum(np.arange((width + step - 1) // step) * step + step // 2, width - 1)
    ys = np.minimum(np.arange((height + step - 1) // step) * step + step // 2, height - 1)
    grid = np.ascontiguousarray(first[:, (ys[:, None] * width + xs[None]).ravel()])
    n = len(view.points)
    neighbours, shares = np.zeros((n, 4), np.int64), np.zeros((n, 4))
    depth = view.reach
    places = Grid(view.points, view.normals, depth, view.pixel, view.single, width, height)
    sums = _weigh(places, view.past, step, grid, neighbours, shares)
    alone = np.flatnonzero(sums < 0.02)
    # Points on edges and small things gather for themselves: one for all alike in two by two
    # pixels.
    x, y = view.pixel[alone] % width // 2, view.pixel[alone] // width // 2
    facing = (view.normals[alone] * 1.5).round().astype(int) + 2
    alike = np.column_stack([view.past[alone], y, x, facing, view.body[alone]])
    _, one, back = np.unique(alike, axis=0, return_index=True, return_inverse=True)
    used = np.unique(grid[grid >= 0])
    at = np.concatenate([used, alone[one]])
    place = np.zeros(n, np.int64)
    place[used] = np.arange(len(used))
    neighbours = place[neighbours]
    neighbours[alone], shares[alone] = 0, 0
    neighbours[alone, 0], shares[alone, 0] = len(used) + back, 1
    views = _gather(world, view.points[at], view.normals[at], np.isin(view.finish[at], BODY))
    blend = _blend(view.points[at], view.normals[at], depth[at])
    apart = step * view.spread[0] / width * depth[at]
    return Ambient(at, neighbours, shares, views, apart, blend)


ALIKE = 10
"""Gathering points that are blended into one."""


def _blend(points, normals, depth):
    """Weights of the nearest gathering points on the same surface, facing the same way."""
    n, k = len(points), min(ALIKE, len(points))
    distance, near = cKDTree(points).query(points, k=k, workers=-1)
    distance, near = distance.reshape(n, k), near.reshape(n, k)
    facing = (normals[near] * normals[:, None]).sum(2)
    off = np.abs(((points[near] - points[:, None]) * normals[:, None]).sum(2))
    reach = 0.035 * depth[:, None]
    weight = (
        np.exp(-((distance / reach) ** 2))
        * np.where(facing > 0.8, facing, 0) ** 16
        * (off < 0.2 * reach + 0.15 * distance)
        * ((facing < SAME) | (off < STEPPED * (1 + distance / 0.1)))
    )
    weight[:, 0] = 1
    weight /= weight.sum(1, keepdims=True)
    return csr_matrix(
        (weight.ravel().astype(np.float32), (np.repeat(np.arange(n), k), near.ravel())),
        shape=(n, n),
    )


CLOSE = 0.02
"""Skin within this of skin [m] is not asked what it sends: it has one patch with skin that is in
other light, so that eyes and lips would glow from behind. A fold is that much too dark: at most by
what skin reflects of the light there.
"""
BODY = [i for i, f in enumerate(FINISHES) if f.name in ("skin", "hair", "eye")]


def _gather(world, points, normals, folds):
    rows: list = [[], [], []]
    columns: list = [[], [], []]
    values: list = [[], [], []]
    step = 200_000 // GATHER_RAYS
    for low in range(0, len(points), step):
        some = slice(low, min(low + step, len(points)))
        m = some.stop - low
        directions = np.empty((m * GATHER_RAYS, 3))
        hemisphere(np.ascontiguousarray(normals[some]), GATHER_RAYS, False, low, directions)
        origins = np.repeat(points[some] + OFF_SURFACE * normals[some], GATHER_RAYS, axis=0)
        dark = np.repeat(np.where(folds[some], CLOSE, 0.0), GATHER_RAYS)
        owners = np.repeat(np.arange(low, some.stop), GATHER_RAYS)
        for owner, patch, weight, turned, _ in walk(world, origins, directions, owners, dark):
            for k in (STRAIGHT, LOBED, MIRRORED):
                some = turned == k
                rows[k].append(owner[some])
                columns[k].append(patch[some])
                values[k].append(weight[some] / GATHER_RAYS)
    shape = len(points), len(world.patches)

    def matrix(k):
        if not rows[k]:
            return csr_matrix(shape, dtype=np.float32)
        return csr_matrix(
            (np.concatenate(values[k]), (np.concatenate(rows[k]), np.concatenate(columns[k]))),
            shape=shape,
            dtype=np.float32,
        )

    return matrix(STRAIGHT), matrix(LOBED), matrix(MIRRORED)


def ambient_of(world, view):
    """Gathering points of a picture, cached by world and view.

    Parameters
    ----------
    world : moth.world.World
    view : View

    Returns
    -------
    Ambient
    """
    return _ambient(Keyed(view.key, (world, view)))
