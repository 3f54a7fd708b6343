"""The picture judged by its parts: targets, what is fixed, the order of work, a walk."""

from .comparing import compare
from .fixed import can_be_fixed, read_asked, read_fixed
from .order import PLANS, read_order, start
from .picture import PARTS, SIZE, Picture, coarse_layer, picture_of
from .targets import PROFILES, headroom, read_targets
from .walking import acting_area, walk_path

__all__ = [
    "PARTS",
    "PLANS",
    "PROFILES",
    "SIZE",
    "Picture",
    "acting_area",
    "can_be_fixed",
    "coarse_layer",
    "compare",
    "headroom",
    "picture_of",
    "read_asked",
    "read_fixed",
    "read_order",
    "read_targets",
    "start",
    "walk_path",
]
