"""Whether lamps, cameras and marks stand where such things can stand."""

from itertools import compress

import numpy as np

from ..errors import PlacementError
from ..place import (
    LOFT,
    ceiling_over,
    clear_of_walls,
    crosses,
    in_gap,
    inside,
    nearest_wall,
    wall_name,
    wall_named,
    within,
)
from .geometry import build_world
from .sheets import opening_place

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
    _check_openings(setup)
    for kind, noun in (
        ("units", "unit"),
        ("cameras", "camera"),
        ("marks", "mark"),
        ("grip", "piece of grip"),
    ):
        for at, item in enumerate(getattr(setup, kind)):
            words = _beyond(room, item.position)
            if words and kind == "units" and windows_before(setup, item.position):
                continue
            if words:
                more = ""
                if kind == "units" and words.startswith("outside"):
                    more = " and before no window that it could shine in at"
                raise PlacementError(
                    f"The {noun} '{item.name}' is {words}{more}.", f"{kind}[{at}].position"
                )
    for at, figure in enumerate(setup.figures):
        if not clear_of_walls(room, [figure.position], 0.2)[0]:
            raise PlacementError(
                f"The figure '{figure.name}' stands in a wall.", f"figures[{at}].position"
            )
    _check_inside_bodies(setup)


NEAR_WALL = 0.01
"""Least distance of a thing to wall, floor and ceiling [m]."""


def _beyond(room, place):
    """Where a place is that is not in the room; empty for one that is."""
    z = place[2]
    if room.outdoors:
        return "in the ground" if z < NEAR_WALL else "in the sky" if z > 199.99 else ""
    if not clear_of_walls(room, [place], NEAR_WALL)[0]:
        wall = nearest_wall(room, place)
        return f"outside the room, behind {wall_name(wall.key)}"
    if z < NEAR_WALL:
        return "in the floor"
    over = z - float(ceiling_over(room, [place])[0])
    if room.gaps and (in_gap(room, [place])[0] or over > NEAR_WALL):
        return "over the loft" if over > LOFT - NEAR_WALL else ""
    return "in the ceiling" if over > -NEAR_WALL else ""


def windows_before(setup, place):
    """Windows that a place outside the room lies before, so that what stands there can shine in.

    Parameters
    ----------
    setup : moth.document.Setup
    place : tuple of float
        [m]

    Returns
    -------
    list of moth.document.Opening
        None for a place inside the room, or under the ground outside.

    Examples
    --------
    >>> from moth.document import bare
    >>> w = {"id": "w", "name": "w", "wall": "east", "along": 2, "up": 1.5, "size": [1, 1]}
    >>> s = bare(openings=[w])
    >>> [len(windows_before(s, place)) for place in ((7, 2, 2), (-2, 2, 2), (2, 2, 2))]
    [1, 0, 0]
    """
    room = setup.room
    found: list = []
    if room.outdoors or within(room, place) or place[2] < NEAR_WALL - room.storey:
        return found
    for opening in setup.openings:
        middle, inward = opening_place(setup, opening)
        way = middle - place
        clear = way @ inward > ASLANT * np.linalg.norm(way)
        # Another wing of the building may stand between.
        if clear and not crosses(room, place, middle - CLEAR_OF * inward):
            found.append(opening)
    return found


CLEAR_OF = 0.01
"""How far before a window's middle its own wall is left out [m]."""
ASLANT = 0.005
"""Cosine to a window's axis from which light comes in."""


def _check_openings(setup):
    room = setup.room
    for at, opening in enumerate(setup.openings if not room.outdoors else ()):
        path = f"openings[{at}]"
        if opening.wall == "ceiling":
            a, b = opening.size[0] / 2, opening.size[1] / 2
            corners = [
                (opening.along + s * a, opening.up + t * b) for s in (-1, 1) for t in (-1, 1)
            ]
            if clear_of_walls(room, corners, -1e-6).all():
                continue
        else:
            wall = wall_named(room, opening.wall)
            if wall is None:
                raise PlacementError(
                    f"The window '{opening.name}' is in a wall that the room has not got.", path
                )
            top = ceiling_over(room, [wall.start, wall.end]).min()
            if all(
                value - size / 2 > -1e-6 and value + size / 2 < limit + 1e-6
                for value, size, limit in (
                    (opening.along, opening.size[0], wall.length),
                    (opening.up, opening.size[1], top),
                )
            ):
                continue
        raise PlacementError(f"The window '{opening.name}' does not fit in its wall.", path)


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
