"""One source under the glass: the way of its light, stages, size, cover, maps, faults; and what the
frame shows where a hand points.
"""

from .behind import Behind, behind
from .holding import Holding, grip_holding
from .landing import AxisEnd, Landing, axis_end, landing
from .maps import LevelMap, level_map
from .pointing import Pointed, pointed_at
from .results import Inspection
from .unit import inspect_unit

__all__ = [
    "AxisEnd",
    "Behind",
    "Holding",
    "Inspection",
    "Landing",
    "LevelMap",
    "Pointed",
    "axis_end",
    "behind",
    "grip_holding",
    "inspect_unit",
    "landing",
    "level_map",
    "pointed_at",
]
