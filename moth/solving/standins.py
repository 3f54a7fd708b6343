"""Stand-ins: another head in the place of one, dressed as it was as far as that goes, dimmed to the
same level at the face; what is lost by it.
"""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..document import Measured, Setup
from ..errors import MothError
from ..inspection import inspect_unit
from ..metering import read_setup
from ..photometry import ATTACHMENTS, HEADS, NOISE
from ..units import stops
from ..wording import THIRDS

KEEP = 0.1
"""Stops within which a level is the same."""
SOFTER = 1.25
"""Times by which a softness or cover must differ to be told."""
MIREDS = 15.0
"""By which a white must differ to be told."""
WEIGHTS = {"level": 2.0, "soft": 1.0, "cover": 0.5, "white": 1 / 40}
"""What counts how much in "nearest": a stop of level twice a doubling of softness."""

PER_CLASS = (10.0, 35.0, 90.0, 220.0)
"""Price of a day's hire that stands for each class of moth.photometry.PRICE, where a kit's price
has to be held against a class; typical, in no currency.
"""

Filter = Literal["cheaper", "lighter", "battery", "quieter", "smaller"]


@dataclass(frozen=True)
class Candidate:
    """A head that could stand in."""

    name: str
    head: str
    """Of the catalogue."""
    ies: str | None = None
    measured: Measured | None = None
    price: float | None = None
    """Of a day's hire, where the kit says; None for its class in the catalogue."""
    weight: float | None = None
    watts: float | None = None

    def figure(self, name):
        """Its own weight [kg] or watts, or the catalogue's."""
        own = getattr(self, name)
        return getattr(HEADS[self.head], name) if own is None else own


@dataclass(frozen=True)
class Compared:
    """Something before and after."""

    name: str
    unit: str
    before: float | None
    after: float | None


@dataclass(frozen=True)
class StandIn:
    """A stand-in, tried and metered."""

    name: str
    head: str
    setup: Setup
    """With it, dimmed to the level that was there, as far as it reaches."""
    dimmer: float
    off: float
    """Level at the face against before [stops]: 0, or what it lacks."""
    spare: float
    """By how much it could be brighter than it has to be [stops]; negative where it lacks."""
    figures: tuple[Compared, ...]
    lost: tuple[str, ...]
    """What is lost, or other, in sentences."""
    gains: tuple[Filter, ...]
    """In what it is less of a burden."""
    away: float
    """How far it is from what was there; the least is the nearest."""
    words: str


def candidates(setup, unit_id):
    """Heads of the catalogue that could stand in for a unit's, all but its own.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(units=[{"id": "k", "name": "Key", "head": "bulb", "position": [1, 1, 2],
    ...     "aim": [2, 2, 1]}])
    >>> len(candidates(s, "k")) == sum(not h.of_place for h in HEADS.values()) - 1
    True
    """
    own = _unit(setup, unit_id).head
    return tuple(
        Candidate(h.name, h.key) for h in HEADS.values() if h.key != own and not h.of_place
    )


def _unit(setup, unit_id):
    unit = next((u for u in setup.units if u.id == unit_id), None)
    if unit is None:
        raise MothError(f"There is no unit '{unit_id}' here.", "unit")
    return unit


def stand_in(setup, unit_id, candidate, say=THIRDS):
    """One head tried in the place of another.

    Nothing but that unit changes. Light adds: the dimmer that balances follows from two readings,
    and what is told of the level is metered anew at that dimmer.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str
    candidate : Candidate
    say : moth.wording.Wording

    Returns
    -------
    StandIn

    Raises
    ------
    MothError
        When there is no such unit, or it gives no light to match.
    """
    unit = _unit(setup, unit_id)
    lit = _put(setup, unit.model_copy(update={"on": True}))
    was = inspect_unit(lit, unit_id, say)
    if was.lux <= 1e-3:
        raise MothError(f"{unit.name} brings no light to the face: there is nothing to match.")
    made, dropped = _dressed(unit, candidate)
    full = inspect_unit(_put(setup, made.model_copy(update={"dimmer": 1.0})), unit_id, say)
    dimmer = min(was.lux / max(full.lux, 1e-9), 1.0)
    made = made.model_copy(update={"dimmer": round(dimmer, 4) if dimmer > 0.001 else dimmer})
    after = _put(setup, made)
    reached = read_setup(after, unit_id).unit(unit_id).face_lux
    off = float(stops(max(reached, 1e-9) / was.lux))
    spare = float(stops(max(full.lux, 1e-9) / was.lux))
    figures = _figures(unit, candidate, was, full, reached)
    lost = _lost(unit, candidate, dropped, was, full, off, say)
    return StandIn(
        candidate.name,
        candidate.head,
        after,
        made.dimmer,
        off,
        spare,
        figures,
        lost,
        _gains(unit, candidate),
        _away(was, full, off),
        f"{candidate.name} at {100 * made.dimmer:.0f} %"
        + (f", {say.off(off)}" if abs(off) > KEEP else ", the same level"),
    )


def _put(setup, unit):
    units = tuple(unit if u.id == unit.id else u for u in setup.units)
    return setup.model_copy(update={"units": units})


def _dressed(unit, candidate):
    """The unit with another head, what cannot be hung on it left off."""
    head = HEADS[candidate.head]
    kept = tuple(a for a in unit.attachments if head.group in ATTACHMENTS[a.key].fits)
    dropped = [ATTACHMENTS[a.key].name for a in unit.attachments if a not in kept]
    low, high = head.cct
    change = {
        "head": candidate.head,
        "on": True,
        "attachments": kept,
        "ies": candidate.ies,
        "measured": candidate.measured,
        "cct": min(max(unit.cct, low), high),
        "saturation": unit.saturation if head.colour else 0.0,
        "feed": unit.feed if unit.feed != "@battery" or head.battery else "",
    }
    return unit.model_copy(update=change), dropped


def _figures(unit, candidate, was, full, reached):
    old, new = HEADS[unit.head], HEADS[candidate.head]

    def angle(inspection):
        return inspection.size.half

    return (
        Compared("level at the face", "lx", was.lux, reached),
        Compared("softness", "°", angle(was), angle(full)),
        Compared("covers within 1 stop", "m", was.coverage.widths.one, full.coverage.widths.one),
        Compared("white", "K", was.white.kelvin, full.white.kelvin),
        Compared("green", "Duv", was.white.green, full.white.green),
        Compared("power", "W", old.watts, candidate.figure("watts")),
        Compared("weight", "kg", old.weight, candidate.figure("weight")),
        Compared("battery", "min", old.battery or None, new.battery or None),
    )


def _ratio(one, other):
    return None if not one or not other else one / other


def _lost(unit, candidate, dropped, was, full, off, say):
    said = []
    if off < -KEEP:
        said.append(f"It lacks {say.counted(-off)} at full.")
    if dropped:
        said.append(f"{', '.join(dropped)} cannot be hung on it.")
    soft = _ratio(full.size.half, was.size.half)
    if soft and not 1 / SOFTER < soft < SOFTER:
        more = "softer" if soft > 1 else "harder"
        said.append(f"It is {more}: {full.size.half:.0f}° for {was.size.half:.0f}°.")
    cover = _ratio(full.coverage.widths.one, was.coverage.widths.one)
    if cover and not 1 / SOFTER < cover < SOFTER:
        said.append(
            f"It covers {full.coverage.widths.one:.1f} m for {was.coverage.widths.one:.1f} m."
        )
    mired = _mireds(was, full)
    if mired is not None and abs(mired) > MIREDS:
        said.append(f"It is {'warmer' if mired > 0 else 'cooler'} by {abs(mired):.0f} mired.")
    if unit.saturation > 0.02 and not HEADS[candidate.head].colour:
        said.append("It mixes no colour.")
    if HEADS[candidate.head].noise > HEADS[unit.head].noise:
        said.append(f"Its fan: {NOISE[HEADS[candidate.head].noise]}.")
    known = set(was.faults)
    said += [f for f in full.faults if f not in known][:2]
    return tuple(said)


def _mireds(was, full):
    if not was.white.kelvin or not full.white.kelvin:
        return None
    return 1e6 / full.white.kelvin - 1e6 / was.white.kelvin


def _gains(unit, candidate):
    old, new = HEADS[unit.head], HEADS[candidate.head]
    cheaper = (
        new.price < old.price if candidate.price is None else candidate.price < PER_CLASS[old.price]
    )
    smaller = np.prod(new.size) < np.prod(old.size)
    gains: list[tuple[Filter, bool]] = [
        ("cheaper", bool(cheaper)),
        ("lighter", candidate.figure("weight") < old.weight),
        ("battery", bool(new.battery)),
        ("quieter", new.noise < old.noise),
        ("smaller", bool(smaller)),
    ]
    return tuple(name for name, is_so in gains if is_so)


def _away(was, full, off):
    """Weighted distance of what the light does; see :data:`WEIGHTS`."""
    soft, cover = (
        _ratio(full.size.half, was.size.half),
        _ratio(full.coverage.widths.one, was.coverage.widths.one),
    )
    mired = _mireds(was, full)
    return (
        WEIGHTS["level"] * abs(off)
        + WEIGHTS["soft"] * (abs(math.log2(soft)) if soft else 2.0)
        + WEIGHTS["cover"] * (abs(math.log2(cover)) if cover else 2.0)
        + WEIGHTS["white"] * (abs(mired) if mired is not None else 100.0)
    )
