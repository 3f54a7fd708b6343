"""Whether lamps, cameras and marks stand where such things can stand."""

from itertools import compress

import numpy as np

from ..errors import PlacementError
from ..place import inside
from .geometry import build_world

HEAD_ROOM = 0.12
"""Least distance [m] of a lit face to a figure's surface."""


def check_placement(setup):
    """Raise for the first unit, camera or mark that is inside a wall, furniture or a person.

    Parameters
    ----------
    setup : moth.document.Setup

    Raises
    ------
    PlacementError
        With the place in the document and a sentence.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(cameras=[{"id": "c", "name": "lens", "position": [2, 9, 1.5], "aim": [2, 2, 1.5]}])
    >>> check_placement(s)  # doctest: +ELLIPSIS
    Traceback (most recent call last):
        ...
    moth.errors.PlacementError: cameras[0].position: The camera 'lens' is outside the room...
    """
    room = setup.room
    sides: tuple = (
        (0, 0.0, room.width, "west", "east"),
        (1, 0.0, room.depth, "south", "north"),
        (2, 0.0, room.height, "floor", "ceiling"),
    )
    if room.outdoors:
        sides = ((2, 0.0, 200.0, "ground", "sky"),)
    for kind, noun in (
        ("units", "unit"),
        ("cameras", "camera"),
        ("marks", "mark"),
        ("grip", "piece of grip"),
    ):
        for at, item in enumerate(getattr(setup, kind)):
            for axis, low, high, before, after in sides:
                wall = (
                    before
                    if item.position[axis] < low + 0.01
                    else after
                    if item.position[axis] > high - 0.01
                    else None
                )
                if wall:
                    name = wall if axis == 2 else wall + " wall"
                    words = f"outside the room, behind the {name}" if axis < 2 else f"in the {name}"
                    raise PlacementError(
                        f"The {noun} '{item.name}' is {words}.", f"{kind}[{at}].position"
                    )
    for at, figure in enumerate(setup.figures):
        x, y = figure.position
        if not (0.2 < x < room.width - 0.2 and 0.2 < y < room.depth - 0.2):
            raise PlacementError(
                f"The figure '{figure.name}' stands in a wall.", f"figures[{at}].position"
            )
    for at, opening in enumerate(setup.openings):
        across = room.depth if opening.wall in ("east", "west") else room.width
        high = room.depth if opening.wall == "ceiling" else room.height
        for value, size, limit in (
            (opening.along, opening.size[0], across),
            (opening.up, opening.size[1], high),
        ):
            if not room.outdoors and (value - size / 2 < -1e-6 or value + size / 2 > limit + 1e-6):
                raise PlacementError(
                    f"The window '{opening.name}' does not fit in its wall.", f"openings[{at}]"
                )
    _check_inside_bodies(setup)


def _check_inside_bodies(setup):
    items = [
        (f"{kind}[{at}].position", noun, item)
        for kind, noun in (("units", "unit"), ("cameras", "camera"), ("marks", "mark"))
        for at, item in enumerate(getattr(setup, kind))
    ]
    if not items:
        return
    points = np.array([item.position for _, _, item in items], float)
    for furniture in setup.furniture:
        within = inside(furniture, points)
        if within.any():
            path, noun, item = items[int(np.argmax(within))]
            raise PlacementError(f"The {noun} '{item.name}' is inside '{furniture.name}'.", path)
    mesh = build_world(setup).mesh
    for figure, (first, last, low, high) in zip(setup.figures, mesh.figures, strict=True):
        # Most things stand well clear: only what is near the body's box is measured against the
        # body.
        near_box = ((points > low - HEAD_ROOM) & (points < high + HEAD_ROOM)).all(1)
        for (path, noun, item), point in zip(
            compress(items, near_box), points[near_box], strict=True
        ):
            vertices = mesh.vertices[first:last]
            squared = ((vertices - point) ** 2).sum(1)
            nearest = int(np.argmin(squared))
            near = float(squared[nearest]) ** 0.5
            # Deep inside a chest the surface is far: its nearest normal then points away from the
            # place.
            deep = (
                near < 0.3
                and (point - vertices[nearest]) @ mesh.normals[first + nearest] < -0.7 * near
            )
            least = 0.005 if noun == "mark" else HEAD_ROOM
            if near < least or deep:
                raise PlacementError(
                    f"The {noun} '{item.name}' is inside or against {figure.name} ({near * 100:.0f}"
                    f" cm away); leave at least {least * 100:.0f} cm.",
                    path,
                )
