"""What would bring something about: a ratio, another set-up's levels, a rig in one move."""

from .level import Levelled, with_level
from .match import Matched, match
from .mending import Patch, Proposal, Tried, changed, proposals, tried
from .ratio import SCHOOLS_OF_RATIO, Solved, ratio_of, set_ratio
from .rigging import CAUTION, MOVES, make

__all__ = [
    "CAUTION",
    "MOVES",
    "SCHOOLS_OF_RATIO",
    "Levelled",
    "Matched",
    "Patch",
    "Proposal",
    "Solved",
    "Tried",
    "changed",
    "make",
    "match",
    "proposals",
    "ratio_of",
    "set_ratio",
    "tried",
    "with_level",
]
