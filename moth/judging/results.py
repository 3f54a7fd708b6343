"""What is read in the picture: each reading says where, how much, and why it matters."""

from dataclasses import dataclass
from typing import Literal

Place = tuple[float, float]
"""Parts of the frame's width from the left and of its height from the top."""


Rank = Literal["well", "mind", "fault"]
"""Whether something is as it is usually wanted, worth a look, or in the way of the picture."""


@dataclass(frozen=True)
class Drawn:
    """A line that shows how a reading was found."""

    words: str
    """What the line is, with its figure where it has one."""
    path: tuple[Place, ...]
    """Along it, in the frame or beyond its edge."""


@dataclass(frozen=True)
class Reading:
    """One thing the picture does."""

    key: str
    """What it is about and where, the same from frame to frame: "outline hair left"."""
    kind: Literal[
        "outline",
        "face",
        "eyes",
        "whites",
        "skin",
        "backdrop",
        "mirrored",
        "frame",
        "lamps",
        "reasons",
        "sound",
    ]
    name: str
    verdict: Rank
    word: str
    """The verdict in the words of its kind: "gone", "reads", "loop"."""
    words: str
    """The figure, in a line."""
    why: str
    """Why it matters, in a line."""
    figure: float | None
    """What it was judged by, in the unit of its kind."""
    path: tuple[Place, ...] = ()
    """Where in the frame: a line along it, or one place."""
    unit: str | None = None
    """Id of the unit that it is about."""
    dimmer: float | None = None
    """Of that unit, which has been tried and mends it."""
    meant: str = ""
    """Why it is meant so, where it was set aside."""
    drawn: tuple[Drawn, ...] = ()
    """How it was found, line by line."""
