"""What looks, layers and pictures are asked and answered with."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from inkwell.config.lines import ProblemOut
from moth.document import Setup as Document

Window = Annotated[str, Field(max_length=60)]
"""Names the window that asks; its newer wishes replace its older ones."""
Step = Literal["third", "tenth"]
"""How fine stops are said."""


class LookIn(Schema):
    """A draft to look at; without a document, the stored one."""

    document: Document | None = None
    only: str | None = None
    step: Step = "third"
    client: Window = "none"
    picture: bool = True


class MarkOut(Schema):
    id: str
    name: str
    receiver: Literal["dome", "disc"]
    position: tuple[float, float, float]
    direction: tuple[float, float, float]
    lux: float
    footcandles: float
    stop: float | None
    stop_words: str
    against_camera: float | None
    against_words: str
    by_unit: dict[str, float]


class RatioOut(Schema):
    school: str
    ratio: float | None
    stops: float | None
    words: str


class RatiosOut(Schema):
    cheeks: RatioOut
    combined: RatioOut
    single: RatioOut


class UnitReading(Schema):
    id: str
    angle: float
    height: float
    distance: float
    side: str
    beam: float
    field: float
    lumens: float
    face_lux: float
    face_footcandles: float
    stop_words: str
    dial: float
    dimmer_stops: float | None


class Readings(Schema):
    camera: str
    key: str | None
    marks: list[MarkOut]
    ratios: RatiosOut
    units: list[UnitReading]
    sentence: str


class LayerKeys(Schema):
    coarse: str
    full: str


class FacePlaces(Schema):
    """Where the first figure's eyes and the top of the head show in the frame, 0..1; None out of
    it.
    """

    eyes: tuple[float, float] | None
    crown: tuple[float, float] | None


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


class LookOut(Schema):
    readings: Readings
    anchor: tuple[float, float, float]
    pins: dict[str, tuple[float, float] | None]
    face: FacePlaces
    half_width: float
    """Of the picture, at 1 m in front of the lens [m]."""


class LookLine(Schema):
    """A line of the answer: one of these."""

    mix: MixOut | None = None
    wait: WaitOut | None = None
    look: LookOut | None = None
    problem: ProblemOut | None = None


class StopIn(Schema):
    client: Window
