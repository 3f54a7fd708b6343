"""Sound: what the fans of the units leave at the microphone."""

import math

import numpy as np

from ..photometry import HEADS
from ..place import within
from .limits import limit
from .outline import ray
from .results import Rank, Reading

AT_ONE = {1: 24.0, 2: 36.0}
"""Level of a fan a metre off by its class (moth.photometry.NOISE) [dB(A)]; typical."""
ROOM = 6.0
"""How far a furnished room's own sound reaches past one metre: beyond about two metres a fan gets
no quieter in it (critical distance of common rooms, 0.5 to 2 m) [dB].
"""
WALL = 25.0
"""What a closed window or a light wall takes off [dB(A)]; typical."""


def read_sound(setup):
    """Each unit whose fan is heard at the microphone, loudest first; one reading for all that are
    not.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    list of Reading
        Empty where no microphone is placed, or nothing runs a fan.
    """
    heard = sorted(levels(setup), key=lambda pair: -pair[1])
    if not heard:
        return []
    most = limit(setup, "sound")
    total = _sum(level for _, level in heard)
    if total <= most:
        words = f"{total:.0f} dB(A) of {len(heard)} at the microphone"
        return [_reading(setup, heard[0][0], "well", "not heard", words, total)]
    found = []
    rest = total
    for unit, level in heard:
        if rest <= most:
            break
        off = math.dist(unit.position, setup.microphone)
        words = f"{level:.0f} dB(A) at the microphone, {off:.1f} m away"
        verdict: Rank = "fault" if level > most + 6 else "mind"
        found.append(_reading(setup, unit, verdict, "fan heard", words, level))
        rest = _sum(other for _, other in heard[len(found) :])
    return found


def levels(setup):
    """What each running fan leaves at the microphone.

    Units that are off are silent. Sound falls as the square of the distance, to what the room holds
    up; outdoors there is nothing that holds it up.

    Returns
    -------
    list of (moth.document.Unit, float)
        [dB(A)]
    """
    if setup.microphone is None:
        return []
    inside = within(setup.room, setup.microphone)
    found = []
    for unit in setup.units:
        head = HEADS.get(unit.head)
        if not (unit.on and unit.dimmer > 0 and head and head.noise):
            continue
        off = max(math.dist(unit.position, setup.microphone), 0.1)
        fall = 20 * math.log10(off)
        if not setup.room.outdoors:
            one_room = within(setup.room, unit.position) == inside
            fall = min(fall, ROOM) if one_room else fall + WALL
        found.append((unit, AT_ONE[head.noise] - fall))
    return found


def _way(setup, unit):
    """From the microphone toward a fan, where the frame can show it."""
    camera = setup.cameras[0]
    place = np.asarray(setup.microphone, float)
    ahead = np.asarray(camera.aim, float) - camera.position
    if (place - camera.position) @ ahead <= 0:
        return ()
    loud = AT_ONE[HEADS[unit.head].noise]
    words = f"{unit.name}: {loud:.0f} dB(A) a metre off, {math.dist(unit.position, place):.1f} m"
    return (ray(camera, words, place, np.asarray(unit.position), LONG),)


LONG = 0.5
"""Of the line from a microphone toward a fan [m]."""


def _sum(found):
    """Levels together [dB].

    Examples
    --------
    >>> round(_sum([30.0, 30.0]), 1)
    33.0
    """
    energy = sum(10 ** (level / 10) for level in found)
    return 10 * math.log10(energy) if energy else -math.inf


def _reading(setup, unit, verdict, word, words, figure):
    return Reading(
        key=f"sound {unit.id}",
        kind="sound",
        name=unit.name,
        verdict=verdict,
        word=word,
        words=words,
        why="A fan under a voice stays in the recording: carry it off, or take one without.",
        figure=round(figure, 1),
        unit=unit.id,
        drawn=_way(setup, unit),
    )
