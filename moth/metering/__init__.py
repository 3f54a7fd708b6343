"""The meter: where it is held, what it reads, ratios and the schools of using it."""

from .marks import OFF_SKIN, Place, at_head, standard_marks, xyz
from .origin import Origin, origin_of
from .ratios import PairRatio, read_ratios
from .readings import (
    DARK,
    NEUTRAL,
    LaidOut,
    full_levels,
    key_of,
    lay_out,
    read_setup,
    stop_reading,
    ways_at,
)
from .results import MarkReading, Ratio, Ratios, Readings, UnitReading
from .schools import SCHOOLS, SchoolReading, exposed_for, hair, read_schools
from .sides import SCHOOLS_OF_RATIO, Sides

__all__ = [
    "DARK",
    "NEUTRAL",
    "OFF_SKIN",
    "SCHOOLS",
    "SCHOOLS_OF_RATIO",
    "LaidOut",
    "MarkReading",
    "Origin",
    "PairRatio",
    "Place",
    "Ratio",
    "Ratios",
    "Readings",
    "SchoolReading",
    "Sides",
    "UnitReading",
    "at_head",
    "exposed_for",
    "full_levels",
    "hair",
    "key_of",
    "lay_out",
    "origin_of",
    "read_ratios",
    "read_schools",
    "read_setup",
    "standard_marks",
    "stop_reading",
    "ways_at",
    "xyz",
]
