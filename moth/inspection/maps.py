"""Levels over the floor, the height of the eyes or a wall."""

from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from ..camera import source_colours, source_levels
from ..colour import LUMINANCE
from ..errors import MothError
from ..metering import NEUTRAL
from ..place import bounds_of, ceiling_over, clear_of_walls, wall_named
from ..transport import light_of, sources
from ..transport.field import field
from ..world import anchor, build_world


@dataclass(frozen=True)
class LevelMap:
    """Levels at the middles of the cells of a plane."""

    plane: str | int
    corner: tuple[float, float, float]
    """[m]"""
    along: tuple[float, float, float]
    """From the corner along a row [m]."""
    up: tuple[float, float, float]
    """From the corner across the rows [m]."""
    columns: int
    rows: int
    lux: tuple[float, ...]
    """Row by row from the corner."""


def level_map(setup, plane, only=None):
    """Levels over the floor, the height of the eyes, or a wall.

    Parameters
    ----------
    setup : moth.document.Setup
    plane : {"floor", "face", "north", "south", "east", "west"} or int
        Walls of an outline go by number. On the floor and walls a disc lies flat; at the height of
        the eyes a dome points to the lens.
    only : str or None
        Id of the one source to map; None for all that are on.

    Returns
    -------
    LevelMap
    """
    world, room = build_world(setup), setup.room
    if plane in ("floor", "face"):
        low, high = bounds_of(room)
        corner = np.array([*low, 0.0 if plane == "floor" else anchor(setup)[2]])
        along, up = np.array([high[0] - low[0], 0, 0]), np.array([0, high[1] - low[1], 0])
        normal = np.array([0, 0, 1.0]) if plane == "floor" else None
    else:
        wall = wall_named(room, plane)
        if wall is None:
            raise MothError("The room has no such wall.", "plane")
        # From the west or south corner in a plain room, as windows are measured.
        start, end = (
            (wall.end, wall.start) if plane in ("north", "west") else (wall.start, wall.end)
        )
        top = float(ceiling_over(room, [start, end]).min())
        corner, along = np.array([*start, 0.0]), np.array([*(end - start), 0.0])
        up, normal = np.array([0, 0, top]), wall.inward
    size = max(np.linalg.norm(along), np.linalg.norm(up)) / 44
    columns, rows = (max(6, round(float(np.linalg.norm(side)) / size)) for side in (along, up))
    v, u = np.meshgrid(
        (np.arange(rows) + 0.5) / rows, (np.arange(columns) + 0.5) / columns, indexing="ij"
    )
    points = corner + u.reshape(-1, 1) * along + v.reshape(-1, 1) * up
    if normal is None:
        facing = np.asarray(setup.cameras[0].position, float) - points
        facing /= np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-9)
    else:
        facing = np.tile(np.array(normal, float), (len(points), 1))
        points = points + 0.004 * facing
    total = np.zeros(len(points))
    inside = np.ones(len(points), bool)
    if plane in ("floor", "face"):
        inside = clear_of_walls(room, points)
        points, facing = points[inside], facing[inside]
    level, colours = source_levels(setup), source_colours(setup, NEUTRAL)
    dimmers = {u.id: u.dimmer for u in setup.units}
    for source in sources(setup):
        gain = (
            (dimmers.get(source.id, level[source.id]) if source.id == only else 0.0)
            if only
            else level[source.id]
        )
        if gain > 0:
            total[inside] += (
                (
                    field(world, light_of(world, source), points, facing, dome=normal is None)
                    * colours[source.id]
                )
                @ LUMINANCE
                * gain
            )
    # A map is read by its lines: one pass of a narrow kernel takes the grain of the rays off them.
    total = ndimage.gaussian_filter(total.reshape(rows, columns), 0.8, mode="nearest").ravel()
    return LevelMap(
        plane=plane,
        corner=tuple(corner.tolist()),
        along=tuple(along.tolist()),
        up=tuple(up.tolist()),
        columns=columns,
        rows=rows,
        lux=tuple(total.round(3).tolist()),
    )
