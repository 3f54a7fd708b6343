"""One source under the glass: the way of its light, stages, size, cover, maps, faults."""

from .maps import LevelMap, level_map
from .results import Inspection
from .unit import inspect_unit

__all__ = ["Inspection", "LevelMap", "inspect_unit", "level_map"]
