"""Exposing for what cannot be dimmed, and what that asks of the units that can."""

from dataclasses import dataclass

import numpy as np

from ..camera import Answer, key_level, set_for, stops_over_grey
from ..document import BACKDROP, WINDOW
from ..metering import lay_out
from ..transport import SKY, SUN
from ..units import footcandles, stops
from ..wording import THIRDS, percent

BUILT_IN = {SUN: "the sun", SKY: "the sky", BACKDROP: "the backdrop"}


@dataclass(frozen=True)
class Reacher:
    """A unit that can bring a level, or how far it gets."""

    id: str
    name: str
    dimmer: float | None
    """None when it cannot by its dimmer."""
    words: str


@dataclass(frozen=True)
class FixedReading:
    """Something that cannot be dimmed: where it sits, and what that asks of the rest."""

    thing: str
    name: str
    wanted: float
    """[stops about middle grey]"""
    sits: float | None
    """None when it is not in the picture."""
    off: float | None
    met: bool
    ways: tuple[Answer, ...]
    """Settings that put it where it should be, each alone."""
    key_lux: float | None
    """A dome toward the key reads this when the lit side is middle grey at those settings."""
    key_footcandles: float | None
    units: tuple[Reacher, ...]
    """Who can bring that."""
    words: str


@dataclass(frozen=True)
class Asked:
    """What the camera's settings ask for on a dome toward the key, and who can give it."""

    lux: float
    footcandles: float
    units: tuple[Reacher, ...]


def name_of(setup, thing):
    """What a fixed thing is called."""
    named = {u.id: u.name for u in setup.units} | {window_key(o): o.name for o in setup.openings}
    return named.get(thing) or BUILT_IN.get(thing, thing)


def window_key(opening):
    """What an opening is called among fixed things: its id may be a unit's too."""
    return WINDOW + opening.id


def can_be_fixed(setup):
    """Things of a set-up that may be marked as not to be dimmed: (id, name), practicals and
    openings first.

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare()
    >>> can_be_fixed(s)
    [('@backdrop', 'the backdrop')]
    """
    things = [u.id for u in setup.units if u.role == "practical"]
    things += [window_key(o) for o in setup.openings]
    if (setup.openings or setup.room.outdoors) and setup.sky.sun:
        things.append(SUN)
    things += [BACKDROP] + [u.id for u in setup.units if u.role != "practical"]
    return [(t, name_of(setup, t)) for t in things]


def read_fixed(setup, picture, say=THIRDS):
    """Where each fixed thing sits, the settings that put it where it should, the level the key must
    then reach, and which unit can.

    Parameters
    ----------
    setup : moth.document.Setup
    picture : Picture
    say : moth.wording.Wording

    Returns
    -------
    list of FixedReading
    """
    ready = lay_out(setup)
    full = ready.full([ready.marks["key-side"]])[:, 0]
    return [_read(ready, picture, thing, full, say) for thing in setup.fixed]


def _read(ready, picture, thing, full, say):
    pixels = picture.things.get(thing.thing)
    signal = None if pixels is None else _brightest(picture, thing.thing, pixels)
    name = name_of(ready.setup, thing.thing)
    if signal is None:
        words = "not in this picture: nothing of it has to be held"
        return FixedReading(
            thing.thing, name, thing.stops, None, None, True, (), None, None, (), words
        )
    sits = stops_over_grey(signal)
    off = sits - thing.stops
    met = abs(off) <= 0.34
    lux = key_level(ready.camera) * 2**off
    fixed = {f.thing for f in ready.setup.fixed}
    return FixedReading(
        thing=thing.thing,
        name=name,
        wanted=thing.stops,
        sits=sits,
        off=off,
        met=met,
        ways=tuple(set_for(ready.camera, off)),
        key_lux=lux,
        key_footcandles=footcandles(lux),
        units=_who_can(ready, full, fixed, lux, say),
        words="sits where it should" if met else f"{say.off(off)} where it should sit",
    )


def read_asked(setup, say=THIRDS):
    """The level that the camera's settings ask for, and the dimmers that give it on the key side.

    Parameters
    ----------
    setup : moth.document.Setup
    say : moth.wording.Wording

    Returns
    -------
    Asked

    Examples
    --------
    >>> from moth.document import bare
    >>> s = bare(
    ...     units=[
    ...         {
    ...             "id": "k",
    ...             "name": "k",
    ...             "role": "key",
    ...             "head": "panel-2x1",
    ...             "position": [1, 3, 2],
    ...             "aim": [2, 2, 1.5],
    ...         }
    ...     ]
    ... )
    >>> asked = read_asked(s)
    >>> round(asked.lux, 1), 0 < asked.units[0].dimmer < 1
    (156.8, True)
    """
    ready = lay_out(setup)
    full = ready.full([ready.marks["key-side"]])[:, 0]
    lux = key_level(ready.camera)
    fixed = {f.thing for f in setup.fixed}
    return Asked(lux, footcandles(lux), _who_can(ready, full, fixed, lux, say))


BRIGHT = 0.25
"""Part of a lamp or window that is its brightest; typical."""


def _brightest(picture, thing, pixels):
    """What has to be held of it: the brightest quarter, for a lamp's back is dark; of a backdrop
    all. None where it is not in the picture.
    """
    if thing == BACKDROP or not len(pixels):
        return picture.signal_in(pixels)
    bright = picture.mix.ravel()[pixels]
    return picture.signal_in(pixels[bright >= np.quantile(bright, 1 - BRIGHT)])


def _who_can(ready, full, fixed, wanted, say):
    """Units that are not fixed: the key first, then who can, then who comes nearest; four."""
    units = {u.id: u for u in ready.setup.units}
    found = []
    now = float(ready.state @ full) if len(full) else 0.0
    for k, source in enumerate(ready.found):
        unit = units.get(source.id)
        if unit is None or unit.id in fixed or full[k] <= 1e-4:
            continue
        dimmer = (wanted - (now - float(ready.state[k] * full[k]))) / float(full[k])
        if dimmer < 0.01 and unit.role != "key":
            continue
        can = 0.01 <= dimmer <= 1
        if dimmer < 0.01:
            words = "the others alone bring more: take them down first"
        elif can:
            words = percent(dimmer)
        else:
            words = f"{say.amount(stops(dimmer))} short at full"
        short = max(0.0, stops(max(dimmer, 1e-3)))
        reacher = Reacher(unit.id, unit.name, dimmer if can else None, words)
        found.append(((unit.role != "key", not can, short), reacher))
    return tuple(reacher for _, reacher in sorted(found, key=lambda row: row[0])[:4])
