"""Incident meter: standard marks, stops, ratios."""

from .inspect import inspect_unit, level_map
from .marks import Place, key_unit, standard_marks
from .readings import read_setup

__all__ = ["Place", "inspect_unit", "key_unit", "level_map", "read_setup", "standard_marks"]
