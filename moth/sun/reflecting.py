"""A reflector in the sun: how it is turned to throw the sun at the face, now and later."""

from dataclasses import dataclass

import numpy as np

from ..document import SUN
from ..errors import MothError
from ..wording import clock
from ..world import anchor
from .day import Instant, day_of

AGAIN = 10
"""Minutes after which it is turned again; usual."""
AHEAD = 120
"""How far ahead that is told [min]."""
REACH = 2.0
"""How far in front of it the point lies that it is aimed at [m]."""


@dataclass(frozen=True)
class SunAim:
    """How a reflector is turned at one minute."""

    minute: int | None
    """Of the clock; None for the sun as the set-up has it."""
    aim: tuple[float, float, float]
    """A point in front of it [m]."""
    bearing: int
    """Of its front, from the plan's north clockwise [deg]."""
    tilt: int
    """Of its front, up from level [deg]."""
    words: str


def sun_aims(setup, grip_id):
    """How a reflector is turned so that it throws the sun at the first person's face.

    Angle in is angle out: its front looks half way between the sun and the face.

    Parameters
    ----------
    setup : moth.document.Setup
    grip_id : str

    Returns
    -------
    tuple of SunAim
        As the sun stands; and where the set-up has a place on the earth every ten minutes of two
        hours from then on, while the sun is up.

    Raises
    ------
    MothError
        When there is no such piece, no sun, or the face is where the reflector is.

    Examples
    --------
    >>> from moth.document import bare
    >>> board = {"id": "b", "name": "Board", "material": "silver-soft", "position": (2, 5, 1.6),
    ...     "aim": (2, 2, 1.6), "size": (1, 1)}
    >>> sun = {"azimuth": 0, "elevation": 30}
    >>> s = bare(room={"outdoors": True}, grip=[board], sky={"sun": sun})
    >>> sun_aims(s, "b")[0].minute is None
    True
    """
    piece = next((g for g in setup.grip if g.id == grip_id), None)
    if piece is None:
        raise MothError(f"There is no piece of grip '{grip_id}'.", "grip")
    sun = setup.sky.sun if setup.sky.on else None
    if sun is None or not sun.on:
        raise MothError("The sun is not up: there is nothing to throw.", SUN)
    place = np.asarray(piece.position, float)
    to_face = anchor(setup) - place
    away = float(np.linalg.norm(to_face))
    if away < 0.2:
        raise MothError("The reflector is at the face itself: stand it off.", "grip")
    now = _turned(place, to_face / away, sun.azimuth, sun.elevation, None)
    if setup.site is None:
        return (now,)
    begin, end = setup.site.minute, setup.site.minute + AHEAD
    up: list[Instant] = [
        i
        for i in day_of(setup).instants
        if begin < i.minute <= end and (i.minute - begin) % AGAIN == 0 and i.sky.sun is not None
    ]
    later = [_turned(place, to_face / away, i.azimuth, i.elevation, i.minute) for i in up]
    return (now, *later)


def _turned(place, to_face, azimuth, elevation, minute):
    a, e = np.radians([azimuth, elevation])
    to_sun = np.array([np.sin(a) * np.cos(e), np.cos(a) * np.cos(e), np.sin(e)])
    front = to_sun + to_face
    if np.linalg.norm(front) < 1e-3:
        raise MothError("The sun stands behind the face: nothing can throw it there.", SUN)
    front = front / np.linalg.norm(front)
    aim = place + REACH * front
    bearing = round(np.degrees(np.arctan2(front[0], front[1]))) % 360
    tilt = round(np.degrees(np.arcsin(front[2])))
    words = f"front to {bearing}°, {abs(tilt)}° {'up' if tilt >= 0 else 'down'}"
    if minute is not None:
        words = f"{clock(minute)}: {words}"
    x, y, z = (round(float(c), 4) for c in aim)
    return SunAim(minute, (x, y, z), int(bearing), int(tilt), words)
