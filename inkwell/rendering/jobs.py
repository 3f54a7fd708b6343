"""One layer that somebody waits for: what it is, who wants it, how far it is."""

import os
from concurrent.futures import Future
from dataclasses import dataclass, field
from enum import Enum
from typing import Any, NamedTuple

from moth.judging import SIZE
from moth.transport import Source, layer_key, sources

_WIDE = int(os.environ.get("INKWELL_FRAME", "640"))
COARSE = SIZE
"""Size of a layer that is shown at once [px]."""
FULL = (_WIDE, _WIDE * 9 // 16)
"""Size of the one that is shown after it."""


class JobState(Enum):
    """How far a job is."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    GIVEN_UP = "given up"
    """Nobody wanted it any more before it was done."""


@dataclass(frozen=True)
class Order:
    """What is to be rendered."""

    key: str
    """Content hash of the layer."""
    document: object
    camera: object
    source: Source
    size: tuple


class Wanter(NamedTuple):
    """Who waits for a layer in one window."""

    person: Any
    at_hand: bool
    """At a desk; else for a picture of the shelf, which lets the person's own desk go first."""


@dataclass(eq=False)
class Job:
    """An order and what became of it; changed only by the queue that holds it."""

    order: Order
    wanted_by: dict = field(default_factory=dict)
    """Window -> :class:`Wanter`."""
    put_off: bool = False
    """Whether a picture that is under way is to be begun again, after the desk's layers."""
    asked: int = 0
    """Number of the newest wish for it."""
    state: JobState = JobState.WAITING
    future: Future = field(default_factory=Future)

    @property
    def key(self):
        return self.order.key

    def unwanted(self):
        return not self.wanted_by

    def hands(self):
        """Who waits for it at a desk."""
        # Copied in one step, for others ask who do not hold the queue's lock.
        return {w.person for w in list(self.wanted_by.values()) if w.at_hand}

    def rests(self, hands):
        """Whether it is only for pictures, of people who are at work at a desk."""
        wanters = self.wanted_by.values()
        return bool(wanters) and all(not w.at_hand and w.person in hands for w in wanters)


def orders_of(document, size):
    """Orders for the layers of all sources by the first camera, by the sources' ids.

    Parameters
    ----------
    document : moth.document.Setup
    size : (int, int)
        [px]

    Returns
    -------
    dict of str to Order
    """
    camera = document.cameras[0]
    return {
        s.id: Order(layer_key(document, camera, s, size), document, camera, s, size)
        for s in sources(document)
    }
