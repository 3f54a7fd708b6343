"""The order of the day: which set-up when, so that sun, people, meals and pieces are met and the
least is rigged anew (:mod:`.timetable` solves it).
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..errors import MothError

ALL_DAY = 1440
MOST = 40
"""Set-ups that one day may have."""
SECONDS = 4.0
"""For the whole of a plan, all that is asked of the solver [s]."""


@dataclass(frozen=True)
class Shot:
    """A set-up to be shot that day. Times are minutes of the clock."""

    key: str
    name: str
    room: str
    minutes: int
    """To shoot it, once it is rigged."""
    windows: tuple[tuple[int, int], ...] = ()
    """Between which it must be shot, one of them; empty for any time."""
    why: str = ""
    """What makes the windows: "the gallery needs sun"."""
    people: tuple[str, ...] = ()
    pieces: tuple[str, ...] = ()
    """Shared pieces it waits for."""
    locked: int | None = None
    """When its shooting begins, where that is fixed."""


@dataclass(frozen=True)
class Meal:
    name: str
    earliest: int
    latest: int
    """It begins between these."""
    minutes: int = 60


@dataclass(frozen=True)
class DayAsked:
    """A day to be put in order."""

    begin: int
    end: int
    """Everything is shot by then."""
    shots: tuple[Shot, ...]
    rig: Mapping[str, int]
    """From an empty place, by key of a shot [min]."""
    change: Mapping[tuple[str, str], int]
    """From one shot to another, the move between rooms counted [min]."""
    meals: tuple[Meal, ...] = ()
    hours: Mapping[str, tuple[int, int]] = field(default_factory=dict)
    """When people are there, by name."""
    arrives: Mapping[str, int] = field(default_factory=dict)
    """When shared pieces are there, by name."""


@dataclass(frozen=True)
class Slot:
    """A shot in the order of the day."""

    key: str
    name: str
    room: str
    rig_from: int
    """When the crew begins on it; a meal may lie between."""
    begin: int
    end: int
    """Of the shooting."""
    rig: int
    """Minutes of rigging and moving before it."""
    rigging: tuple[tuple[int, int], ...] = ()
    """When that is done, as late as it can be, meals left out."""
    broken: tuple[str, ...] = ()
    """Wishes that it does not meet, in sentences."""


@dataclass(frozen=True)
class MealSlot:
    name: str
    begin: int
    end: int


@dataclass(frozen=True)
class DayPlan:
    """A day in order."""

    slots: tuple[Slot, ...]
    meals: tuple[MealSlot, ...]
    rigging: int
    """Minutes of rigging and moving in all."""
    wraps: int
    """When the last shot is done."""
    best: bool
    """Whether it is proved that no order re-rigs less."""
    broken: tuple[str, ...]
    """Wishes that the plan does not meet."""
    conflict: tuple[str, ...]
    """Wishes that cannot be met together; none of them could be left out of the conflict."""
    words: str


def order_of(day, seconds=SECONDS):
    """The order of a day.

    Least rigging first, then the earliest end. Where not everything can be met, the order that
    breaks the least, what it breaks, and which wishes are at odds.

    Parameters
    ----------
    day : DayAsked
    seconds : float
        For all of it.

    Returns
    -------
    DayPlan

    Raises
    ------
    MothError
        For a day of no or too many shots, or of times that are none.

    Examples
    --------
    >>> a, b = (Shot(k, k, "r", 30) for k in "ab")
    >>> day = DayAsked(480, 1080, (a, b), {"a": 60, "b": 20}, {("a", "b"): 5, ("b", "a"): 50})
    >>> plan = order_of(day)
    >>> [(s.key, s.begin) for s in plan.slots], plan.rigging
    ([('a', 540), ('b', 575)], 65)
    """
    # Whoever only reads a day that was ordered waits for no solver.
    from .timetable import solved

    _check(day)
    return solved(day, seconds)


def _check(day):
    if not day.shots:
        raise MothError("A day needs at least one set-up.", "shots")
    if len(day.shots) > MOST:
        raise MothError(f"A day takes {MOST} set-ups; there are {len(day.shots)}.", "shots")
    if not 0 <= day.begin < day.end <= 2 * ALL_DAY:
        raise MothError("The day ends before it begins.", "end")
    for shot in day.shots:
        for begin, end in shot.windows:
            if end <= begin:
                raise MothError(f"{shot.name}: a window ends before it begins.", "windows")
    for meal in day.meals:
        if meal.latest < meal.earliest:
            raise MothError(f"{meal.name} has to begin before it may.", "meals")
