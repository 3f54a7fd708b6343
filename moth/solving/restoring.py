"""The exposure put back after a change that cost light, by dimmer or camera, in one move."""

from dataclasses import dataclass

from ..camera import Answer, set_for
from ..metering import read_setup
from ..units import stops
from ..wording import THIRDS
from .level import level_of, with_level

NOTICED, FAR_OFF = 1 / 6, 1.0
"""Stops from which a change is worth putting back, half a third, and from which a camera that had
no picture before is worth setting.
"""
WASHED_OUT = 3.0
"""Stops over the camera's from which a face was no picture to go back to; one far under may be
meant.
"""
DARK = 1e-3
"""Light that is none [lx]."""


@dataclass(frozen=True)
class Lever:
    """A unit whose light the change altered, and the dimmer that puts its level back."""

    unit: str
    stops: float
    """What it brings more (+) or less (-) than before."""
    dimmer: float
    words: str
    """What it lost and where the dimmer goes, or how much is left at full."""


@dataclass(frozen=True)
class Restored:
    """What a change did to the exposure, and the moves that put it back, one of them at a time."""

    stops: float
    """On the key side: more (+) or less (-) light than before; 0 where that is not noticed."""
    words: str
    """Empty where nothing is noticed."""
    levers: tuple[Lever, ...]
    """None for a unit that is fixed: it cannot be dimmed."""
    ways: tuple[Answer, ...]
    """Of the camera; none where the key side stays as it was."""
    anew: bool
    """Whether the face was dark before, or washed out and no unit changed that: then it is put to
    what the camera's settings ask for.
    """


def restored(setup, before, say=THIRDS):
    """How to put the exposure back that a change took or brought.

    A unit's own level is compared where :func:`.with_level` brings it: at the face, of one for the
    backdrop there. Units that were off or dark there, or are now, have nothing to be put back to. A
    face that was dark, or washed out by no unit of the set-up, is put to what the camera's settings
    ask for.

    Parameters
    ----------
    setup, before : moth.document.Setup
        After the change and before it.
    say : moth.wording.Wording

    Returns
    -------
    Restored

    Examples
    --------
    >>> from moth.document import bare
    >>> lamp = {"id": "k", "name": "Key", "role": "key", "head": "point-600", "dimmer": 0.1}
    >>> s = bare(units=[{**lamp, "position": [2, 3.4, 1.4], "aim": [2, 2, 1.4]}])
    >>> net = bare(units=[{**s.units[0].model_dump(), "attachments": [{"key": "scrim-double"}]}])
    >>> restored(net, s).words
    'Key −1'
    >>> [(way.what, way.value) for way in restored(net, s).ways][:2]
    [('stop', 2.0), ('index', 1600)]
    """
    now, then = read_setup(setup), read_setup(before)
    had = {u.id: u for u in before.units}
    fixed = {f.thing for f in setup.fixed}
    levers, told = [], []
    for unit in setup.units:
        old = had.get(unit.id)
        if not (unit.on and old and old.on):
            continue
        lux, was = level_of(now, unit), level_of(then, old)
        # No dimmer brings back what lights the face no more.
        if min(lux, was) <= DARK:
            continue
        off = float(stops(lux / was))
        if abs(off) < NOTICED:
            continue
        told.append(f"{unit.name} {say.difference(off)}")
        if unit.id in fixed:
            continue
        put = with_level(setup, unit.id, was, say)
        dimmer = next(u.dimmer for u in put.setup.units if u.id == unit.id)
        left = f", {say.off(put.off)} left" if abs(put.off) >= 0.05 else ""
        levers.append(Lever(unit.id, off, dimmer, told[-1] + left))
    off, anew = _on_key_side(now, then, by_units=bool(told))
    off = off if abs(off) >= (FAR_OFF if anew else NOTICED) else 0.0
    ways = tuple(set_for(setup.cameras[0], off)) if off else ()
    if anew:
        return Restored(off, f"{say.difference(off)} on the camera" if off else "", (), ways, True)
    more = len(told) - 2
    words = ", ".join(told[:2]) + (f" and {more} more" if more > 0 else "")
    if not told and off:
        words = f"key side {say.difference(off)}"
    return Restored(off, words, tuple(levers), ways, False)


def _on_key_side(now, then, by_units):
    """Change of light [stops] where the key side is metered, or under the chin where there is none;
    against what the camera asks for where it was dark, or washed out and changed by no unit, whose
    dimmers would put it back; the second value says so.
    """
    marks = [{m.id: m for m in readings.marks} for readings in (now, then)]
    dark = all(m.lux <= DARK for m in marks[1].values())
    for mark in ("key-side", "chin"):
        lit, before = (found.get(mark) for found in marks)
        if lit is None or lit.lux <= DARK:
            continue
        if dark and lit.against_camera is not None:
            return float(lit.against_camera), True
        if before is None or before.lux <= DARK:
            continue
        change = float(stops(lit.lux / before.lux))
        washed_out = not by_units and (before.against_camera or 0.0) >= WASHED_OUT
        if washed_out and abs(change) >= NOTICED and lit.against_camera is not None:
            return float(lit.against_camera), True
        return change, False
    return 0.0, False
