"""The picture read: every person's outline, face and eyes, and whites; the worst first."""

from dataclasses import replace

from ..metering import lay_out
from ..wording import THIRDS
from .face import read_face
from .glints import read_eyes
from .outline import read_outline
from .whites import read_whites

_ORDER = {"fault": 0, "mind": 1, "well": 2}


def read_picture(setup, picture, say=THIRDS):
    """What the picture does, worst first; what is meant comes last.

    Parameters
    ----------
    setup : moth.document.Setup
    picture : Picture
    say : moth.wording.Wording

    Returns
    -------
    list of Reading
        Empty in the dark.
    """
    if not picture.state.any():
        return []
    ready, found = lay_out(setup), []
    for person in range(len(setup.figures)):
        outline = read_outline(setup, picture, say, person)
        if not outline:
            continue
        found += outline
        found += read_face(setup, ready, say, person)
        found += read_eyes(setup, ready, say, person)
    if found:
        found += read_whites(setup, ready, say)
    aside = {m.reading: m.reason for m in setup.meant}
    found = [replace(reading, meant=aside.get(reading.key, "")) for reading in found]
    return sorted(found, key=lambda reading: (bool(reading.meant), _ORDER[reading.verdict]))
