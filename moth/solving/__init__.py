"""What would bring something about: a ratio, another set-up's levels, a rig in one move."""

from .asking import GRID, Granted, Offer, Wish, offer
from .level import Levelled, with_level
from .match import Matched, match
from .mending import proposals
from .moves import Proposal
from .ratio import SCHOOLS_OF_RATIO, Solved, ratio_of, set_ratio
from .rigging import CAUTION, MOVES, make
from .trying import Patch, Tried, changed, tried

__all__ = [
    "CAUTION",
    "GRID",
    "MOVES",
    "SCHOOLS_OF_RATIO",
    "Granted",
    "Levelled",
    "Matched",
    "Offer",
    "Patch",
    "Proposal",
    "Solved",
    "Tried",
    "Wish",
    "changed",
    "make",
    "match",
    "offer",
    "proposals",
    "ratio_of",
    "set_ratio",
    "tried",
    "with_level",
]
