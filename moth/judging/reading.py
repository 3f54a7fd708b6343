"""The picture read: people, backdrop, what is in the frame, reasons; the worst first."""

from dataclasses import replace

from ..metering import lay_out
from ..wording import THIRDS
from .backdrop import read_backdrop
from .face import read_face
from .glints import read_eyes
from .inframe import read_frame
from .outline import read_outline
from .reasons import read_reasons
from .scene import Scene
from .skin import read_skin
from .sound import read_sound
from .spectacles import read_spectacles
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
    scene = Scene(setup, ready, picture, say)
    for person in range(len(setup.figures)):
        outline = read_outline(setup, picture, say, person)
        if not outline:
            continue
        found += outline
        found += read_face(setup, ready, say, person)
        found += read_eyes(setup, ready, say, person)
        found += read_spectacles(scene, person)
        found += read_skin(scene, person)
    if found:
        found += read_whites(setup, ready, say)
        found += read_backdrop(scene)
        found += read_reasons(scene)
    found += read_frame(scene)
    found += read_sound(setup)
    aside = {m.reading: m.reason for m in setup.meant}
    found = [replace(reading, meant=aside.get(reading.key, "")) for reading in found]
    return sorted(found, key=lambda reading: (bool(reading.meant), _ORDER[reading.verdict]))
