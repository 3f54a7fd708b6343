"""What goes in and out of days."""

from typing import Annotated

from ninja import Schema
from pydantic import Field

from moth.planning.day import DaySheet, ShootDay
from moth.planning.order import DayPlan

DayTitle = Annotated[str, Field(min_length=1, max_length=80)]


class DayNew(Schema):
    title: DayTitle
    date: Annotated[str, Field(max_length=10)]


class DayChange(Schema):
    """A day set anew, by who has seen a version of it."""

    version: int
    title: DayTitle
    asked: ShootDay


class DayLine(Schema):
    """A day on its production's list."""

    id: int
    title: str
    date: str
    shots: int
    words: str
    """Of its order; empty where none was made."""


class DaySetup(Schema):
    """A set-up that a day may have."""

    id: int
    title: str
    scene: str


class DayOut(Schema):
    """A day: what is asked, its order, what it takes."""

    id: int
    title: str
    version: int
    production: int
    production_title: str
    role: str
    asked: ShootDay
    plan: DayPlan | None
    outdated: bool
    """Whether the order was made of something that has changed since."""
    sheet: DaySheet | None
    setups: list[DaySetup]
    """All of the production."""
    missing: list[int]
    """Set-ups of the day that are gone."""


class WithoutAsked(Schema):
    """Names of units that could be left out."""

    units: Annotated[list[Annotated[str, Field(max_length=80)]], Field(min_length=1, max_length=40)]


class LeftOut(Schema):
    """What one set-up loses without some of its units."""

    setup: int
    title: str
    units: list[str]
    worse: list[str]
    """What the picture then does worse; empty where nothing that is read gets worse."""
