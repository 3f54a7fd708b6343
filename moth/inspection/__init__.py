"""One source under the glass: the way of its light, stages, size, cover, maps, faults."""

from .maps import level_map
from .unit import inspect_unit

__all__ = ["inspect_unit", "level_map"]
