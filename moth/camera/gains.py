"""What every source's layer is multiplied by: dimmers, levels, colours. None of it renders
anything.
"""

import colorsys

import numpy as np

from ..colour import unit_gain
from ..photometry import HEADS, gel_of
from ..transport import FULL_SKY, FULL_SUN, SKY, SUN


def source_levels(setup):
    """Part of the full light that each source sends.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    dict of str to float
        Id of a source -> dimmer, zero when off; above one where the sky is brighter than the
        layers' own.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     units=[
    ...         {
    ...             "id": "k",
    ...             "name": "k",
    ...             "head": "point-60",
    ...             "position": [1, 3, 2],
    ...             "aim": [2, 2, 1.5],
    ...             "dimmer": 0.5,
    ...         }
    ...     ]
    ... )
    >>> source_levels(s)
    {'k': 0.5}
    """
    levels = {u.id: u.dimmer * u.on for u in setup.units}
    if setup.room.outdoors or setup.openings:
        levels[SKY] = setup.sky.level / FULL_SKY * setup.sky.on
        if setup.sky.sun:
            levels[SUN] = setup.sky.sun.level / FULL_SUN * setup.sky.sun.on
    return levels


def source_colours(setup, balance, tint=0.0):
    """What a camera balanced for a white makes of each source at full: its own white, gels, hue and
    what they cost.

    Parameters
    ----------
    setup : moth.document.Setup
    balance : float
        [K]
    tint : float
        As the camera's.

    Returns
    -------
    dict of str to ndarray, shape (3,)
        Linear BT.709 gains; luminance 1 for a plain white.
    """
    colours = {}
    for unit in setup.units:
        head = HEADS[unit.head]
        # A file or a reading replaces the head's figures: then its output is what they say, at any
        # white.
        output = 1.0 if unit.ies or unit.measured else head.output(unit.cct)
        colours[unit.id] = unit_gain(unit.cct, unit.green, balance, tint) * gel_of(unit) * output
        if unit.saturation > 0 and head.colour:
            # Red, green and blue emitters: a pure hue leaves the others dark and costs their light.
            hue = np.array(colorsys.hsv_to_rgb(unit.hue / 360, 1, 1)) ** 2.2
            colours[unit.id] = colours[unit.id] * (1 - unit.saturation + unit.saturation * hue)
    if setup.room.outdoors or setup.openings:
        colours[SKY] = unit_gain(setup.sky.cct, 0, balance, tint)
        if setup.sky.sun:
            colours[SUN] = unit_gain(setup.sky.sun.cct, 0, balance, tint)
    return colours
