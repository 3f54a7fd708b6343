"""The two sides of a face as light falls on them: what every key-to-fill ratio is made of."""

from dataclasses import dataclass

import numpy as np

from ..transport import ROOM, Way

SCHOOLS_OF_RATIO = {
    "cheeks": "cheek to cheek",
    "combined": "(key + fill) : fill",
    "single": "key : fill, each alone",
}
"""Ways of telling a ratio. Cheek to cheek: a dome at each cheek toward the light of that side, all
on. (Key + fill) : fill: the fill side with a hand keeping the key off the dome. Each alone: what is
lit by the key alone on its side, by fill units and boards alone on the other.
"""
HAND = 30.0
"""A hand that shades a lamp off also hides what hangs within this angle of it [deg]: its own cloth,
and no board across the room.
"""


@dataclass(frozen=True)
class Sides:
    """Light of every source at full on both sides, shape (sources,) each [lx]."""

    key_side: np.ndarray
    """Near cheek, dome toward the key."""
    fill_side: np.ndarray
    """Far cheek, dome toward the light of that side."""
    shaded: np.ndarray
    """The same with the key shaded off by a hand: what it sends by boards and walls stays."""
    boards: np.ndarray
    """Of that what comes by boards and cloths that are not the source's own."""
    is_key: np.ndarray
    is_fill: np.ndarray

    def weights(self, school):
        """What each source adds to the upper and to the lower part of a ratio, at full.

        Parameters
        ----------
        school : {"cheeks", "combined", "single"}

        Returns
        -------
        over, under : ndarray, shape (sources,)
        """
        if school == "cheeks":
            return self.key_side, self.fill_side
        if school == "combined":
            return self.key_side, self.shaded
        return (
            self.is_key * self.key_side,
            np.where(self.is_fill, self.fill_side, self.boards),
        )

    def ratio(self, school, state):
        """Both parts of a ratio with every source at a part of its full [lx]."""
        over, under = self.weights(school)
        return float(state @ over), float(state @ under)


def by_own_way(route, world, origin, position):
    """Whether a hand that shades a source off also stops what it sends by a route.

    Parameters
    ----------
    route : moth.transport.Route
    world : moth.world.World
    origin : moth.metering.origin.Origin
        Where the source's light on the face comes from.
    position : array_like, shape (3,)
        Of the meter [m].
    """
    if route == ROOM:
        return False
    if route.way == Way.LAMP:
        return True
    if route.way in (Way.MIRROR, Way.WALL):
        return origin.kind == route.way.value
    to = np.asarray(origin.place, float) - position
    for sheet in world.sheets:
        if sheet.piece == route.last:
            off = sheet.centre - position
            long = float(np.linalg.norm(to) * np.linalg.norm(off))
            cosine = float(to @ off) / max(long, 1e-9)
            if cosine > np.cos(np.radians(HAND)):
                return True
    return False
