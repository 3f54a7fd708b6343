"""What looks, layers and pictures are asked and answered with."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from inkwell.config.lines import ProblemOut
from moth.document import Setup as Document
from moth.wording import Wording

from .questions import Look

Window = Annotated[str, Field(max_length=60)]
"""Names the window that asks; its newer wishes replace its older ones."""


class Worded(Schema):
    """A question whose answer has words in it; `step` is how fine stops are said."""

    step: Literal["third", "tenth"] = "third"

    @property
    def say(self):
        return Wording(self.step)


class LookIn(Worded):
    """A draft to look at; without a document, the stored one."""

    document: Document | None = None
    only: str | None = None
    client: Window = "none"
    picture: bool = True


class LayerKeys(Schema):
    coarse: str
    full: str


class MixOut(Schema):
    """What the frame is mixed from."""

    exposure: float
    levels: dict[str, float]
    """What each source's layer is multiplied by, before colour and exposure: dimmers of units,
    levels of sky and sun.
    """
    colours: dict[str, tuple[float, float, float]]
    layers: dict[str, LayerKeys]


class WaitOut(Schema):
    """That the meter takes its time, and why."""

    seconds: float
    words: str


class LookLine(Schema):
    """A line of the answer: one of these."""

    mix: MixOut | None = None
    wait: WaitOut | None = None
    look: Look | None = None
    problem: ProblemOut | None = None


class StopIn(Schema):
    client: Window
