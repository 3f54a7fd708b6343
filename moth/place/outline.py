"""The room's outline: its walls as they follow each other, and what is within them."""

from functools import lru_cache
from typing import NamedTuple

import numpy as np
import shapely
import shapely.ops

from ..document import Surface

COMPASS = ("south", "east", "north", "west")
"""Walls of a plain room, in the order of its corners: from the south-west counter-clockwise."""


class Wall(NamedTuple):
    """A wall from floor to ceiling; the room lies to the left on the way from start to end."""

    key: str | int
    """Side of a plain room; of an outline the number of the corner that it begins at."""
    start: np.ndarray
    """(2,) [m]"""
    end: np.ndarray
    surface: Surface

    @property
    def length(self):
        """[m]"""
        return float(np.hypot(*(self.end - self.start)))

    @property
    def inward(self):
        """(3,) unit vector into the room."""
        dx, dy = (self.end - self.start) / self.length
        return np.array([-dy, dx, 0.0])

    @property
    def side(self):
        """Side of the plan that it stands on: that which it looks away from most."""
        return COMPASS[int(np.argmin(self.inward[:2] @ _OUT))]


_OUT = np.array([[0, 1.0, 0, -1.0], [-1.0, 0, 1.0, 0]])
"""Columns: the ways out through the sides of COMPASS."""


def corners_of(room):
    """Corners of the room's outline, counter-clockwise.

    Parameters
    ----------
    room : moth.document.Room

    Returns
    -------
    tuple of (float, float)
        [m]; outdoors those of the stage.

    Examples
    --------
    >>> from moth.document import Room
    >>> corners_of(Room(width=4, depth=3))
    ((0.0, 0.0), (4.0, 0.0), (4.0, 3.0), (0.0, 3.0))
    """
    if room.outline is None or room.outdoors:
        w, d = room.width, room.depth
        return ((0.0, 0.0), (w, 0.0), (w, d), (0.0, d))
    return tuple(corner.at for corner in room.outline)


def bounds_of(room):
    """South-west and north-east corner of the box about the outline, each (2,) [m].

    Examples
    --------
    >>> from moth.document import Room
    >>> [corner.tolist() for corner in bounds_of(Room(width=4, depth=3))]
    [[0.0, 0.0], [4.0, 3.0]]
    """
    corners = np.array(corners_of(room))
    return corners.min(0), corners.max(0)


def walls_of(room):
    """The room's walls.

    Parameters
    ----------
    room : moth.document.Room

    Returns
    -------
    list of Wall

    Examples
    --------
    >>> from moth.document import Room
    >>> [(wall.key, wall.inward.tolist()) for wall in walls_of(Room())][:2]
    [('south', [-0.0, 1.0, 0.0]), ('east', [-1.0, 0.0, 0.0])]
    """
    corners = np.array(corners_of(room), float)
    ends = np.roll(corners, -1, axis=0)
    found = []
    for at, (start, end) in enumerate(zip(corners, ends, strict=True)):
        wall = Wall(at, start, end, Surface())
        plain = room.outline is None or room.outdoors
        own = None if plain else room.outline[at].surface
        key = COMPASS[at] if plain else at
        found.append(wall._replace(key=key, surface=own or getattr(room, wall.side)))
    return found


@lru_cache(maxsize=256)
def _plan(corners, less):
    plan = shapely.Polygon(corners)
    plan = plan.buffer(-less, join_style="mitre") if less else plan
    shapely.prepare(plan)
    return plan


def clear_of_walls(room, places, margin=0.0):
    """Which places lie within the outline, and no nearer to a wall than a margin.

    Parameters
    ----------
    room : moth.document.Room
    places : array_like, shape (n, 2) or (n, 3)
        [m]
    margin : float
        [m]

    Returns
    -------
    ndarray of bool, shape (n,)
        All outdoors.

    Examples
    --------
    >>> from moth.document import Room
    >>> clear_of_walls(Room(width=4, depth=3), [[0.1, 1], [2, 1], [5, 1]], 0.2).tolist()
    [False, True, False]
    """
    places = np.asarray(places, float).reshape(len(places), -1)
    if room.outdoors:
        return np.ones(len(places), bool)
    plan = _plan(corners_of(room), float(margin))
    return np.asarray(shapely.contains_xy(plan, places[:, 0], places[:, 1]))


def off_walls(room, place):
    """Distance from a place to the nearest wall, on whichever side of it [m].

    Examples
    --------
    >>> from moth.document import Room
    >>> off_walls(Room(width=4, depth=3), (1, 1.2)), off_walls(Room(width=4, depth=3), (-2, 1))
    (1.0, 2.0)
    """
    plan = _plan(corners_of(room), 0.0)
    return float(plan.exterior.distance(shapely.Point(place[0], place[1])))


def crosses(room, one, other):
    """Whether the straight line between two places runs through the inside of the outline.

    Examples
    --------
    >>> from moth.document import Room
    >>> crosses(Room(width=4, depth=3), (-1, 1), (5, 1)), crosses(Room(), (-1, 1), (-1, 4))
    (True, False)
    """
    line = shapely.LineString([one[:2], other[:2]])
    return bool(_plan(corners_of(room), 0.0).intersects(line))


def inside_all_the_way(room, one, other):
    """Whether the straight line between two places stays within the outline.

    Examples
    --------
    >>> from moth.document import Room
    >>> inside_all_the_way(Room(width=4, depth=3), (1, 1), (3, 2))
    True
    """
    line = shapely.LineString([one[:2], other[:2]])
    return bool(_plan(corners_of(room), 0.0).covers(line))


def ceiling_over(room, places):
    """Height of the ceiling over places [m].

    Parameters
    ----------
    room : moth.document.Room
    places : array_like, shape (n, 2) or (n, 3)
        [m]

    Returns
    -------
    ndarray, shape (n,)

    Examples
    --------
    >>> from moth.document import Room
    >>> attic = Room(width=4, depth=3, height=2.0, rise=1.5, rises_to="north")
    >>> ceiling_over(attic, [[1, 0], [1, 1.5], [1, 3]]).tolist()
    [2.0, 2.75, 3.5]
    """
    places = np.asarray(places, float).reshape(len(places), -1)
    axis = 0 if room.rises_to in ("east", "west") else 1
    low, high = bounds_of(room)
    part = (places[:, axis] - low[axis]) / (high[axis] - low[axis])
    if room.rises_to in ("west", "south"):
        part = 1 - part
    return room.height + room.rise * part


LOFT = 6.0
"""Height of the dark over a set whose ceiling has gaps [m]."""
AROUND = 2.0
"""How far that goes on past the walls [m]."""


OPEN_AIR = 10.0
"""Height up to which what holds a hung thing is drawn outdoors [m]."""


def hung_from(room, places):
    """Height of what things hang from over places: the ceiling, over a gap in it and in the loft
    the loft's own roof, outdoors whatever there is.

    Parameters
    ----------
    room : moth.document.Room
    places : array_like, shape (n, 3)
        [m]

    Returns
    -------
    ndarray, shape (n,)
        [m]

    Examples
    --------
    >>> from moth.document import Gap, Room
    >>> open_ = Room(height=3, gaps=(Gap(low=(0, 0), high=(5, 2)),))
    >>> hung_from(open_, [[1, 3, 2], [1, 1, 2], [1, 3, 4]]).tolist()
    [3.0, 9.0, 9.0]
    """
    places = np.asarray(places, float).reshape(-1, 3)
    if room.outdoors:
        return np.full(len(places), OPEN_AIR)
    ceiling = ceiling_over(room, places)
    if not room.gaps:
        return ceiling
    open_ = in_gap(room, places) | (places[:, 2] > ceiling)
    return np.where(open_, room.height + room.rise + LOFT, ceiling)


def in_gap(room, places):
    """Which places lie over or under a gap in the ceiling.

    Parameters
    ----------
    room : moth.document.Room
    places : array_like, shape (n, 2) or (n, 3)
        [m]

    Returns
    -------
    ndarray of bool, shape (n,)

    Examples
    --------
    >>> from moth.document import Gap, Room
    >>> in_gap(Room(gaps=(Gap(low=(0, 0), high=(5, 2)),)), [[1, 1], [1, 3]]).tolist()
    [True, False]
    """
    places = np.asarray(places, float).reshape(len(places), -1)[:, :2]
    found = np.zeros(len(places), bool)
    for gap in room.gaps if not room.outdoors else ():
        found |= ((places > gap.low) & (places < gap.high)).all(1)
    return found


def within(room, place):
    """Whether a place is inside the room, its walls and ceiling not among it.

    Examples
    --------
    >>> from moth.document import Room
    >>> within(Room(), (1, 1, 1)), within(Room(), (1, 1, 4)), within(Room(outdoors=True), (9, 9, 9))
    (True, False, True)
    """
    if room.outdoors:
        return place[2] > 0
    inside = bool(clear_of_walls(room, [place])[0])
    return inside and 0 < place[2] < float(ceiling_over(room, [place])[0])


def nearest_within(room, place, margin):
    """The place nearest to one that is so far inside the walls (x, y) [m].

    Examples
    --------
    >>> from moth.document import Room
    >>> nearest_within(Room(width=4, depth=3), (9, 1), 0.5)
    (3.5, 1.0)
    """
    if clear_of_walls(room, [place], margin)[0]:
        return float(place[0]), float(place[1])
    plan = _plan(corners_of(room), float(margin))
    if plan.is_empty:
        plan = _plan(corners_of(room), 0.0).representative_point()
    near, _ = shapely.ops.nearest_points(plan, shapely.Point(place[0], place[1]))
    return near.x, near.y


def to_wall(room, place, way):
    """Distance from a place inside along a level way to the first wall [m].

    Examples
    --------
    >>> from moth.document import Room
    >>> to_wall(Room(width=4, depth=3), (1, 1), (1, 0))
    3.0
    """
    start = np.asarray(place[:2], float)
    length = float(np.hypot(*way[:2]))
    far = start + np.asarray(way[:2]) / length * FAR
    met = _plan(corners_of(room), 0.0).exterior.intersection(shapely.LineString([start, far]))
    return float(shapely.Point(start).distance(met)) / length


FAR = 1000.0
"""Farther than any wall [m]."""


def nearest_wall(room, place):
    """The wall that a place is nearest to.

    Examples
    --------
    >>> from moth.document import Room
    >>> nearest_wall(Room(width=4, depth=3), (3.5, 1.5)).key
    'east'
    """

    def off(wall):
        along = (wall.end - wall.start) / wall.length
        t = np.clip((np.asarray(place[:2]) - wall.start) @ along, 0, wall.length)
        return float(np.hypot(*(wall.start + t * along - np.asarray(place[:2]))))

    return min(walls_of(room), key=off)


def wall_named(room, key):
    """A wall by its key; None where there is no such wall.

    Examples
    --------
    >>> from moth.document import Room
    >>> wall_named(Room(), "north").key, wall_named(Room(), 7)
    ('north', None)
    """
    return next((wall for wall in walls_of(room) if wall.key == key), None)


def wall_name(key):
    """What a wall is called in a sentence.

    Examples
    --------
    >>> wall_name("north"), wall_name(2)
    ('the north wall', 'wall 3')
    """
    return f"the {key} wall" if isinstance(key, str) else f"wall {key + 1}"
