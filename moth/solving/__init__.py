"""What would bring something about: a ratio, another set-up's levels, a rig in one move."""

from .asking import GRID, Granted, Offer, Wish, offer
from .boards import TRIES, BoardTried, bring_board, try_board
from .flagging import Flagged, keep_off
from .level import Levelled, with_level
from .match import Matched, match
from .mending import proposals
from .moves import Proposal
from .ratio import SCHOOLS_OF_RATIO, Solved, ratio_of, set_ratio
from .reaching import Reach, Reaching, reach, which_reach
from .restoring import Lever, Restored, restored
from .rigging import CAUTION, MOVES, make, stood
from .roaming import roaming
from .trying import Patch, Tried, changed, tried

__all__ = [
    "CAUTION",
    "GRID",
    "MOVES",
    "SCHOOLS_OF_RATIO",
    "TRIES",
    "BoardTried",
    "Flagged",
    "Granted",
    "Levelled",
    "Lever",
    "Matched",
    "Offer",
    "Patch",
    "Proposal",
    "Reach",
    "Reaching",
    "Restored",
    "Solved",
    "Tried",
    "Wish",
    "bring_board",
    "changed",
    "keep_off",
    "make",
    "match",
    "offer",
    "proposals",
    "ratio_of",
    "reach",
    "restored",
    "roaming",
    "set_ratio",
    "stood",
    "tried",
    "try_board",
    "which_reach",
    "with_level",
]
