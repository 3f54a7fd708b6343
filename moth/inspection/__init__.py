"""One source under the glass: the way of its light, stages, size, cover, maps, faults; and what the
frame shows where a hand points.
"""

from .behind import Behind, behind
from .maps import LevelMap, level_map
from .pointing import Pointed, pointed_at
from .results import Inspection
from .unit import inspect_unit

__all__ = [
    "Behind",
    "Inspection",
    "LevelMap",
    "Pointed",
    "behind",
    "inspect_unit",
    "level_map",
    "pointed_at",
]
