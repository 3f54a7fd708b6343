"""What each pixel of a camera sees: shading points, kept as long as camera and world stay."""

from dataclasses import dataclass, replace
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numba import njit

from ..engine.caching import Keyed, cached, content_hash
from ..materials import FINISHES
from ..world import axes, world_key
from .fibres import strand_colours
from .gloss import gloss_of, nap_albedo
from .operands import Pixels, Strands
from .relief import relieve

SENSOR_WIDTH = {"full-frame": 0.0360, "super-35": 0.0249, "four-thirds": 0.0173, "one-inch": 0.0132}
"""Used width [m] of each sensor; the frame is 16:9 across it."""
_EYE, MIRROR, _HAIR = (
    next(i for i, f in enumerate(FINISHES) if f.name == name) for name in ("eye", "mirror", "hair")
)
_WITH_GRAIN = [i for i, f in enumerate(FINISHES) if f.name in ("skin", "wool")]


_COLUMNS = (
    *("points", "normals", "along", "toward", "albedo", "finish", "body", "patch", "left"),
    *("past", "pixel", "weight", "oil", "across", "down", "resolved"),
)
"""What a picture holds a point each."""


@dataclass(frozen=True)
class Lens:
    """Where a picture is seen from."""

    key: str
    """Content hash: world, camera, size."""
    size: tuple
    """(width, height) in pixels."""
    origin: np.ndarray
    basis: tuple
    """right, up, forward of the camera."""
    spread: tuple
    """Half width and half height of the picture at 1 m."""

    def rays(self, x, y):
        """Unit directions through places of the picture, in pixels from the upper left corner."""
        right, up, forward = self.basis
        a = (x / self.size[0] * 2 - 1) * self.spread[0]
        b = (1 - y / self.size[1] * 2) * self.spread[1]
        # The three axes stand square on each other: the length follows from the two offsets.
        long = 1 / np.sqrt(1 + a * a + b * b)
        return (
            long[..., None] * forward + (a * long)[..., None] * right + (b * long)[..., None] * up
        )


@dataclass(frozen=True)
class View(Lens):
    """Shading points of a picture. A plain pixel has one, an edge four, an eye sixteen; past thin
    cloth there are as many again.
    """

    points: np.ndarray
    """(n, 3) [m]"""
    normals: np.ndarray
    along: np.ndarray
    """(n, 3) the way hair lies; zero for all that is none."""
    toward: np.ndarray
    """(n, 3), unit, from the point to the lens."""
    albedo: np.ndarray
    finish: np.ndarray
    body: np.ndarray
    """(n,) as in Mesh.body."""
    patch: np.ndarray
    """(n,) patch that is seen, -1 for none."""
    left: np.ndarray
    """(n,) share of the light left after the mirrors and cloths on the way, 1 where there are
    none.
    """
    past: np.ndarray
    """(n,) cloths that it is seen through."""
    pixel: np.ndarray
    """(n,) index into the picture, row by row."""
    weight: np.ndarray
    """(n,) share of the pixel."""
    oil: np.ndarray
    """(n,) how oily skin is, 0..1."""
    across: np.ndarray
    """(n, 3) of the pixel's part of the surface: see :class:`.operands.Pixels`."""
    down: np.ndarray
    resolved: np.ndarray
    """(n,) variance of the slope of the fine relief that the normals show."""
    depth: np.ndarray
    """(height * width,) nearest surface in each pixel [m]."""
    depths: np.ndarray
    """(4, height * width) the surface at each of its PLACES [m]."""
    glass: tuple
    """Where spectacles are seen: pixel (k,), place (k, 3), unit normal (k, 3), unit vector to the
    lens (k, 3).
    """

    def only(self, some):
        """The same picture of some of its points (k,) alone."""
        return replace(self, **{name: getattr(self, name)[some] for name in _COLUMNS})

    @cached_property
    def single(self):
        """(height * width,) the one shading point of each pixel, -1 where there are more."""
        count = self.size[0] * self.size[1]
        point = np.full(count, -1)
        alone = np.flatnonzero(np.bincount(self.pixel, minlength=count)[self.pixel] == 1)
        point[self.pixel[alone]] = alone
        return point

    @cached_property
    def strands(self):
        """Which points are hair: see :class:`.operands.Strands`."""
        length = np.linalg.norm(self.along, axis=1)
        hair = np.flatnonzero(length > 0.1)
        row = np.full(len(length), -1)
        row[hair] = np.arange(len(hair))
        along = self.along[hair].astype(float) / length[hair, None]
        return Strands(row, along, *strand_colours(self.albedo[hair]))

    @cached_property
    def gloss(self):
        """What the points need for their sheen: see :class:`.gloss.Gloss`."""
        return gloss_of(self.finish, self.oil, self.resolved)

    @cached_property
    def reach(self):
        """(n,) distance from the lens of each shading point [m]."""
        return np.linalg.norm(self.points - self.origin, axis=1)

    @property
    def pixels(self):
        """How much of the surface each point stands for; one of several in a pixel for itself."""
        return Pixels(self.across, self.down)

    @cached_property
    def behind(self):
        """What each cloth on the way lets see: (share of the light left, nearest surface [m]), each
        (height * width,).
        """
        count, found = self.size[0] * self.size[1], []
        for past in range(1, int(self.past.max(initial=0)) + 1):
            mine = np.flatnonzero(self.past == past)
            wall = np.full(count, np.inf)
            np.minimum.at(wall, self.pixel[mine], self.reach[mine])
            found.append(
                (np.bincount(self.pixel[mine], self.left[mine] * self.weight[mine], count), wall)
            )
        return tuple(found)


def sensor_width(camera):
    """Width of the 16:9 picture on the sensor [m].

    Examples
    --------
    >>> from moth.document import Camera
    >>> sensor_width(Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1),
    ...     sensor="full-frame"))
    0.036
    """
    return camera.sensor_width / 1000 if camera.sensor == "custom" else SENSOR_WIDTH[camera.sensor]


def lens_axes(camera):
    """Right, up and forward unit vectors of a camera, each of shape (3,).

    Examples
    --------
    >>> from moth.document import Camera
    >>> c = Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1), roll=90)
    >>> (lens_axes(c)[0] + 0.0).round(6).tolist()
    [0.0, 0.0, 1.0]
    """
    return axes(camera.position, camera.aim, camera.roll)


def view_key(setup, camera):
    """Hash of what a picture's shading points depend on, but its size."""
    return content_hash(
        "view",
        world_key(setup),
        camera.position,
        camera.aim,
        camera.roll,
        sensor_width(camera),
        camera.focal_length,
    )


def half_spread(camera, aspect=16 / 9):
    """Half width and half height of the picture at 1 m.

    Examples
    --------
    >>> from moth.document import Camera
    >>> c = Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1), focal_length=18,
    ...     sensor="full-frame")
    >>> half_spread(c)[0]
    1.0
    """
    half = sensor_width(camera) / (2 * camera.focal_length / 1000)
    return half, half / aspect


def project(camera, points):
    """Where places show in the picture.

    Parameters
    ----------
    camera : moth.document.Camera
    points : array_like, shape (n, 3)
        [m]

    Returns
    -------
    list of (float, float) or None
        Parts of the width from the left and of the height from the top; None outside the picture.

    Examples
    --------
    >>> from moth.document import Camera
    >>> c = Camera(id="c", name="c", position=(0, 0, 1), aim=(0, 1, 1))
    >>> project(c, [(0, 2, 1), (0, -2, 1)])
    [(0.5, 0.5), None]
    """
    right, up, forward = lens_axes(camera)
    wide, high = half_spread(camera)
    places: list[tuple[float, float] | None] = []
    for offset in np.asarray(points, float).reshape(-1, 3) - camera.position:
        depth = offset @ forward
        if depth < 0.05:
            places.append(None)
            continue
        x, y = 0.5 + offset @ right / depth / wide / 2, 0.5 - offset @ up / depth / high / 2
        places.append((float(x), float(y)) if 0 <= x <= 1 and 0 <= y <= 1 else None)
    return places


PLACES = ((0.375, 0.125), (0.875, 0.375), (0.125, 0.625), (0.625, 0.875))
"""Where each pixel is looked through, in parts of it: no two in a row or a column, so that upright
and level edges have four steps.
"""


@cached("views of cameras")
def _see(keyed, size):
    world, camera = keyed.value
    width, height = size
    basis = lens_axes(camera)
    origin = np.asarray(camera.position, float)
    key = content_hash(keyed.key, list(size))
    lens = Lens(key, size, origin, basis, half_spread(camera))
    pixels = np.arange(width * height)
    rows, columns = np.divmod(pixels, width)
    hits = [_hit(world, origin, lens.rays(columns + dx, rows + dy)) for dx, dy in PLACES]
    depths = np.stack([h["distance"] for h in hits]).astype(np.float32)
    depth = depths.min(0)
    eye = np.any([h["finish"] == _EYE for h in hits], axis=0)
    chunks = _plain_and_edges(pixels[~eye], [_some(h, ~eye) for h in hits], 0)
    keep = np.flatnonzero(eye)
    for k in range(16):
        h = _hit(
            world,
            origin,
            lens.rays(columns[keep] + (k % 4 + 0.5) / 4, rows[keep] + (k // 4 + 0.5) / 4),
        )
        met = h["left"] > 0
        chunks.append((keep[met], _some(h, met), 1 / 16, 0))
    pixels, hits = pixels[~eye], [_some(h, ~eye) for h in hits]
    for cloths in range(1, CLOTHS + 1):
        pixels, hits = _through(world, pixels, hits)
        if not len(pixels):
            break
        chunks += _plain_and_edges(pixels, hits, cloths)
    pixel = np.concatenate([c[0] for c in chunks])
    weight = np.concatenate([np.full(len(c[0]), c[2]) for c in chunks])
    past = np.concatenate([np.full(len(c[0]), c[3]) for c in chunks])
    column = {
        k: np.concatenate([c[1][k] for c in chunks])
        for k in (
            *("point", "normal", "along", "toward", "albedo", "finish", "body", "patch", "left"),
            *("grain", "across", "down"),
        )
    }
    column["point"] += WITHIN * (column["along"] != 0).any(1)[:, None] * column["normal"]
    for name in ("normal", "toward"):
        column[name] /= np.maximum(np.linalg.norm(column[name], axis=1, keepdims=True), 1e-9)
    far = np.linalg.norm(column["point"] - origin, axis=1)
    resolved = relieve(column, far * 2 * lens.spread[0] / width)
    _under_nap(column)
    return View(
        key,
        size,
        origin,
        basis,
        lens.spread,
        column["point"],
        column["normal"],
        column["along"],
        column["toward"],
        column["albedo"],
        column["finish"].astype(np.int64),
        column["body"].astype(np.int64),
        column["patch"].astype(np.int64),
        column["left"],
        past,
        pixel,
        weight,
        np.clip(column["grain"][:, 3], 0, 1),
        column["across"],
        column["down"],
        resolved,
        depth,
        depths,
        _glasses(world, lens, depth),
    )


WITHIN = 0.0025
"""Hair is lit as by what gets so far into it [m]: light passes the nearest wisps."""
CLOTHS, THIN = 3, 0.02
"""Cloths that are looked through at most, one behind another, and the least straight share of one
that is.
"""


def _some(hit, which):
    return {k: v[which] for k, v in hit.items()}


STEP, STEEP = 0.001, 0.3
"""How far two places of one pixel may lie apart along the normal, to be of one surface [m], and by
what part of their distance: more than round things of so many triangles need.
"""


def _plain_and_edges(pixels, hits, past):
    """Shading points of pixels from the four places in each: (pixels, what they meet, weight,
    cloths on the way).
    """
    first = hits[0]
    # Wisps are finer than pixels.
    plain = (first["left"] > 0) & (first["finish"] != _HAIR)
    for other in hits[1:]:
        plain &= (
            (other["body"] == first["body"])
            & (other["finish"] == first["finish"])
            & (other["left"] == first["left"])
        )
        plain &= (other["normal"] * first["normal"]).sum(1) > 0.985
        plain &= np.abs(other["albedo"] - first["albedo"]).max(1) < 0.04
        # A board before another of the same piece faces the same way: a step is an edge too.
        apart = other["point"] - first["point"]
        off = np.abs((apart * first["normal"]).sum(1))
        plain &= off < STEP + STEEP * np.linalg.norm(apart, axis=1)
    middle = {
        k: sum(h[k][plain] for h in hits) / 4
        for k in ("point", "normal", "along", "albedo", "toward", "grain")
    }
    middle["across"], middle["down"] = _footprint([h["point"][plain] for h in hits])
    chunks = [
        (
            pixels[plain],
            {**{k: first[k][plain] for k in ("finish", "body", "patch", "left")}, **middle},
            1.0,
            past,
        )
    ]
    for h in hits:
        edge = ~plain & (h["left"] > 0)
        chunks.append((pixels[edge], _some(h, edge), 0.25, past))
    return chunks


def _footprint(places):
    """What of a surface a pixel holds, from what it meets at :data:`PLACES`: the way across it and
    the way down, each (n, 3) [m], by least squares.
    """
    offset = np.array(PLACES) - 0.5
    steps = offset / (offset**2).sum(0)
    return (
        sum(step * place for step, place in zip(way, places, strict=True)).astype(np.float32)
        for way in steps.T
    )


def _through(world, pixels, hits):
    """The pixels in which a thin cloth was met, and what the rays meet past it; nothing is left of
    those that met none.
    """
    onward = [np.where(h["straight"] > THIN, h["straight"], 0.0) * h["left"] for h in hits]
    some = np.any([share > 0 for share in onward], axis=0)
    found = []
    for h, share in zip(hits, onward, strict=True):
        way = -h["toward"][some]
        past = _hit(world, h["point"][some] + 1e-4 * way, way)
        past["left"] *= share[some]
        found.append(past)
    return pixels[some], found


LENS_CURVE = 0.09
"""Radius of the front of a spectacle glass [m]: about six dioptres, typical."""


def _glasses(world, lens, depth):
    """Pixels that look through a spectacle glass, and the curved glass there."""
    width, height = lens.size
    found = []
    for glass in world.lenses:
        middle, looks = glass[:3], glass[3:6]
        rows, columns = np.divmod(np.arange(width * height), width)
        rays = lens.rays(columns + 0.5, rows + 0.5)
        slant = rays @ looks
        with np.errstate(divide="ignore", invalid="ignore"):
            t = ((middle - lens.origin) @ looks) / slant
        level = np.array([-looks[1], looks[0], 0.0]) / np.hypot(looks[0], looks[1])
        place = lens.origin + rays * t[:, None]
        a, b = (place - middle) @ level, (place - middle) @ np.cross(looks, level)
        seen = np.flatnonzero(
            (slant < -0.05)
            & (t > 0)
            & (t < depth + 0.01)
            & ((a / glass[6]) ** 2 + (b / glass[7]) ** 2 < 1)
        )
        normal = looks + (place[seen] - middle) / LENS_CURVE
        found.append(
            (seen, place[seen], normal / np.linalg.norm(normal, axis=1, keepdims=True), -rays[seen])
        )
    if not found:
        return np.zeros(0, int), np.zeros((0, 3)), np.zeros((0, 3)), np.zeros((0, 3))
    return tuple(np.concatenate(part) for part in zip(*found, strict=True))


_ASKEW = np.array([0.61, 0.48, 0.63])
"""A way along which no wall stands."""


def _hit(world, origin, directions):
    """What rays from the lens meet, in the mirrors they meet on the way too; what the mirrors leave
    of the light, what of it goes straight on.
    """
    mesh = world.mesh
    origins, directions = np.array(np.broadcast_to(origin, directions.shape)), np.array(directions)
    primitive, uv, distance = world.rays.first(origins, directions)
    # A ray right into a corner whose walls are cut unlike may slip out between them: one a hair
    # beside it does not.
    lost = np.flatnonzero(primitive < 0)
    if len(lost):
        directions[lost] += 1e-4 * np.cross(directions[lost], _ASKEW)
        primitive[lost], uv[lost], distance[lost] = world.rays.first(
            origins[lost], directions[lost]
        )
    first, left = distance.copy(), np.ones(len(distance))
    for _ in range(3):
        # A ray that a mirror sends out of an open edge of the room meets nothing.
        at = np.flatnonzero((mesh.finish[primitive] == MIRROR) & (primitive >= 0))
        if not len(at):
            break
        n = mesh.flat[primitive[at]]
        origins[at] += directions[at] * distance[at, None]
        directions[at] -= 2 * (directions[at] * n).sum(1, keepdims=True) * n
        origins[at] += 1e-4 * directions[at]
        left[at] *= world.rows.mirror[mesh.sheet[primitive[at]]]
        primitive[at], uv[at], distance[at] = world.rays.first(origins[at], directions[at])
    n = len(primitive)
    # A cloth pushed through a wall is looked through into nothing: nothing is left of that.
    left[primitive < 0], distance[primitive < 0] = 0, 0
    straight, sheet = np.zeros(n), mesh.sheet[primitive]
    on = np.flatnonzero((sheet >= 0) & (primitive >= 0))
    straight[on] = world.rows.straight[sheet[on]]
    found = Surface(np.empty((n, 3)), np.empty((n, 3)), np.empty((n, 3)), np.empty(n, np.int64))
    skin = Skin(*(getattr(mesh, name) for name in Skin._fields))
    rays = np.ascontiguousarray(origins), np.ascontiguousarray(directions)
    _surface((primitive, uv, distance), *rays, skin, found)
    return {
        "point": found.point,
        "normal": found.normal,
        "along": _of_corners(mesh.along, mesh, primitive, uv, [_HAIR]),
        "grain": _of_corners(mesh.grain, mesh, primitive, uv, _WITH_GRAIN),
        "toward": -directions,
        "albedo": found.albedo,
        "finish": mesh.finish[primitive],
        "body": mesh.body[primitive],
        "patch": found.patch,
        "left": left,
        "straight": straight,
        "distance": first,
        **dict.fromkeys(("across", "down"), np.zeros((n, 3), np.float32)),
    }


def _of_corners(rows, mesh, primitive, uv, finishes):
    """What corners tell where rays meet triangles of some finishes; zero for all else."""
    out = np.zeros((len(primitive), rows.shape[1]), np.float32)
    some = np.flatnonzero(np.isin(mesh.finish[primitive], finishes) & (primitive >= 0))
    u, v = uv[some, :1], uv[some, 1:]
    a, b, c = mesh.faces[primitive[some]].T
    out[some] = (1 - u - v) * rows[a] + u * rows[b] + v * rows[c]
    return out


def _under_nap(column):
    """Darken the cloth under a nap by what that keeps of its light on the way to the lens."""
    for index, finish in enumerate(FINISHES):
        some = np.flatnonzero(column["finish"] == index) if finish.nap > 0 else ()
        if len(some):
            away = np.abs((column["normal"][some] * column["toward"][some]).sum(1))
            column["albedo"][some] *= 1 - nap_albedo(finish.nap, away)[:, None]


class Skin(NamedTuple):
    """What shading must know of triangles; see :class:`moth.world.Mesh`."""

    faces: np.ndarray
    normals: np.ndarray
    albedo: np.ndarray
    flat: np.ndarray
    front: np.ndarray
    back: np.ndarray
    sheet: np.ndarray


class Surface(NamedTuple):
    """Where rays met something."""

    point: np.ndarray
    normal: np.ndarray
    albedo: np.ndarray
    patch: np.ndarray


@njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _surface(hits, origins, directions, skin, found):
    """Place, shading normal, albedo and patch where each ray meets its triangle.

    hits: triangles, places in them (n, 2), distances [m].
    """
    primitive, uv, distance = hits
    faces, normals, albedos, flat, front, back, sheet = skin
    point, normal, albedo, patch = found
    for i in range(len(primitive)):
        t = primitive[i]
        u, v = uv[i, 0], uv[i, 1]
        w = 1 - u - v
        a, b, c = faces[t, 0], faces[t, 1], faces[t, 2]
        slant, plain = 0.0, 0.0
        for k in range(3):
            n = w * normals[a, k] + u * normals[b, k] + v * normals[c, k]
            normal[i, k] = n
            point[i, k] = origins[i, k] + directions[i, k] * distance[i]
            albedo[i, k] = w * albedos[a, k] + u * albedos[b, k] + v * albedos[c, k]
            slant += n * directions[i, k]
            plain += flat[t, k] * directions[i, k]
        # Thin things show their back: shade the side that is seen. On a figure only when that is
        # plain, for its normals are smoothed.
        if slant > 0.35 or (slant > 0 and sheet[t] >= 0):
            for k in range(3):
                normal[i, k] = -normal[i, k]
        patch[i] = back[t] if plain > 0 else front[t]


def view_of(world, setup, camera, size):
    """Shading points of a camera, cached by content.

    Parameters
    ----------
    world : moth.world.World
    setup : moth.document.Setup
    camera : moth.document.Camera
        One of the set-up's.
    size : (int, int)
        Width and height [px].

    Returns
    -------
    View
    """
    return _see(Keyed(view_key(setup, camera), (world, camera)), tuple(size))
