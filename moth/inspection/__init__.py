"""One source under the glass: the way of its light, stages, size, cover, maps, faults; and what the
frame shows where a hand points.
"""

from .maps import LevelMap, level_map
from .pointing import Pointed, pointed_at
from .results import Inspection
from .unit import inspect_unit

__all__ = ["Inspection", "LevelMap", "Pointed", "inspect_unit", "level_map", "pointed_at"]
