"""The only place that converts: feet, foot-candles, stops, mired."""

import math

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
_FIRST = -2  # FULL_STOPS[0] is sqrt(2) ** -2
_THIRDS = ("", "⅓", "⅔")


def stop_words(number, step="third"):
    """An f- or T-number in full stops and a rest, as a meter shows it.

    Parameters
    ----------
    number : float
        f- or T-number [1], > 0.
    step : {"third", "tenth"}
        How fine the rest is.

    Returns
    -------
    str
        Such as ``T2.8 + ⅓`` or ``T2.8 + 4/10``.

    Examples
    --------
    >>> stop_words(3.17)
    'T2.8 + ⅓'
    >>> stop_words(3.17, step="tenth")
    'T2.8 + 3/10'
    >>> stop_words(2**1.5)
    'T2.8'
    """
    parts = 3 if step == "third" else 10
    steps = round(2 * math.log2(number) * parts)
    full, rest = divmod(steps, parts)
    index = full - _FIRST
    if index < 0:
        return "below T0.5"
    if index >= len(FULL_STOPS):
        return "over T90"
    name = f"{FULL_STOPS[index]:g}"
    if not rest:
        return f"T{name}"
    return f"T{name} + {_THIRDS[rest]}" if parts == 3 else f"T{name} + {rest}/10"


def difference_words(difference, step="third"):
    """A signed difference in stops as whole stops and thirds or tenths.

    Examples
    --------
    >>> difference_words(-1.66)
    '−1⅔'
    >>> difference_words(0.1)
    '0'
    >>> difference_words(1.24, step="tenth")
    '+1.2'
    """
    if step == "tenth":
        text = f"{abs(difference):.1f}"
        return "0" if text == "0.0" else ("+" if difference > 0 else "−") + text
    steps = round(difference * 3)
    if steps == 0:
        return "0"
    full, rest = divmod(abs(steps), 3)
    return ("+" if steps > 0 else "−") + (str(full) if full or not rest else "") + _THIRDS[rest]


def amount_words(difference, step="third"):
    """A difference in stops without its sign; what a third would round away is told in tenths.

    Examples
    --------
    >>> amount_words(-1.66), amount_words(0.13), amount_words(0.01)
    ('1⅔', '0.1', '0')
    """
    words = difference_words(abs(difference), step).lstrip("+")
    return difference_words(abs(difference), "tenth").lstrip("+") if words == "0" else words
