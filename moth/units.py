"""The only place that converts: feet, foot-candles, stops, mired. Words for them: wording.py."""

import numpy as np

METRES_PER_FOOT = 0.3048
LUX_PER_FOOTCANDLE = 1 / METRES_PER_FOOT**2
"""Exactly 1 lm/ft^2 in lx, 10.7639..."""


def feet(metres):
    """Length [ft] of a length [m].

    Examples
    --------
    >>> round(feet(3.048), 6)
    10.0
    """
    return metres / METRES_PER_FOOT


def footcandles(lux):
    """Illuminance [fc] of an illuminance [lx].

    Examples
    --------
    >>> round(footcandles(10.7639104), 6)
    1.0
    """
    return lux / LUX_PER_FOOTCANDLE


def stops(ratio):
    """Stops [1] between two amounts of light whose ratio is given; ratio > 0.

    Examples
    --------
    >>> stops(4)
    2.0
    """
    return np.log2(ratio).item() if np.isscalar(ratio) else np.log2(ratio)


def ratio(stops_):
    """Ratio [1] of light for a difference in stops.

    Examples
    --------
    >>> ratio(3)
    8.0
    """
    return 2.0**stops_


def mired(kelvin):
    """Reciprocal colour temperature [mired] of a colour temperature [K], > 0.

    Examples
    --------
    >>> mired(5000)
    200.0
    """
    return 1e6 / kelvin


FULL_STOPS = (0.5, 0.7, 1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0, 32.0, 45.0, 64.0, 90.0)
"""Engraved full stops; the exact ones are powers of the square root of two."""


def meant(number):
    """The f- or T-number [1] that one engraved on a ring stands for; any other is itself.

    Examples
    --------
    >>> round(meant(2.8), 3), round(meant(11.0), 3), meant(3.0)
    (2.828, 11.314, 3.0)
    """
    if number not in FULL_STOPS:
        return number
    return 2 ** (round(2 * np.log2(number)) / 2)
