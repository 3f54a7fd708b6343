"""A day of shooting as data: what is asked of it, in what order it is done, what it takes."""

import datetime
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from ..document import Setup
from .cautions import Caution, cautions_of
from .money import Money, money_of
from .needs import Need, Shortage, needs_of, shortages, together, weight_of_needs
from .order import ALL_DAY, DayAsked, DayPlan, Meal, Shot, order_of
from .power import power_of
from .tasks import TASKS, Rigging, rigged, tasks_of

Name = Annotated[str, Field(min_length=1, max_length=80)]
Minute = Annotated[int, Field(ge=0, le=2 * ALL_DAY)]
"""Of the clock, from the midnight the day begins with; after the next midnight it goes on."""
Span = tuple[Minute, Minute]
Money_ = Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e9)]


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, str_strip_whitespace=True)


class ShotAsked(_Model):
    """A set-up of the day."""

    setup: int
    room: Annotated[str, Field(max_length=80)] = ""
    minutes: Annotated[int, Field(ge=1, le=ALL_DAY)] = 30
    """To shoot it."""
    windows: Annotated[tuple[Span, ...], Field(max_length=6)] = ()
    why: Annotated[str, Field(max_length=80)] = ""
    """What makes the windows, as "needs sun"."""
    people: Annotated[tuple[Name, ...], Field(max_length=12)] = ()
    pieces: Annotated[tuple[Name, ...], Field(max_length=12)] = ()
    locked: Minute | None = None
    took: Annotated[float, Field(ge=0, le=ALL_DAY)] | None = None
    """What its rigging took in the end, by the log [min]."""

    @field_validator("windows")
    @classmethod
    def run_forward(cls, windows):
        for begin, end in windows:
            if end <= begin:
                raise ValueError("a window ends before it begins")
        return windows


class Person(_Model):
    """Somebody who is there from one hour to another, before the camera or behind it."""

    name: Name
    begin: Minute = 0
    end: Minute = 2 * ALL_DAY
    rate: Money_ = 0.0
    """Of the day, in the production's money."""


class Piece(_Model):
    """Something that several set-ups share, and when it is there."""

    name: Name
    begin: Minute = 0


class MealAsked(_Model):
    name: Name = "Lunch"
    earliest: Minute = 720
    latest: Minute = 810
    minutes: Annotated[int, Field(ge=5, le=180)] = 60

    @model_validator(mode="after")
    def may_begin(self):
        if self.latest < self.earliest:
            raise ValueError("the meal has to begin before it may")
        return self


class ShootDay(_Model):
    """What is asked of a day."""

    date: Annotated[str, Field(max_length=10)] = "2026-10-15"
    """Year, month, day."""
    begin: Minute = 480
    end: Minute = 1080
    hands: Annotated[int, Field(ge=1, le=30)] = 2
    """People who rig."""
    move: Annotated[int, Field(ge=0, le=600)] = 20
    """From one room to another, beside the rigging [min]."""
    pace: Annotated[float, Field(ge=0.2, le=5)] = 1.0
    """Of this crew against the typical minutes: 1.3 takes 30 % longer."""
    minutes: Annotated[dict[str, Annotated[float, Field(ge=0, le=600)]], Field(max_length=30)] = {}
    """Of kinds of task, instead of the typical."""
    meals: Annotated[tuple[MealAsked, ...], Field(max_length=4)] = (MealAsked(),)
    people: Annotated[tuple[Person, ...], Field(max_length=60)] = ()
    pieces: Annotated[tuple[Piece, ...], Field(max_length=40)] = ()
    budget: Money_ | None = None
    shots: Annotated[tuple[ShotAsked, ...], Field(max_length=40)] = ()

    @field_validator("date")
    @classmethod
    def is_a_day(cls, date):
        try:
            datetime.date.fromisoformat(date)
        except ValueError:
            raise ValueError(f"there is no day {date}: write it as 2026-10-15") from None
        return date

    @field_validator("minutes")
    @classmethod
    def are_known(cls, minutes):
        for kind in minutes:
            if kind not in TASKS:
                raise ValueError(f"there is no kind of task '{kind}'")
        return minutes

    @model_validator(mode="after")
    def fits_together(self):
        if self.end <= self.begin:
            raise ValueError("the day ends before it begins")
        for what, names in (
            ("person", [p.name for p in self.people]),
            ("piece", [p.name for p in self.pieces]),
        ):
            for name in names:
                if names.count(name) > 1:
                    raise ValueError(f"the {what} {name} is there twice")
        setups = [s.setup for s in self.shots]
        if len(set(setups)) < len(setups):
            raise ValueError("a set-up is in the day twice")
        return self


@dataclass(frozen=True)
class SlotSheet:
    """A set-up on the day's paper."""

    setup: int
    rigging: Rigging
    needs: tuple[Need, ...]
    short: tuple[Shortage, ...]
    cautions: tuple[Caution, ...]
    watts: float
    changes: tuple[str, ...]
    """Batteries that are changed while it is shot."""


@dataclass(frozen=True)
class DaySheet:
    """Everything a day takes."""

    slots: tuple[SlotSheet, ...]
    """In the order of the day."""
    needs: tuple[Need, ...]
    """What is packed: the most of each that any set-up takes."""
    short: tuple[Shortage, ...]
    weight: float
    """Of what is packed [kg]."""
    charges: int
    """Charges of batteries that the day takes."""
    batteries: str
    """Whether the kit has so many, in a sentence; empty where no lamp runs on one."""
    money: Money
    pace: float | None
    """Of this crew by the log: what took how long against what was planned; None without one."""


def order_of_day(day, setups, names: Mapping[int, str]):
    """The order of a day.

    Parameters
    ----------
    day : ShootDay
    setups : mapping of int to moth.document.Setup
    names : mapping of int to str

    Returns
    -------
    moth.planning.order.DayPlan

    Raises
    ------
    MothError
        See :func:`moth.planning.order.order_of`.

    Examples
    --------
    >>> from moth.document import bare
    >>> day = ShootDay(shots=[{"setup": 1}], meals=())
    >>> order_of_day(day, {1: bare()}, {1: "One"}).words
    '1 set-up, 0 min of rigging, done at 08:30.'
    """
    return order_of(asked_of(day, setups, names))


def asked_of(day, setups, names):
    """A day as the solver is asked: rigging and changes worked out of the set-ups."""
    shots = tuple(
        Shot(
            str(s.setup),
            names[s.setup],
            s.room,
            s.minutes,
            s.windows,
            s.why,
            s.people,
            s.pieces,
            s.locked,
        )
        for s in day.shots
    )
    rig = {str(s.setup): _minutes(day, setups[s.setup], None) for s in day.shots}
    change = {
        (str(a.setup), str(b.setup)): _between(day, setups, a, b)
        for a in day.shots
        for b in day.shots
        if a.setup != b.setup
    }
    return DayAsked(
        day.begin,
        day.end,
        shots,
        rig,
        change,
        tuple(Meal(m.name, m.earliest, m.latest, m.minutes) for m in day.meals),
        {p.name: (p.begin, p.end) for p in day.people},
        {p.name: p.begin for p in day.pieces},
    )


def _rigging(day, setup, before, pace=None):
    kinds = {kind: known.minutes for kind, known in TASKS.items()} | day.minutes
    by = day.pace if pace is None else pace
    tasks = tasks_of(setup, before, {kind: minutes * by for kind, minutes in kinds.items()})
    return rigged(tasks, day.hands)


def _minutes(day, setup, before):
    return math.ceil(_rigging(day, setup, before).minutes)


def _between(day, setups, one, other):
    if one.room == other.room:
        return _minutes(day, setups[other.setup], setups[one.setup])
    return _minutes(day, setups[other.setup], None) + day.move


def sheet_of(day, plan: DayPlan, setups: Mapping[int, Setup], kit):
    """Everything a day takes, in its order.

    Parameters
    ----------
    day : ShootDay
    plan : moth.planning.order.DayPlan
    setups : mapping of int to moth.document.Setup
    kit : sequence of moth.planning.kit.Gear

    Returns
    -------
    DaySheet
    """
    asked = {s.setup: s for s in day.shots}
    slots: list[SlotSheet] = []
    before: ShotAsked | None = None
    charges, logged = 0, []
    for slot in plan.slots:
        shot = asked[int(slot.key)]
        setup = setups[shot.setup]
        stays = before is not None and before.room == shot.room
        stands = setups[before.setup] if before is not None and stays else None
        rigging = _rigging(day, setup, stands)
        power = power_of(setup, shot.minutes)
        charges += sum(b.charges for b in power.batteries)
        needs = needs_of(setup)
        slots.append(
            SlotSheet(
                shot.setup,
                rigging,
                needs,
                shortages(needs, kit),
                cautions_of(setup, shot.minutes),
                power.watts,
                tuple(b.words for b in power.batteries if b.changes),
            )
        )
        typical = _rigging(day, setup, stands, pace=1.0).minutes
        if shot.took and typical:
            logged.append(shot.took / typical)
        before = shot
    needs = together([n for s in slots for n in s.needs], most=True)
    people = [(p.name, p.rate) for p in day.people if p.rate]
    return DaySheet(
        slots=tuple(slots),
        needs=needs,
        short=shortages(needs, kit),
        weight=weight_of_needs(needs, kit),
        charges=charges,
        batteries=_batteries(charges, kit),
        money=money_of(needs, kit, people, day.budget),
        pace=sorted(logged)[len(logged) // 2] if logged else None,
    )


def _batteries(charges, kit):
    if not charges:
        return ""
    have = sum(g.count for g in kit if g.kind == "battery")
    words = f"{charges} charge{'s' if charges > 1 else ''} of batteries"
    if have >= charges:
        return f"{words}; the kit has {have}."
    return f"{words}; the kit has {have or 'none'}: charge between set-ups, or bring more."
