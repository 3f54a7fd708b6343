"""Incident meter: standard marks, stops, ratios."""

from .inspect import inspect_unit, level_map
from .marks import Place, key_unit, standard_marks
from .readings import read_setup
from .schools import SCHOOLS, exposed_for, read_schools
from .solving import SCHOOLS_OF_RATIO, Solved, ratio_of, set_ratio

__all__ = [
    "SCHOOLS", "SCHOOLS_OF_RATIO", "Place", "Solved", "exposed_for", "inspect_unit", "key_unit", "level_map", "ratio_of", "read_schools", "read_setup", "set_ratio", "standard_marks",
]
