"""What is known of a still, and what a hand marks in it. Places are parts of the picture: x runs
from the left edge 0 to the right edge 1, y from the top 0 to the foot 1.
"""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..document import Figure, LogCurve
from ..document.model import Id, Model, Name

Part = Annotated[float, Field(allow_inf_nan=False, ge=-0.5, le=1.5)]
Spot = tuple[Part, Part]
LANDMARKS = ("eye_left", "eye_right", "nose_tip", "chin", "crown")


class Record(Model):
    """How a still was recorded, as far as is known."""

    curve: Literal["unknown", "srgb", "bt709", "hlg", "acescct", "log", "linear"] = "unknown"
    log: LogCurve = LogCurve()
    white: Annotated[float, Field(ge=2000, le=10000)] | None = None
    """White that the camera was balanced for [K]; None when nobody knows."""
    sensor_width: Annotated[float, Field(ge=3, le=80)] = 24.9
    """Of what the picture's width took [mm]."""
    focal_length: Annotated[float, Field(ge=4, le=1200)] | None = None
    """[mm]; None to be found from the marks."""
    t_stop: Annotated[float, Field(ge=0.5, le=90)] | None = None
    """Of the lens; tells how much of an edge's width is its blur."""
    taken: Literal["camera", "desk"] = "camera"
    """Whether it shows a real person, or one of the desk's own figures in a frame of its own."""


class MarkedArea(Model):
    """A round area."""

    at: Spot
    radius: Annotated[float, Field(gt=0, le=0.3)] = 0.008
    """As a part of the picture's width."""


class MarkedLine(Model):
    """A straight line."""

    a: Spot
    b: Spot

    @model_validator(mode="after")
    def has_length(self):
        if sum((p - q) ** 2 for p, q in zip(self.a, self.b, strict=True)) < 1e-6:
            raise ValueError("a line begins and ends in one place")
        return self


class MarkedEdge(MarkedLine):
    """An edge of the place: upright, along one wall, across it, or the horizon."""

    kind: Literal["upright", "along", "across", "horizon"]


class MarkedHead(Model):
    """Where parts of the head are seen; left and right are the person's own."""

    eye_left: Spot | None = None
    eye_right: Spot | None = None
    nose_tip: Spot | None = None
    chin: Spot | None = None
    crown: Spot | None = None


class MarkedGlint(Model):
    """A light mirrored in an eye."""

    eye: Literal["left", "right"]
    """The person's own."""
    iris: Spot
    """Middle of the iris."""
    rim: Spot
    """A place on the rim of the iris, level with its middle."""
    at: Spot
    """Middle of the glint."""


class MarkedShadow(Model):
    """A part of the head, and where its shadow falls."""

    of: Literal["nose_tip", "crown", "chin"] = "nose_tip"
    tip: Spot
    """Where the shadow of that part falls: on the face for the nose, on what is behind for the
    others.
    """


class MarkedUpright(Model):
    """A thing that stands on the floor, and its shadow there."""

    foot: Spot
    top: Spot
    tip: Spot
    """Of its shadow on the floor."""


class MarkedLight(Model):
    """What is marked of one light."""

    id: Id
    name: Name
    role: Literal["key", "fill", "edge", "background", "eye light", "other"] = "key"
    glints: Annotated[tuple[MarkedGlint, ...], Field(max_length=4)] = ()
    shadows: Annotated[tuple[MarkedShadow, ...], Field(max_length=4)] = ()
    uprights: Annotated[tuple[MarkedUpright, ...], Field(max_length=4)] = ()
    border: MarkedLine | None = None
    """Drawn across the edge of the first shadow, from lit to dark."""
    lit: MarkedArea | None = None
    """A place on skin that it lights; for a background light, on the backdrop."""
    angle: Annotated[float, Field(allow_inf_nan=False, ge=-180, le=180)] | None = None
    """Off lens, negative camera left, as the eye takes it [deg]: what no mark tells, and what goes
    before all marks where it is set.
    """
    height: Annotated[float, Field(allow_inf_nan=False, ge=-90, le=90)] | None = None
    softness: Annotated[float, Field(allow_inf_nan=False, gt=0, le=180)] | None = None
    """Both [deg]; set by hand, as the angle."""


class Marks(Model):
    """All that is marked in a still."""

    head: MarkedHead = MarkedHead()
    edges: Annotated[tuple[MarkedEdge, ...], Field(max_length=24)] = ()
    sources: Annotated[tuple[MarkedLight, ...], Field(max_length=8)] = ()
    neutral: MarkedArea | None = None
    """Something without colour of its own, in the key's light."""
    shade: MarkedArea | None = None
    """Skin on the shade side."""
    backdrop: MarkedArea | None = None
    spots: Annotated[tuple[MarkedArea, ...], Field(max_length=12)] = ()
    """To be read one by one, and against the first."""
    figure: Figure = Figure(id="subject", name="Subject", pose="seated", position=(0, 0))
    """Who is laid over the head; place and turning are found."""

    @model_validator(mode="after")
    def ids_differ(self):
        ids = [s.id for s in self.sources]
        if len(set(ids)) < len(ids):
            raise ValueError("two lights have one id")
        return self
