"""The sun and the day: where the sun stands, how bright and how white sun and sky are."""

from .day import Day, Instant, Moment, day_of, with_hour
from .light import WEATHERS, Daylight, daylight
from .places import PLACES, PlaceOnEarth
from .position import sun_at
from .reflecting import SunAim, sun_aims

__all__ = [
    "PLACES",
    "WEATHERS",
    "Day",
    "Daylight",
    "Instant",
    "Moment",
    "PlaceOnEarth",
    "SunAim",
    "day_of",
    "daylight",
    "sun_aims",
    "sun_at",
    "with_hour",
]
