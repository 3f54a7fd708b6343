"""A unit brought to a level: at the camera's stop when it comes in, at its own when it changes."""

from dataclasses import dataclass

import numpy as np

from ..camera import key_level
from ..document import Setup
from ..errors import DocumentError
from ..metering import read_setup
from ..units import stops
from ..wording import THIRDS

LOWEST = 2.0**-10
"""Dimmer below which a unit is as good as off."""
COMES_IN = {"fill": -2.0, "background": -1.0}
"""Stops against the camera's setting at which units of a part come in, the others at it; typical.
"""


@dataclass(frozen=True)
class Levelled:
    """A set-up with one unit's dimmer set."""

    setup: Setup
    off: float
    """Stops over (+) or under (-) the level asked for that are left."""
    words: str


def with_level(setup, unit_id, lux=None, say=THIRDS):
    """A set-up whose unit brings a level to the face, or to the backdrop if that is its part.

    Parameters
    ----------
    setup : moth.document.Setup
    unit_id : str
    lux : float or None
        On a dome held to the head toward its light (a disc on the backdrop); None for what the
        camera's settings ask for, as :data:`COMES_IN` says.
    say : moth.wording.Wording

    Returns
    -------
    Levelled

    Raises
    ------
    DocumentError
        When there is no such unit.

    Examples
    --------
    >>> from moth.document import bare
    >>> lamp = {"id": "k", "name": "Key", "role": "key", "head": "point-600"}
    >>> s = bare(units=[{**lamp, "position": [1, 3, 2], "aim": [2, 2, 1.5]}])
    >>> 0 < with_level(s, "k").setup.units[0].dimmer < 1
    True
    """
    at = next((k for k, u in enumerate(setup.units) if u.id == unit_id), None)
    if at is None:
        raise DocumentError(f"There is no unit '{unit_id}'.", "unit")
    unit = setup.units[at]
    full = _put(setup, at, {"dimmer": 1.0, "on": True})
    readings = read_setup(full)
    reached = level_of(readings, unit)
    if lux is None:
        lux = key_level(setup.cameras[0]) * 2.0 ** COMES_IN.get(unit.role, 0.0)
    if reached <= 1e-3 or lux <= 0:
        return Levelled(setup, 0.0, f"{unit.name} lights nothing there: its dimmer stays")
    wanted = lux / reached
    dimmer = float(np.clip(wanted, LOWEST, 1.0))
    off = float(stops(dimmer / wanted))
    left = f"{say.counted(off)} {'over' if off > 0 else 'under'}"
    words = "at the level asked for" if abs(off) < 0.05 else f"{left}: it cannot go further"
    return Levelled(_put(setup, at, {"dimmer": round(dimmer, 6)}), off, f"{unit.name} {words}")


def level_of(readings, unit):
    """What a unit brings to the face, or to the backdrop if that is its part [lx].

    Parameters
    ----------
    readings : moth.metering.Readings
    unit : moth.document.Unit
        One of the set-up that was read.

    Returns
    -------
    float

    Examples
    --------
    >>> from moth.document import bare
    >>> lamp = {"id": "k", "name": "Key", "role": "key", "head": "point-600"}
    >>> s = bare(units=[{**lamp, "position": [1, 3, 2], "aim": [2, 2, 1.5]}])
    >>> readings = read_setup(s)
    >>> level_of(readings, s.units[0]) == readings.unit("k").face_lux
    True
    """
    backdrop = next((m for m in readings.marks if m.id == "backdrop"), None)
    if unit.role == "background" and backdrop:
        return backdrop.by_unit[unit.id]
    return readings.unit(unit.id).face_lux


def _put(setup, at, change):
    unit = setup.units[at].model_copy(update=change)
    return setup.model_copy(update={"units": (*setup.units[:at], unit, *setup.units[at + 1 :])})
