"""What stands outside a room cut into pieces, with the land about it: what each piece sees."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import scipy.sparse

from ..engine.caching import Keyed, cached, content_hash
from ..engine.sampling import R2_U, R2_V
from ..place import bounds_of, corners_of
from .figures import surface_albedo
from .outside import house_of, outside_of
from .rays import RayScene

WAYS, LEAST = 64, 8
"""Rays from a piece to what it sees, by the cosine; of very many pieces at least."""
CLEAR = 0.02
"""A ray sets out so far before a face [m]."""
SHARE = 6.0
"""Pieces are no longer than their distance from the room over this: as fine as a window sees."""
SHORTEST, OWN = 0.6, 2.0
"""Length of a piece that is not cut further [m]; of the room's own house, that no window sees."""
MOST = 20_000
"""Pieces after which solids are cut no further."""
RINGS, TURNS, FAR = 40, 60, 600.0
"""Cells of the land, out from the room's middle and about it; where they end [m]."""
OUTER_WALLS = 0.3
"""Reflectance of the room's own house outside, of which nothing is known; typical of brick and
render."""


@dataclass(frozen=True)
class Land:
    """Cells of the land, by rings about the room's middle."""

    middle: np.ndarray
    """(2,) [m]."""
    height: float
    """[m]"""
    albedo: np.ndarray
    """(3,) linear BT.709."""
    wind: float | None
    """Over water [m/s]; None for dry land."""
    first: float
    """Radius of the innermost cells' middles [m]; the outermost lie at FAR."""

    def places(self, u, v):
        """Places of all cells at parts 0..1 of their depth and their turn, shape (cells, 3) [m]."""
        ring, turn = np.divmod(np.arange(RINGS * TURNS), TURNS)
        radius = self.first * (FAR / self.first) ** ((ring + u - 0.5) / (RINGS - 1))
        angle = (turn + v) / TURNS * 2 * np.pi
        flat = radius[:, None] * np.stack([np.cos(angle), np.sin(angle)], 1)
        return np.column_stack([self.middle + flat, np.full(len(flat), self.height)])

    def cells(self, places):
        """The four cells about each place (n, 2), and their weights, that are none beyond FAR:
        (n, 4) each.
        """
        flat = places[:, :2] - self.middle
        radius = np.maximum(np.linalg.norm(flat, axis=1), 1e-9)
        ring = np.log(radius / self.first) / np.log(FAR / self.first) * (RINGS - 1)
        near = ring < RINGS - 1
        ring = np.clip(ring, 0, RINGS - 1.001)
        turn = (np.arctan2(flat[:, 1], flat[:, 0]) / (2 * np.pi) * TURNS - 0.5) % TURNS
        i, j = ring.astype(int), turn.astype(int) % TURNS
        a, b = ring - i, turn - np.floor(turn)
        after = (j + 1) % TURNS
        cell = np.stack([i * TURNS + j, i * TURNS + after, (i + 1) * TURNS + j], 1)
        cell = np.column_stack([cell, (i + 1) * TURNS + after])
        weight = np.stack([(1 - a) * (1 - b), (1 - a) * b, a * (1 - b), a * b], 1)
        return cell, weight * near[:, None]


@dataclass(frozen=True)
class Surroundings:
    """Pieces outside: those of the solids, those of the room's own house, the cells of the land.

    All that is told of light goes in that order.
    """

    key: str
    corners: np.ndarray
    """(m, 3, 3) of the solids' and the house's pieces [m]."""
    normals: np.ndarray
    """(m, 3) unit."""
    albedo: np.ndarray
    """(m, 3) linear BT.709."""
    solids: int
    """How many of them are of solids; a window does not see its own house."""
    land: Land
    rays: RayScene
    """Of the solids' pieces."""
    shade: RayScene
    """Of all pieces: whatever throws shadows outside."""
    exchange: Any
    """(m + cells, m + cells) sparse: parts of what a piece looks at, by the cosine, that are
    another piece."""
    hidden: tuple[np.ndarray, np.ndarray, np.ndarray]
    """Of rays that meet a solid or the house: the piece that they left, their way (k, 3), and the
    part of what it looks at that each stands for."""
    open: np.ndarray
    """(cells,) whether a cell is land, and not under a solid."""

    @property
    def pieces(self):
        """How many pieces stand on the land."""
        return len(self.corners)

    def reached(self, toward):
        """Parts of all pieces that the sun comes to, (m + cells,).

        toward: unit vector toward it.
        """
        parts = [(1 / 6, 1 / 6), (2 / 3, 1 / 6), (1 / 6, 2 / 3), (1 / 3, 1 / 3)]
        on = [_in_triangles(self.corners, u, v) + CLEAR * self.normals for u, v in parts]
        halves = [(u, v) for u in (0.25, 0.75) for v in (0.25, 0.75)]
        low = [self.land.places(u, v) + [0, 0, CLEAR] for u, v in halves]
        places = [np.concatenate(both) for both in zip(on, low, strict=True)]
        return np.mean([clear_toward(self.shade, p, toward) for p in places], axis=0)


def clear_toward(shade, places, toward):
    """Whether nothing stands between places (n, 3) [m] and the sun, (n,).

    toward: unit vector toward it.
    """
    way = np.tile(np.asarray(toward, np.float32), (len(places), 1))
    far = np.full(len(places), 2 * FAR, np.float32)
    return shade.visible(np.asarray(places, np.float32), way, far)


def surroundings_of(setup):
    """What stands outside a set-up's room, and the land.

    Parameters
    ----------
    setup : moth.document.Setup
        Indoors.

    Returns
    -------
    Surroundings

    Examples
    --------
    >>> from moth.document import bare
    >>> around = surroundings_of(bare())
    >>> around.solids, around.pieces > 0
    (0, True)
    """
    solids, room = outside_of(setup), setup.room
    plan = [corners_of(room), room.height + room.rise, room.storey]
    form = content_hash("forms outside", plan, solids and solids.form)
    around, part_of = _forms(Keyed(form, (solids, room)))
    land = replace(around.land, albedo=surface_albedo(room.land), wind=room.water)
    albedo = around.albedo
    if solids is not None:
        albedo = np.concatenate([solids.albedo[part_of], albedo[around.solids :]])
    paint = [room.land.model_dump(), room.water, solids and solids.key]
    return replace(around, key=content_hash(form, paint), albedo=albedo, land=land)


@cached("surroundings")
def _forms(keyed):
    """The surroundings but for their paint, solids and land black and dry: what a piece sees of the
    others takes longest, and is the same under any. And of which triangle each solid's piece is.
    """
    solids, room = keyed.value
    low, high = (np.array(k) for k in bounds_of(room))
    middle = (low + high) / 2
    first = 0.5 * float((high - low).min())
    land = Land(middle, -room.storey, np.zeros(3), None, first)

    corners, part_of = np.zeros((0, 3, 3)), np.zeros(0, int)
    if solids is not None:
        corners = solids.vertices.reshape(-1, 3, 3).astype(float)
        corners, part_of = _cut(corners, np.array([*middle, 0.0]), SHORTEST)
    count = len(corners)
    house, _ = _cut(house_of(room), np.array([*middle, 0.0]), OWN)
    corners = np.concatenate([corners, house])
    albedo = np.repeat([0.0, OUTER_WALLS], [count, len(house)])[:, None] * np.ones(3)
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)

    shade = _scene(corners)
    exchange, hidden, seeing = _what_is_seen(corners, normals, land, shade)
    around = Surroundings(
        keyed.key,
        corners,
        normals,
        albedo,
        count,
        land,
        _scene(corners[:count]),
        shade,
        exchange,
        hidden,
        seeing[len(corners) :],
    )
    return around, part_of


def _scene(corners):
    vertices = corners.reshape(-1, 3).astype(np.float32)
    return RayScene(vertices, np.arange(len(vertices)).reshape(-1, 3))


def _cut(corners, middle, shortest):
    """Halve triangles (m, 3, 3) along their longest edges until they are short for where they lie,
    or there are MOST; and which each is a part of.
    """
    done: list[np.ndarray] = []
    from_: list[np.ndarray] = []
    origin = np.arange(len(corners))
    while len(corners):
        edges = np.linalg.norm(corners - np.roll(corners, -1, axis=1), axis=2)
        away = np.linalg.norm(corners - middle, axis=2).min(1)
        long = edges.max(1) > np.maximum(shortest, away / SHARE)
        if len(corners) + sum(len(d) for d in done) > MOST:
            long[:] = False
        done.append(corners[~long])
        from_.append(origin[~long])
        corners, edges, origin = corners[long], edges[long], origin[long]
        turned = (edges.argmax(1)[:, None] + np.arange(3)) % 3
        a, b, c = np.moveaxis(np.take_along_axis(corners, turned[..., None], 1), 1, 0)
        half = (a + b) / 2
        corners = np.concatenate([np.stack([a, half, c], 1), np.stack([half, b, c], 1)])
        origin = np.tile(origin, 2)
    return np.concatenate(done), np.concatenate(from_)


def _in_triangles(corners, u, v):
    """Places of triangles (m, 3, 3) at parts of their edges, folded into them: (m, 3)."""
    u, v = (1 - u, 1 - v) if u + v > 1 else (u, v)
    return corners[:, 0] + u * (corners[:, 1] - corners[:, 0]) + v * (corners[:, 2] - corners[:, 0])


def _what_is_seen(corners, normals, land, shade):
    """Rays from all pieces: the exchange between them, the rays that meet a solid, and whether a
    piece lies in the open at all.
    """
    m, n = len(corners), len(corners) + RINGS * TURNS
    up = np.tile([0.0, 0, 1], (n - m, 1))
    facing = np.concatenate([normals, up])
    across, along = beside(facing)
    rows, columns, weights, lost = [], [], [], []
    seeing = np.zeros(n)
    count = max(LEAST, WAYS * MOST // max(n, MOST))
    for k in range(count):
        # All pieces look along the same ways about their normals: what errs errs alike on the
        # pieces of one wall, and is not seen. Vogel's spiral on the disc, lifted to the half
        # sphere.
        radius, turn = np.sqrt((k + 0.5) / count), k * np.pi * (3 - np.sqrt(5))
        way = radius * (np.cos(turn) * across + np.sin(turn) * along)
        way += np.sqrt(1 - radius**2) * facing
        # Each from another place of the piece.
        u, v = (k + 0.5) * R2_U % 1, (k + 0.5) * R2_V % 1
        place = np.concatenate([_in_triangles(corners, u, v), land.places(u, v)]) + CLEAR * facing
        met, far = shade.nearest(place.astype(np.float32), way.astype(np.float32))
        drop = place[:, 2] - land.height
        landing = np.where(way[:, 2] < 0, drop / np.maximum(-way[:, 2], 1e-9), np.inf)
        # What lies in a solid looks at its back, and what lies under the land sees nothing.
        on = (met >= 0) & (far < landing)
        inside = on & ((normals[met] * way).sum(1) > 0)
        fair = ~inside & (drop > 0)
        seeing += fair
        at = np.flatnonzero(on & fair)
        rows.append(at)
        columns.append(met[at])
        weights.append(np.ones(len(at)))
        lost.append((at, way[at]))
        at = np.flatnonzero(~on & fair & np.isfinite(landing))
        cell, weight = land.cells(place[at] + landing[at, None] * way[at])
        rows.append(np.repeat(at, 4))
        columns.append(m + cell.ravel())
        weights.append(weight.ravel())
    seen = 1 / np.maximum(seeing, 1)
    row, column = np.concatenate(rows), np.concatenate(columns)
    weight = np.concatenate(weights) * seen[row]
    exchange = scipy.sparse.csr_array((weight, (row, column)), shape=(n, n))
    left, ways = (np.concatenate(k) for k in zip(*lost, strict=True))
    return exchange, (left, ways, seen[left]), seeing >= count / 8


def beside(normals):
    """Two unit vectors square to each of the normals (m, 3) and to each other.

    Examples
    --------
    >>> across, along = beside(np.array([[0.0, 0.6, 0.8]]))
    >>> np.cross(across, along).round(3).tolist()
    [[0.0, 0.6, 0.8]]
    """
    other = np.where(np.abs(normals[:, 2:]) < 0.9, [[0.0, 0, 1]], [[1.0, 0, 0]])
    across = np.cross(other, normals)
    across /= np.linalg.norm(across, axis=1, keepdims=True)
    return across, np.cross(normals, across)
