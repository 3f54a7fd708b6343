"""What would bring something about: a ratio, another set-up's levels, a rig in one move."""

from .level import Levelled, with_level
from .match import Matched, match
from .ratio import SCHOOLS_OF_RATIO, Solved, ratio_of, set_ratio
from .rigging import CAUTION, MOVES, make

__all__ = [
    "CAUTION",
    "MOVES",
    "SCHOOLS_OF_RATIO",
    "Levelled",
    "Matched",
    "Solved",
    "make",
    "match",
    "ratio_of",
    "set_ratio",
    "with_level",
]
