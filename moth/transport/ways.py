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
    """From the patch of wall, ceiling or furniture that the lamp is bounced off."""
    ROOM = "room"
    """From walls, furniture and people."""


class Route(NamedTuple):
    """A way, and for a sheet the piece it belongs to (see :func:`moth.world.pieces`)."""

    way: Way
    piece: int = -1


LAMP, MIRROR, WALL, ROOM = (Route(w) for w in (Way.LAMP, Way.MIRROR, Way.WALL, Way.ROOM))
