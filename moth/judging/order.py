"""The order of work: the steps of a plan, each with a check computed from the scene."""

from dataclasses import dataclass
from typing import Literal

from ..metering import lay_out, read_setup
from ..wording import THIRDS
from .checks import CHECKS, Bench
from .plans import LOOK, PLANS, TITLES, start
from .reading import read_picture


@dataclass(frozen=True)
class StepReading:
    """A step of the work, and whether the light is there yet."""

    key: str
    """Of :data:`TITLES`."""
    title: str
    look: str
    """What to look at."""
    state: Literal["open", "done", "skipped"]
    reason: str
    """Why it was skipped."""
    met: bool | None
    """None where nothing can be computed."""
    words: str
    """By how much."""
    panel: Literal["camera", "unit", "room", "meter", "note"]
    """The tool for it."""
    unit: str | None
    """Id of the unit that is meant."""
    dimmer: float | None
    """Of that unit, which would meet it."""


def read_order(setup, picture, say=THIRDS, found=None):
    """Every step of a set-up's order of work, with its check.

    Parameters
    ----------
    setup : moth.document.Setup
        Its order, or the three-point one when it has none.
    picture : Picture
    say : moth.wording.Wording
    found : list of Reading, optional
        What :func:`read_picture` found; read when not given.

    Returns
    -------
    list of StepReading
    """
    order = setup.order or start("three-point")
    ready, readings = lay_out(setup), read_setup(setup, say=say)
    found = read_picture(setup, picture, say) if found is None else found
    bench = Bench(setup, ready, picture, readings, PLANS[order.plan], say, found)
    return [_read(bench, step) for step in order.steps]


def _read(bench, step):
    verdict = CHECKS[step.key](bench)
    return StepReading(
        key=step.key,
        title=TITLES[step.key],
        look=LOOK[step.key],
        state=step.state,
        reason=step.reason,
        met=verdict.met,
        words=verdict.words,
        panel=verdict.panel,
        unit=verdict.unit,
        dimmer=verdict.dimmer,
    )
