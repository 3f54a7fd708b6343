"""The picture judged by its parts: targets, what is fixed, the order of work, a walk."""

from .comparing import Difference, compare
from .fixed import Asked, FixedReading, can_be_fixed, read_asked, read_fixed
from .limits import LIMITS, limit
from .order import StepReading, read_order
from .picture import PARTS, SIZE, Picture, coarse_layer, picture_of, whole_layers
from .plans import PLANS, start
from .reading import read_picture
from .results import Reading
from .targets import PROFILES, TargetReading, headroom, read_targets
from .walking import ActingArea, PlaceOnPath, acting_area, walk_path

__all__ = [
    "LIMITS",
    "PARTS",
    "PLANS",
    "PROFILES",
    "SIZE",
    "ActingArea",
    "Asked",
    "Difference",
    "FixedReading",
    "Picture",
    "PlaceOnPath",
    "Reading",
    "StepReading",
    "TargetReading",
    "acting_area",
    "can_be_fixed",
    "coarse_layer",
    "compare",
    "headroom",
    "limit",
    "picture_of",
    "read_asked",
    "read_fixed",
    "read_order",
    "read_picture",
    "read_targets",
    "start",
    "walk_path",
    "whole_layers",
]
