"""All rooms and rigs whose references are committed, in the order of their numbers."""

from .chosen import chosen
from .drawing import drawn, with_a_lamp, with_a_scan, with_windows
from .mechanisms import mechanisms

ROOMS, WINDOWS, LAMPS, SCANS = range(810, 820), range(810, 815), (810,), (810, 811)
"""Seeds of the drawn ones: nobody looked at them before they were taken in."""


def rigs():
    """Set-up documents by name: 25 chosen, those of one mechanism each, those drawn at random.

    Examples
    --------
    >>> len(rigs()) >= 60
    True
    """
    draws = {f"drawn {s}": drawn(s) for s in ROOMS}
    draws |= {f"drawn, windows {s}": with_windows(s) for s in WINDOWS}
    draws |= {f"drawn, lamp {s}": with_a_lamp(s) for s in LAMPS}
    draws |= {f"drawn, model {s}": with_a_scan(s) for s in SCANS}
    return {**chosen(), **mechanisms(), **draws}
