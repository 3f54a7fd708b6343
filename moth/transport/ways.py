"""The ways light takes to a meter, without names: caches of light know only geometry."""

from enum import Enum
from typing import NamedTuple


class Way(Enum):
    """Kinds of ways."""

    LAMP = "lamp"
    """Straight from the lamp, or through an open window."""
    MIRROR = "mirror"
    SHEET = "sheet"
    """From a cloth, board or window, lit by whatever lights it."""
    WALL = "wall"
    """From a lit part of wall, ceiling or furniture that the lamp is bounced off."""
    ROOM = "room"
    """From walls, furniture and people."""


class Route(NamedTuple):
    """A way, and what the light comes from last."""

    way: Way
    last: int = -1
    """A sheet's piece (see :func:`moth.world.pieces`), or a lit wall's first patch."""


LAMP, MIRROR, ROOM = (Route(w) for w in (Way.LAMP, Way.MIRROR, Way.ROOM))
