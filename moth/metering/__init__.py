"""The meter: incident readings, ratios, the picture by parts, targets, the order of work, set-ups
compared.
"""

from .comparing import Matched, compare, match
from .fixed import can_be_fixed, read_asked, read_fixed
from .inspect import inspect_unit, level_map
from .marks import Place, key_unit, standard_marks
from .order import PLANS, read_order, start
from .picture import PARTS, SIZE, Picture, coarse_layer, picture_of
from .ratios import read_ratios
from .readings import lay_out, read_setup
from .schools import SCHOOLS, exposed_for, read_schools
from .solving import SCHOOLS_OF_RATIO, Solved, ratio_of, set_ratio
from .targets import PROFILES, headroom, read_targets
from .walking import acting_area, walk_path

__all__ = [
    "PARTS",
    "PLANS",
    "PROFILES",
    "SCHOOLS",
    "SCHOOLS_OF_RATIO",
    "SIZE",
    "Matched",
    "Picture",
    "Place",
    "Solved",
    "acting_area",
    "can_be_fixed",
    "coarse_layer",
    "compare",
    "exposed_for",
    "headroom",
    "inspect_unit",
    "key_unit",
    "lay_out",
    "level_map",
    "match",
    "picture_of",
    "ratio_of",
    "read_asked",
    "read_fixed",
    "read_order",
    "read_ratios",
    "read_schools",
    "read_setup",
    "read_targets",
    "set_ratio",
    "standard_marks",
    "start",
    "walk_path",
]
