"""Incident meter: standard marks, stops, ratios."""

from .marks import Place, key_unit, standard_marks
from .readings import read_setup

__all__ = ["Place", "key_unit", "read_setup", "standard_marks"]
