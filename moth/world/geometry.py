"""Room, furniture and figures as triangles with normals and albedo: what light can meet."""

import math
from dataclasses import dataclass, replace
from typing import Any, NamedTuple

import numpy as np
from numba import njit

from ..engine.caching import Keyed, cached, content_hash
from ..materials import FINISHES
from ..place import (
    AROUND,
    LOFT,
    arm_rods,
    bounds_of,
    ceiling_over,
    corners_of,
    grip_rods,
    in_gap,
    walls_of,
)
from .bodies import FACES, body_of
from .figures import dressed, landmarks, placed, spectacle_lenses, surface_albedo
from .held import STEEL, tubes, unit_mesh
from .normals import smooth_normals
from .outside import Outside, outside_of, stands_outside
from .patches import (
    Patches,
    Sides,
    cell_size,
    clusters,
    cuts,
    even,
    gather_patches,
    rectangle,
    within_outline,
)
from .rays import RayScene
from .sheets import COVER_OFF, GLASS, Panes, panes, sheets_of

MATTE = next(i for i, f in enumerate(FINISHES) if f.name == "matte")
GLOSS = next(i for i, f in enumerate(FINISHES) if f.name == "gloss")
MIRROR = next(i for i, f in enumerate(FINISHES) if f.name == "mirror")
SKY_RADIUS = 3000.0
"""Of the dome that closes an exterior [m]."""


@dataclass(frozen=True)
class Mesh:
    """Triangles with what a pixel needs to know of them."""

    vertices: np.ndarray
    """(n, 3) [m]."""
    faces: np.ndarray
    """(m, 3)."""
    normals: np.ndarray
    """(n, 3), unit, for shading."""
    along: np.ndarray
    """(n, 3), unit, the way hair lies; zero for all that is none."""
    grain: np.ndarray
    """(n, 7) what fine relief goes by, of people (:func:`.grain.grain_of`); zero for all else."""
    albedo: np.ndarray
    """(n, 3), linear BT.709."""
    finish: np.ndarray
    """(m,), index into FINISHES."""
    body: np.ndarray
    """(m,): 0 room, 1.. furniture, then figures, then sheets: edges between bodies are edges in the
    picture.
    """
    figures: tuple
    """For each figure its vertices' range and box: (first, last + 1, lowest corner, highest
    corner).
    """
    flat: np.ndarray
    """(m, 3) normal of each triangle, out of a body, out of a sheet's front."""
    front: np.ndarray
    """(m,) patch seen where the ray meets the normal."""
    back: np.ndarray
    """(m,) patch seen from behind; -1 for the inside of a closed body."""
    sheet: np.ndarray
    """(m,) index of the sheet, -1 for none."""

    def normals_at(self, triangle, uv):
        """Normals for shading where rays met triangles.

        Parameters
        ----------
        triangle : ndarray, shape (n,)
        uv : ndarray, shape (n, 2)
            Shares of their second and third corners, as :meth:`RayScene.first` gives them.

        Returns
        -------
        ndarray, shape (n, 3)
            Unit vectors.
        """
        normals = self._between(self.normals, triangle, uv)
        return normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-9)

    def albedo_at(self, triangle, uv):
        """The same for albedo, (n, 3)."""
        return self._between(self.albedo, triangle, uv)

    def _between(self, corners, triangle, uv):
        shares = np.column_stack([1 - uv.sum(1), uv])
        return (corners[self.faces[triangle]] * shares[:, :, None]).sum(1)


@dataclass(frozen=True)
class World:
    """Everything that stands in the way of light, ready for rays."""

    key: str
    mesh: Mesh
    rays: RayScene
    """All of it."""
    solid: RayScene
    """All but the cloths that let light through."""
    sheets: tuple
    rows: Panes
    """The sheets as plain numbers."""
    cloths: Panes
    """Those of them that let light through."""
    patches: Patches
    extinction: float
    """Of the air [1/m]: what haze scatters out of a ray."""
    lenses: np.ndarray
    """(k, 8) glasses of spectacles: middle (3), the way they look (3), half width and half height
    [m].
    """
    outside: Outside | None = None
    """What stands before the windows."""

    def clear(self, origins, directions, distances):
        """Part of the light that comes through: nothing past solid things, the straight share past
        cloth.

        Parameters
        ----------
        origins, directions : ndarray, shape (n, 3)
            Places [m] and unit directions.
        distances : ndarray, shape (n,)
            How far [m].

        Returns
        -------
        ndarray, shape (n,)
            0..1
        """
        part = self.solid.visible(origins, directions, distances).astype(np.float32)
        if len(self.cloths.straight):
            _past_cloths(
                np.asarray(origins),
                np.asarray(directions),
                np.asarray(distances),
                self.cloths,
                part,
            )
        if self.extinction > 0:
            part *= self.left_by_air(distances)
        return part

    def without(self, bodies):
        """The same world for rays, but for some bodies: what would come were they not there.

        Parameters
        ----------
        bodies : sequence of int
            People or furniture, as in Mesh.body.

        Returns
        -------
        World
            Its triangles keep their numbers; light must not be worked out anew in it.
        """
        gone = np.isin(self.mesh.body, bodies)
        solid = _opaque(self.mesh, self.patches, self.sheets) & ~gone
        # Where a triangle was there is one without an extent, out of every ray's way.
        faces = np.where(gone[:, None], 0, self.mesh.faces)
        rays = RayScene(self.mesh.vertices, faces)
        return replace(self, rays=rays, solid=RayScene(self.mesh.vertices, self.mesh.faces[solid]))

    def left_by_air(self, distances):
        """Part of the light that haze leaves on a way so long [m]."""
        return np.exp(-self.extinction * np.minimum(distances, HAZE_REACH))


HAZE_REACH = 30.0
"""Haze hangs no farther than this about a place [m]: a ray from the sun passes so much of it."""


@njit(nogil=True, cache=True)
def left_by_air(extinction, distance):
    """Part of the light that haze leaves on its way: Beer and Lambert's law."""
    return math.exp(-extinction * min(distance, HAZE_REACH)) if extinction > 0 else 1.0


@njit(inline="always")
def _along(a, rows, k):
    return a[0] * rows[k, 0] + a[1] * rows[k, 1] + a[2] * rows[k, 2]


@njit(nogil=True, cache=True, error_model="numpy")
def past_cloth(origin, direction, far, cloths):
    """Straight share of every cloth that a ray crosses, multiplied; a cloth it starts or ends on
    does not count.
    """
    centre, right, up, normal, half, straight, _ = cloths
    share = 1.0
    for k in range(len(straight)):
        slant = _along(direction, normal, k)
        if abs(slant) < 1e-9:
            continue
        off = (
            centre[k, 0] - origin[0],
            centre[k, 1] - origin[1],
            centre[k, 2] - origin[2],
        )
        t = _along(off, normal, k) / slant
        if t < 1e-4 or t > far - 1e-4:
            continue
        hit = (
            t * direction[0] - off[0],
            t * direction[1] - off[1],
            t * direction[2] - off[2],
        )
        if abs(_along(hit, right, k)) <= half[k, 0] and abs(_along(hit, up, k)) <= half[k, 1]:
            share *= straight[k]
    return share


@njit(nogil=True, cache=True, error_model="numpy")
def _past_cloths(origins, directions, distances, cloths, part):
    for i in range(len(distances)):
        if part[i] > 0:
            o, d = origins[i], directions[i]
            part[i] *= past_cloth((o[0], o[1], o[2]), (d[0], d[1], d[2]), distances[i], cloths)


def _world_parts(setup):
    # Names do not change light, nor does what the eyes rest on, nor what a hand may move, nor what
    # an aim is kept on or between.
    drop = {"name", "id"}
    indoors = not setup.room.outdoors
    return [
        setup.room.model_dump(),
        [f.model_dump(exclude=drop | {"locked"}) for f in setup.furniture],
        [f.model_dump(exclude=drop | {"eyeline"}) for f in setup.figures],
        [g.model_dump(exclude=drop | {"aims_at", "throws"}) for g in setup.grip],
        [o.model_dump(exclude=drop) for o in setup.openings] if indoors else [],
        [m.model_dump(exclude={"name"}) for m in setup.materials],
        setup.haze,
        *(_bodies(setup) if setup.bodies_shade else ()),
    ]


def _bodies(setup):
    """What the shadows of units hang on: their heads and places, not what they send."""
    shape = {"head", "ies", "attachments", "position", "aim", "roll", "held", "foot", "bearer"}
    return [u.model_dump(include=shape | {"piece"}) for u in setup.units]


def world_key(setup):
    """Hash of room, furniture, figures and grip."""
    return content_hash("world", _world_parts(setup))


class _Part(NamedTuple):
    """A body, or one side of the room, with what its triangles are."""

    vertices: np.ndarray
    faces: np.ndarray
    normals: np.ndarray
    albedo: np.ndarray
    finish: np.ndarray | int
    body: int
    cell: np.ndarray
    """Patch of each triangle, numbered from 0."""
    flat: np.ndarray | None = None
    """Normals of its triangles, where their corners' order does not say it."""
    back: str = "none"
    """Whether its back is seen: "none", as the "same" patches, as its "own"."""
    sheet: int = -1
    through: np.ndarray | None = None
    """Of the sheet, diffuse."""
    sky: np.ndarray | None = None
    """Direction of each patch that is sky."""
    along: np.ndarray | None = None
    """Of hair, at its corners."""
    grain: np.ndarray | None = None
    """Of people, at their corners."""


class _Pieces:
    """Collects triangles and patches piece by piece."""

    def __init__(self):
        self.parts, self.patches, self.vertices = [], 0, 0
        self.through, self.other, self.sheet, self.side, self.sky = [], [], [], [], []

    def add(self, part):
        """One more :class:`_Part`."""
        vertices, faces, normals, albedo, finish, body, cell, flat, back, sheet, *rest = part
        through, sky, along, grain = rest
        count = int(cell.max()) + 1
        front = self.patches + cell
        behind = {"none": np.full(len(faces), -1), "same": front, "own": front + count}[back]
        if flat is None:
            corners = vertices[faces]
            flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
            flat = flat / np.maximum(np.linalg.norm(flat, axis=1, keepdims=True), 1e-12)
        m = len(faces)
        self.parts.append(
            (
                vertices,
                np.asarray(faces) + self.vertices,
                normals,
                np.broadcast_to(albedo, (len(vertices), 3)),
                np.broadcast_to(finish, m),
                np.full(m, body),
                np.broadcast_to(flat, (m, 3)),
                front,
                behind,
                np.full(m, sheet),
                np.zeros((len(vertices), 3)) if along is None else along,
                np.zeros((len(vertices), 7)) if grain is None else grain,
            )
        )
        self.vertices += len(vertices)
        own = np.arange(self.patches, self.patches + count)
        sides = (
            ((own, own + count, 1), (own + count, own, -1)) if back == "own" else ((own, own, 1),)
        )
        for _, other, side in sides:
            self.other.append(other)
            self.side.append(np.full(count, side))
            self.sheet.append(np.full(count, sheet))
            self.through.append(
                np.broadcast_to(np.zeros(3) if through is None else through, (count, 3))
            )
            self.sky.append(np.zeros((count, 3)) if sky is None else sky)
            self.patches += count

    def mesh(self, figures):
        columns = (np.concatenate(column) for column in zip(*self.parts, strict=True))
        vertices, faces, normals, albedo, finish, body, flat, front, back, sheet, *rest = columns
        along, grain = rest
        mesh = Mesh(
            vertices,
            faces.astype(np.int32),
            normals,
            along.astype(np.float32),
            grain.astype(np.float32),
            albedo,
            finish.astype(np.int8),
            body.astype(np.int16),
            tuple(figures),
            flat,
            front,
            back,
            sheet,
        )
        patches = gather_patches(
            vertices,
            # Wisps lie over the scalp, which stands for them where light is sent on.
            np.where(along[faces[:, :1]].any(2), faces[:, :1], faces),
            front,
            albedo[faces].mean(1),
            Sides(
                *(
                    np.concatenate(k)
                    for k in (self.through, self.other, self.sheet, self.side, self.sky)
                )
            ),
        )
        return mesh, patches


class _Side(NamedTuple):
    """A side of the room, as a rectangle before the outline and the ceiling's rise cut it."""

    key: str | int
    corner: np.ndarray
    along: np.ndarray
    up: np.ndarray
    surface: Any


def _sides(room):
    """Floor, ceiling and walls."""
    low, high = (np.array([*corner, 0.0]) for corner in bounds_of(room))
    box = high - low + [0, 0, room.height]
    flat = ("floor",) if room.outdoors else ("floor", "ceiling")
    keys = flat if room.outdoors or room.outline else tuple(FACES)
    sides = [
        _Side(
            key,
            low + np.array(FACES[key][0]) * box,
            np.array(FACES[key][1]) * box,
            np.array(FACES[key][2]) * box,
            getattr(room, key),
        )
        for key in keys
    ]
    if room.outline and not room.outdoors:
        for wall in walls_of(room):
            up = np.array([0, 0, room.height])
            along = np.array([*(wall.end - wall.start), 0.0])
            sides.append(_Side(wall.key, np.array([*wall.start, 0.0]), up, along, wall.surface))
    return sides


def _add_room(pieces, setup, sheets):
    room = setup.room
    sides = _sides(room)
    cell = cell_size(sum(float(np.linalg.norm(np.cross(s.along, s.up))) for s in sides))
    if room.outdoors:
        box = np.array([room.width, room.depth, room.height])
        cell = cell_size(2 * (box[0] * box[1] + box[1] * box[2] + box[2] * box[0]))
    for side in sides:
        panes = _panes_on(setup, sheets, side)
        v, f, cells = _side_cells(room, side, cell, panes)
        if side.key == "ceiling" and room.gaps:
            there = ~in_gap(room, v[f].mean(1))
            f, (_, cells) = f[there], np.unique(cells[there], return_inverse=True)
            if not len(f):
                continue
        flat = np.cross(v[f[:, 1]] - v[f[:, 0]], v[f[:, 2]] - v[f[:, 0]])
        # One plane: its largest triangle says best which way it looks.
        normal = flat[np.argmax((flat**2).sum(1))]
        normal = normal / np.linalg.norm(normal)
        v, f, albedo = _taped_over(v, f, surface_albedo(side.surface), panes)
        pieces.add(
            _Part(
                v,
                f,
                np.tile(normal, (len(v), 1)),
                albedo,
                MATTE,
                0,
                cells,
                np.tile(normal, (len(f), 1)),
            )
        )
    if room.outdoors:
        _add_outdoors(pieces, room)
    elif room.gaps:
        _add_loft(pieces, room)


LIT_UNDER = 0.12
"""Light under the edge of a cloth against what its back sends before the window: a half plane of
even light seen by a cloth COVER_OFF before it, and that by the wall, over 5 cm.
"""


def _taped_over(v, f, albedo, panes):
    """A wall with what lies under the edges of cloths that are taped over its windows made dark:
    vertices, faces, albedo at each vertex.

    The cloth over it, whose patches reach past the window, would light it as brightly as it sends
    light back before the window itself: it is as dark as makes up for that.
    """
    middle = v[f].mean(1)
    glasses = [_covers(p, middle) for p in panes if p.material.key == GLASS.key]
    cloths = [_covers(p, middle) for p in panes if p.material.key != GLASS.key]
    under = np.any(cloths, axis=0) & ~np.any(glasses, axis=0) if cloths else np.zeros(len(f), bool)
    paint = np.tile(albedo, (len(v), 1))
    if under.any():
        # Corners of their own: the wall beside keeps its paint.
        own = np.arange(3 * under.sum()).reshape(-1, 3) + len(v)
        v = np.concatenate([v, v[f[under]].reshape(-1, 3)])
        f = f.copy()
        f[under] = own
        paint = np.concatenate([paint, np.tile(LIT_UNDER * albedo, (own.size, 1))])
    return v, f, paint


def _covers(pane, places):
    """Which places (n, 3) of its wall a pane is before."""
    off = places - pane.centre
    return (abs(off @ pane.right) < pane.half[0]) & (abs(off @ pane.up) < pane.half[1])


def _panes_on(setup, sheets, side):
    """Windows in a side of the room, and what covers them."""
    own = {len(setup.grip) + k for k, o in enumerate(setup.openings) if o.wall == side.key}
    normal = np.cross(side.along, side.up)
    normal = normal / np.linalg.norm(normal)
    return [
        s for s in sheets if s.piece in own and (s.centre - side.corner) @ normal < COVER_OFF + 1e-3
    ]


def _side_cells(room, side, cell, panes):
    """Vertices, triangles and cells of a side of the room."""
    level = side.key in ("floor", "ceiling")
    edges: tuple = ((), ())
    if room.outline and level and not room.outdoors:
        # Cells that no wall cuts through, where walls are square to each other.
        corners = np.array(corners_of(room)) - side.corner[:2]
        edges = tuple(corners @ axis[:2] / np.linalg.norm(axis) for axis in (side.along, side.up))
    if side.key == "ceiling":
        ends = np.array([end for gap in room.gaps for end in (gap.low, gap.high)]).reshape(-1, 2)
        ends = ends - side.corner[:2]
        edges = tuple(
            (*at, *(ends @ axis[:2] / np.linalg.norm(axis)))
            for at, axis in zip(edges, (side.along, side.up), strict=True)
        )
    v, f, cells = _cut_up(side, cell, panes, edges)
    if room.outline and level and not room.outdoors:
        v, f, cells = within_outline(v, f, cells, corners_of(room))
    if room.outdoors or not room.rise or side.key == "floor":
        return v, f, cells
    if side.key == "ceiling":
        return np.column_stack([v[:, :2], ceiling_over(room, v)]), f, cells
    most = float(ceiling_over(room, v).max()) - room.height
    if most < 1e-6:
        return v, f, cells
    # What stands over the height of the low side, up to the slope.
    top = np.array([0, 0, most])
    upper = side._replace(
        corner=side.corner + [0, 0, room.height],
        along=top if side.along[2] else side.along,
        up=top if side.up[2] else side.up,
    )
    v2, f2, cells2 = _cut_up(upper, cell, panes)
    part = (v2[:, 2] - room.height) / most
    v2[:, 2] = room.height + part * (ceiling_over(room, v2) - room.height)
    flat = np.cross(v2[f2[:, 1]] - v2[f2[:, 0]], v2[f2[:, 2]] - v2[f2[:, 0]])
    kept = np.linalg.norm(flat, axis=1) > 1e-8
    _, cells2 = np.unique(cells2[kept], return_inverse=True)
    return (
        np.concatenate([v, v2]),
        np.concatenate([f, f2[kept] + len(v)]),
        np.concatenate([cells, cells2 + cells.max() + 1]),
    )


def _cut_up(side, cell, panes, edges=((), ())):
    return rectangle(
        side.corner,
        side.along,
        side.up,
        _wall_cuts(side.corner, side.along, cell, panes, edges[0]),
        _wall_cuts(side.corner, side.up, cell, panes, edges[1]),
    )


def _wall_cuts(corner, side, cell, panes, at=()):
    """Cuts along one side of a wall, at the edges of the windows in it too, of what covers them,
    and at other places along it [m].
    """
    length = float(np.linalg.norm(side))
    edges = list(at)
    for pane in panes:
        reach = (
            float(abs(pane.right @ side) * pane.half[0] + abs(pane.up @ side) * pane.half[1])
            / length
        )
        middle = float((pane.centre - corner) @ side) / length
        edges += [middle - reach, middle + reach]
    return cuts(length, cell, edges)


BEYOND = (0.5, 1.1, 1.9, 3.0, 4.5, 7.0, 11.0, 18.0, 32.0, 65.0, 160.0, 600.0)
"""Cuts of the ground beyond the stage, by distance from it [m]: fine where light of the scene
falls.
"""


def _widening(length, far):
    """Cuts along one side of the stage and on to the horizon on both ends [m]."""
    out = np.array([*BEYOND, far])
    inner = np.linspace(0, length, max(1, round(length / 1.5)) + 1)
    return np.concatenate([-out[::-1], inner, length + out])


def _add_loft(pieces, room):
    """The dark over a set: four sides and a lid that send nothing back."""
    low, high = (np.array(corner) for corner in bounds_of(room))
    low, size = low - AROUND, high - low + 2 * AROUND
    floor, top = room.height, room.height + room.rise + LOFT
    corner, box = np.array([*low, floor]), np.array([*size, top - floor])
    for key, (start, along, up) in FACES.items():
        if key == "floor":
            continue
        along, up = np.array(along) * box, np.array(up) * box
        v, f, cells = rectangle(corner + np.array(start) * box, along, up, even(2), even(2))
        normal = np.cross(along, up)
        normal /= np.linalg.norm(normal)
        pieces.add(
            _Part(
                v,
                f,
                np.tile(normal, (len(v), 1)),
                np.zeros(3),
                MATTE,
                0,
                cells,
                np.tile(normal, (len(f), 1)),
            )
        )


def _add_outdoors(pieces, room):
    """The ground beyond the stage, and a dome of sky around it all."""
    far, up = SKY_RADIUS, np.array([0.0, 0, 1])
    w, d = room.width, room.depth
    xs, ys = _widening(w, far), _widening(d, far)
    v, f, cells = rectangle(
        np.array([xs[0], ys[0], 0.0]),
        np.array([xs[-1] - xs[0], 0.0, 0.0]),
        np.array([0.0, ys[-1] - ys[0], 0.0]),
        (xs - xs[0]) / (xs[-1] - xs[0]),
        (ys - ys[0]) / (ys[-1] - ys[0]),
    )
    middle = v[f].mean(1)
    beyond = ~((middle[:, 0] > 0) & (middle[:, 0] < w) & (middle[:, 1] > 0) & (middle[:, 1] < d))
    _, cells = np.unique(cells[beyond], return_inverse=True)
    pieces.add(
        _Part(
            v,
            f[beyond],
            np.tile(up, (len(v), 1)),
            surface_albedo(room.floor),
            MATTE,
            0,
            cells,
            np.tile(up, (int(beyond.sum()), 1)),
        )
    )
    rings, around = 12, 36
    middle = np.array([w / 2, d / 2, 0.0])
    t, a = np.meshgrid(
        np.linspace(0, np.pi / 2 + 0.02, rings + 1),
        np.linspace(0, 2 * np.pi, around + 1),
        indexing="ij",
    )
    v = middle + far * 1.5 * np.stack(
        [np.sin(t) * np.cos(a), np.sin(t) * np.sin(a), np.cos(t)], -1
    ).reshape(-1, 3)
    i, j = (k.ravel() for k in np.meshgrid(np.arange(rings), np.arange(around), indexing="ij"))
    p, q = i * (around + 1) + j, (i + 1) * (around + 1) + j
    faces = np.stack([np.stack([p, q, q + 1], 1), np.stack([p, q + 1, p + 1], 1)], 1).reshape(-1, 3)
    cells = np.repeat(np.arange(rings * around), 2)
    tm, am = (i + 0.5) / rings * (np.pi / 2 + 0.02), (j + 0.5) / around * 2 * np.pi
    toward = np.stack([np.sin(tm) * np.cos(am), np.sin(tm) * np.sin(am), np.cos(tm)], 1)
    inward = -(v[faces].mean(1) - middle)
    inward /= np.linalg.norm(inward, axis=1, keepdims=True)
    pieces.add(
        _Part(
            v,
            faces,
            -(v - middle) / np.linalg.norm(v - middle, axis=1, keepdims=True),
            np.zeros(3),
            MATTE,
            0,
            cells,
            inward,
            sky=toward,
        )
    )


def _furniture(item, body):
    own = body_of(item)
    finish = np.where(own.gloss, GLOSS, MATTE)
    parts = own.vertices, own.faces, own.normals, own.albedo, finish, body, own.cell
    # A surface that is not closed is seen from both sides, which may be lit otherwise.
    return _Part(*parts, back="none" if own.closed else "own")


def build_mesh(setup, sheets):
    """All triangles of a set-up, and the patches they belong to.

    Parameters
    ----------
    setup : moth.document.Setup
    sheets : list of moth.world.sheets.Sheet

    Returns
    -------
    Mesh, Patches
    """
    pieces = _Pieces()
    _add_room(pieces, setup, sheets)
    for at, item in enumerate(setup.furniture):
        if not stands_outside(setup.room, item):
            pieces.add(_furniture(item, 1 + at))
    figures = []
    for at, figure in enumerate(setup.figures):
        mesh = dressed(figure)
        v = placed(mesh.vertices, figure.position, figure.facing)
        normals = smooth_normals(v, mesh.faces)
        # Wisps and eyes are rounder than their triangles.
        told = mesh.outward.any(1)
        normals[told] = placed(mesh.outward[told], (0, 0), figure.facing)
        figures.append((pieces.vertices, pieces.vertices + len(v), v.min(0), v.max(0)))
        # Garments are thin sheets that show their inside.
        pieces.add(
            _Part(
                v,
                mesh.faces,
                normals,
                mesh.albedo,
                mesh.finish,
                1 + len(setup.furniture) + at,
                _clusters_of(v, mesh),
                back="same",
                along=placed(mesh.along, (0, 0), figure.facing),
                grain=np.column_stack(
                    [mesh.grain[:, :4], placed(mesh.grain[:, 4:], (0, 0), figure.facing)]
                ),
            )
        )
    for at, sheet in enumerate(sheets):
        a, b = 2 * sheet.half[0] * sheet.right, 2 * sheet.half[1] * sheet.up
        v, f, cells = rectangle(sheet.centre - a / 2 - b / 2, a, b, *(even(k) for k in sheet.cells))
        m = sheet.material
        finish = MIRROR if m.mirror > 0.5 else MATTE
        pieces.add(
            _Part(
                v,
                f,
                _rounded(sheet, v),
                np.minimum(m.reflectance * m.hue, 0.95),
                finish,
                1 + len(setup.furniture) + len(setup.figures) + at,
                cells,
                np.tile(sheet.normal, (len(f), 1)),
                back="own",
                sheet=at,
                through=np.minimum(m.through * m.hue, 0.95),
            )
        )
    _add_grip_stands(pieces, setup, sheets)
    _add_units(pieces, setup, sheets)
    return pieces.mesh(figures)


def _clusters_of(vertices, mesh):
    """Patches of a person's triangles: those of skin, cloth and scalp, which wisps share."""
    solid = mesh.under == np.arange(len(mesh.faces))
    cell = np.empty(len(mesh.faces), int)
    cell[solid] = clusters(vertices, mesh.faces[solid], 0.25)
    return cell[mesh.under]


def _add_grip_stands(pieces, setup, sheets):
    """What holds the grip, as the body of its first sheet."""
    first = 1 + len(setup.furniture) + len(setup.figures)
    for at, piece in enumerate(setup.grip):
        rods = (*grip_rods(setup.room, piece), *arm_rods(setup, piece))
        sheet = next((k for k, s in enumerate(sheets) if s.piece == at), None)
        if rods and sheet is not None:
            pieces.add(_steel(tubes(rods), first + sheet))


def _add_units(pieces, setup, sheets):
    """Heads and what holds them, where they are to throw shadows: bodies after those of sheets."""
    first = 1 + len(setup.furniture) + len(setup.figures) + len(sheets)
    for at, unit in enumerate(setup.units if setup.bodies_shade else ()):
        made = unit_mesh(unit, setup.room)
        if made:
            pieces.add(_steel(made, first + at))


def _steel(made, body):
    v, f, cells = made
    normals = smooth_normals(v, f)
    return _Part(v, f, normals, np.full(3, STEEL), MATTE, body, cells, back="none")


def _rounded(sheet, vertices):
    """Normals at a sheet's corners: its own, or those of the round shade that it is a part of."""
    if not sheet.behind:
        return np.tile(sheet.normal, (len(vertices), 1))
    across = ((vertices - sheet.centre) @ sheet.right)[:, None]
    out = sheet.behind * sheet.normal + across * sheet.right
    return out / np.linalg.norm(out, axis=1, keepdims=True)


def _of_sky(mesh, patches):
    """Which triangles are sky: nothing that would stand in the way of the sun."""
    return patches.sky[mesh.front, 2] != 0


def _lets_through(sheets):
    return np.array([s.material.transmission > 0 for s in sheets], bool)


def _opaque(mesh, patches, sheets):
    """Which triangles no light goes through."""
    cloth = np.isin(mesh.sheet, np.flatnonzero(_lets_through(sheets)))
    return ~cloth & ~_of_sky(mesh, patches)


@cached("worlds")
def _build(keyed):
    sheets = sheets_of(keyed.value)
    mesh, patches = build_mesh(keyed.value, sheets)
    rows = panes(sheets)
    rays = RayScene(mesh.vertices, mesh.faces)
    opaque = _opaque(mesh, patches, sheets)
    solid = rays if opaque.all() else RayScene(mesh.vertices, mesh.faces[opaque])
    return World(
        keyed.key,
        mesh,
        rays,
        solid,
        tuple(sheets),
        rows,
        rows.some(_lets_through(sheets)),
        patches,
        keyed.value.haze,
        spectacle_lenses(keyed.value.figures),
        outside_of(keyed.value),
    )


def build_world(setup):
    """World of a set-up, cached by content.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    World

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare()
    >>> build_world(s) is build_world(s)
    True
    """
    return _build(Keyed(world_key(setup), setup))


def anchor(setup):
    """Place between the eyes of the first figure [m]: what the polar words are measured from."""
    marks = landmarks(setup.figures[0])
    return (marks["eye_left"] + marks["eye_right"]) / 2
