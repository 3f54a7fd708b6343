"""How long a set-up takes to work out, beforehand and roughly: to tell whoever waits."""

from dataclasses import dataclass

from ..world import sheets_of
from .secondary import rings_of
from .sources import sources

BASE, A_SOURCE, A_CROSSING, A_SHEET, A_BODY = 0.4, 0.02, 0.05, 0.001, 0.004
"""Seconds for a room, for each source, each source on each cloth or board that it may light, each
sheet and each piece of furniture or person; measured on two cores, and good to a factor of two.
"""


@dataclass(frozen=True)
class Effort:
    """An estimate, in numbers and words."""

    seconds: float
    words: str


def estimate(setup):
    """Seconds to the first reading of a set-up of which nothing is kept yet.

    Parameters
    ----------
    setup : moth.document.Setup

    Returns
    -------
    Effort

    Examples
    --------
    >>> from moth.document import bare
    >>> estimate(bare()).seconds < 1
    True
    """
    sheets = sheets_of(setup)
    rings = rings_of(sheets)
    lit = sum(sheets[k].material.returned + sheets[k].material.transmission > 0.05 for k in rings)
    units, pieces = len(sources(setup)), len(setup.grip) + len(setup.openings)
    bodies = len(setup.furniture) + len(setup.figures)
    seconds = (
        BASE + A_SOURCE * units + A_CROSSING * units * lit + A_SHEET * len(sheets) + A_BODY * bodies
    )
    return Effort(seconds, f"about {seconds:.0f} s: {units} units × {pieces} pieces of grip")
