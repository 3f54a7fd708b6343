"""The room's floor, walls and ceiling as triangles, what is over a set, and the land and sky of an
exterior.
"""

from typing import Any, NamedTuple

import numpy as np

from ..place import AROUND, LOFT, bounds_of, ceiling_over, corners_of, in_gap, walls_of
from .bodies import FACES
from .figures import surface_albedo
from .gathering import MATTE, Part
from .patches import cell_size, cuts, even, rectangle, within_outline
from .sheets import COVER_OFF, GLASS

SKY_RADIUS = 3000.0
"""Of the dome that closes an exterior [m]."""


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


def add_room(pieces, setup, sheets):
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
            Part(
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
            Part(
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
        Part(
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
        Part(
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
