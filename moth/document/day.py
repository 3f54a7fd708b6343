"""Sun, sky, and where on the earth a set-up is."""

import datetime
import zoneinfo
from typing import Annotated, Literal

from pydantic import Field, field_validator

from .basics import Model, Name


class Sun(Model):
    """`azimuth` from north clockwise as on a map, `level` on a face square to the beam."""

    azimuth: Annotated[float, Field(ge=-360, le=360)] = 135.0
    elevation: Annotated[float, Field(ge=1, le=90)] = 35.0
    level: Annotated[float, Field(ge=0, le=130_000)] = 60_000.0
    cct: Annotated[float, Field(ge=2000, le=10000)] = 5400.0
    on: bool = True


class Sky(Model):
    """`level` is the illuminance of the open sky, without sun, on level ground [lx]."""

    kind: Literal["clear", "overcast"] = "overcast"
    level: Annotated[float, Field(ge=0, le=60_000)] = 10_000.0
    cct: Annotated[float, Field(ge=2000, le=10000)] = 6500.0
    on: bool = True
    sun: Sun | None = None


class MeasuredDay(Model):
    """A meter's reading of the open day, on level ground, sun and sky together."""

    lux: Annotated[float, Field(gt=0, le=200_000)]
    minute: Annotated[int, Field(ge=0, lt=1440)]
    """Of the clock when it was read."""


class Site(Model):
    """Where on the earth the place is, and when: what sun and sky are set by while the hour is
    dragged.
    """

    name: Name = "Saltmarsh (made up)"
    latitude: Annotated[float, Field(allow_inf_nan=False, ge=-90, le=90)] = 53.1
    longitude: Annotated[float, Field(allow_inf_nan=False, ge=-180, le=180)] = 0.35
    zone: Annotated[str, Field(min_length=1, max_length=60)] = "Europe/London"
    """Time zone, of the IANA database."""
    date: Annotated[str, Field(max_length=10)] = "2026-10-15"
    """Year, month, day."""
    minute: Annotated[int, Field(ge=0, lt=1440)] = 600
    """Of the clock there, since midnight."""
    weather: Literal["clear", "hazy", "thin-cloud", "overcast"] = "clear"
    turned: Annotated[float, Field(allow_inf_nan=False, ge=-360, le=360)] = 0.0
    """By how much the plan's north lies clockwise of true north [deg]."""
    measured: MeasuredDay | None = None
    """What scales the model's levels, sun and sky alike."""

    @field_validator("date")
    @classmethod
    def is_a_day(cls, date):
        try:
            day = datetime.date.fromisoformat(date)
        except ValueError:
            raise ValueError(f"there is no day {date}: write it as 2026-10-15") from None
        if not 1950 <= day.year <= 2100:
            raise ValueError("the sun is reckoned from 1950 to 2100")
        return date

    @field_validator("zone")
    @classmethod
    def is_a_zone(cls, zone):
        try:
            zoneinfo.ZoneInfo(zone)
        except (zoneinfo.ZoneInfoNotFoundError, ValueError, OSError):
            raise ValueError(f"there is no time zone {zone}") from None
        return zone
