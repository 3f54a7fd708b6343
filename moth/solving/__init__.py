"""What would bring something about: a ratio, another set-up's levels, a rig in one move."""

from .match import Matched, match
from .ratio import SCHOOLS_OF_RATIO, Solved, ratio_of, set_ratio
from .rigging import CAUTION, MOVES, make

__all__ = [
    "CAUTION",
    "MOVES",
    "SCHOOLS_OF_RATIO",
    "Matched",
    "Solved",
    "make",
    "match",
    "ratio_of",
    "set_ratio",
]
