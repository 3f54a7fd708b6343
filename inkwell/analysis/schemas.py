"""What analyses are asked and answered with."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from inkwell.rendering.schemas import Worded
from moth.document import Camera, LimitKey, Profile, Surface
from moth.document import Setup as Document
from moth.judging import Difference
from moth.solving import GRID, TRIES
from moth.sun import PlaceOnEarth
from moth.trials import CellFigure

Span = Annotated[float, Field(ge=0.05, le=12)]


class DraftIn(Worded):
    """A draft to be read; without a document, the stored one."""

    document: Document | None = None


class ReadingIn(DraftIn):
    """A draft, and the reading of its picture that is meant."""

    reading: Annotated[str, Field(max_length=120)]


class TrialIn(DraftIn):
    """A draft and the same changed; what the change does, to one reading above all."""

    changed: Document
    reading: Annotated[str, Field(max_length=120)] | None = None


class WishIn(Schema):
    """One thing asked for: `low` and `high` are of a ratio, `low` of a softness [deg]."""

    kind: Literal["stop", "ratio", "outline", "shadow", "glare", "soft", "pattern", "frame"]
    low: Annotated[float, Field(ge=0, le=180)] | None = None
    high: Annotated[float, Field(ge=1, le=64)] | None = None
    word: Annotated[str, Field(max_length=40)] | None = None


class AskIn(Worded):
    """A draft, what is asked of it, and which place of the key is to be looked at."""

    document: Document
    wishes: Annotated[list[WishIn], Field(min_length=1, max_length=8)]
    at: Annotated[int, Field(ge=0, lt=len(GRID))]


class RatioIn(Schema):
    """A draft in which one unit is to bring a ratio about."""

    document: Document
    unit: Annotated[str, Field(max_length=40)]
    target: Annotated[float, Field(ge=1, le=64)]
    school: Literal["cheeks", "combined", "single"] = "combined"
    means: Literal["dimmer", "distance", "board"] = "dimmer"


class GripIn(Schema):
    """A draft whose one piece of grip is asked about; without a document, the stored one."""

    document: Document | None = None
    grip: Annotated[str, Field(max_length=40)]


class StandUpIn(GripIn):
    """The same, to be stood up: on stands at its sides, by a boom, or as there is room."""

    by: Literal["stand", "boom"] | None = None


class BoardIn(Schema):
    """A draft into which a board is to be brought for a ratio: one size and angle of several."""

    document: Document
    target: Annotated[float, Field(ge=1, le=64)]
    school: Literal["cheeks", "combined", "single"] = "combined"
    side: Literal["left", "right"]
    at: Annotated[int, Field(ge=0, lt=len(TRIES))]


class BoardOut(Schema):
    """What that board does, and how many there are to be tried."""

    document: Document | None
    """None where it does not do it."""
    off: float | None
    """Stops from what was asked for, where it comes nearest; None where it has no room."""
    words: str
    caution: str
    of: int


class FlagIn(Worded):
    """A draft in which a unit's light is to be kept off a thing: "@backdrop", or kind:id."""

    document: Document
    unit: Annotated[str, Field(max_length=40)]
    thing: Annotated[str, Field(max_length=60)]


class SolvedOut(Schema):
    document: Document
    ratio: float
    gesture: str


class InspectIn(DraftIn):
    """A draft whose one unit is looked into; without a document, the stored one."""

    unit: str


class PointIn(Schema):
    """A draft, and a place of its frame: parts of the width from the left and of the height from
    the top.
    """

    document: Document | None = None
    x: Annotated[float, Field(ge=0, le=1)]
    y: Annotated[float, Field(ge=0, le=1)]


class MapIn(Schema):
    document: Document | None = None
    plane: Literal["floor", "face", "north", "south", "east", "west"] | int
    only: str | None = None


class RigIn(Schema):
    """A draft in which one unit is to be rigged by a move of the catalogue."""

    document: Document
    unit: str
    move: str
    material: Annotated[str, Field(max_length=60)] | None = None
    size: (
        tuple[Annotated[float, Field(ge=0.05, le=12)], Annotated[float, Field(ge=0.05, le=12)]]
        | None
    ) = None


class RigOut(Schema):
    document: Document
    gesture: str
    caution: str


class CalibrateIn(Schema):
    """Two readings of one cloth, with it and without, in any one unit."""

    material: Annotated[str, Field(max_length=60)]
    id: Annotated[str, Field(max_length=40)]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    with_it: float
    without: float


class WalkIn(DraftIn):
    angle: Annotated[float, Field(ge=-180, le=180)] = 0.0
    distance: Annotated[float, Field(ge=0.2, le=12)] = 1.5


class AgainstIn(DraftIn):
    """A draft against another document: one sent, another set-up of the user's, an earlier revision
    of this one, or the draft itself at another of its states.
    """

    other: Document | None = None
    setup: int | None = None
    revision: int | None = None
    state: str | None = None


class ComparedOut(Schema):
    title: str
    rows: list[Difference]


class MatchedOut(Schema):
    document: Document
    left: dict[str, float]
    words: str


class CameraIn(Schema):
    """A camera, and how far its lens is from the subject's eyes [m]."""

    camera: Camera
    distance: Annotated[float, Field(gt=0.05, le=500)]


class HeadOut(Schema):
    key: str
    name: str
    shape: str
    size: tuple[float, float]
    peak: float
    beam: float
    field: float
    lumens: float
    watts: float
    weight: float
    cct: tuple[float, float]
    caution: str
    group: str
    colour: bool
    battery: float
    leak: float
    """Typical share of its flux that leaves by vents and back."""
    noise: str
    distance: float
    price: str
    source: str
    of_place: bool
    """Whether it is part of a piece of furniture, and nothing that a gaffer brings."""


class SettingOut(Schema):
    key: str
    name: str
    low: float
    high: float
    default: float
    unit: str
    choices: list[str]
    """What its whole numbers from 0 stand for; empty for a number."""


class AttachmentOut(Schema):
    key: str
    name: str
    group: str
    settings: list[SettingOut]
    fits: list[str]
    weight: float
    price: str
    caution: str
    presets: list[tuple[str, dict[str, float]]]
    """Settings that are often met with, by what they are called."""


class MaterialOut(Schema):
    key: str
    name: str
    group: str
    transmission: float
    returned: float
    reflectance: float
    mirror: float
    lobe: float
    lobe_width: float
    straight: float
    forward: float
    forward_width: float
    through: float
    colour: tuple[float, float, float]
    tint: float
    tolerance: float
    source: str


class LampOut(Schema):
    """The light that comes with a kind of furniture."""

    head: str
    at: tuple[float, float, float]
    """Of its lit face, in parts of the piece's width, depth and height."""
    aim: tuple[float, float, float]
    switch: str
    """Of the house, that it hangs on as it is brought in."""


class PieceOut(Schema):
    """A kind of furniture, as it is brought in."""

    key: str
    name: str
    group: str
    size: tuple[float, float, float]
    base: float
    round: bool
    wall: bool
    high: bool
    ceiling: bool
    """Whether it is fixed under the ceiling."""
    opens: bool
    surface: Surface
    second: Surface | None
    """None where nothing of it has a second surface."""
    gloss: bool
    outside: bool
    """Whether it stands outside, before the windows."""
    shaded: bool
    """Whether it has a lamp's shade."""
    through: float
    """Share of the light on its shade that usually goes through."""
    lamp: LampOut | None


class MoveOut(Schema):
    key: str
    name: str
    caution: str


class PlanOut(Schema):
    key: str
    name: str
    steps: list[str]


class ProfileOut(Schema):
    key: str
    profile: Profile


class Dials(Schema):
    """What cameras and lenses can be set to."""

    stops: list[float]
    indexes: list[int]
    angles: list[float]
    """[deg]"""
    speeds: list[int]
    """Parts of a second."""
    rates: list[float]
    filters: list[float]
    """ND [stops]."""


class LimitOut(Schema):
    """From where a reading is told; see moth.judging.Limit."""

    key: LimitKey
    name: str
    unit: str
    typical: float
    by_plan: dict[str, float]
    least: float
    most: float
    source: str


class TaskKindOut(Schema):
    """A kind of task of rigging, with its typical minutes and hands."""

    key: str
    name: str
    minutes: float
    hands: int


class StandOut(Schema):
    """A stand of the usual make."""

    key: str
    name: str
    load: float
    """[kg]"""
    height: float
    """[m]"""


class Constants(Schema):
    plans: list[PlanOut]
    profiles: list[ProfileOut]
    parts: dict[str, str]
    """Parts of a picture that targets are set for, by key."""
    limits: list[LimitOut]
    figures: list[CellFigure]
    """Of the cells of a trial."""
    places: list[PlaceOnEarth]
    weathers: dict[str, str]
    gear: dict[str, str]
    """Kinds of gear by key, as they are listed and packed."""
    tasks: list[TaskKindOut]
    stands: list[StandOut]
    ratios: list[tuple[float, float]]
    """Stops and the ratio of light they are."""
    grey: float
    """Linear signal of middle grey."""
    heads: list[HeadOut]
    attachments: list[AttachmentOut]
    materials: list[MaterialOut]
    pieces: list[PieceOut]
    moves: list[MoveOut]
    curve: list[int]
    """Display codes 0..255 of linear signals; see `octaves`."""
    octaves: tuple[int, int, int]
    """Lowest and highest power of two of a table of signals, and its steps in each octave."""
    full_stops: list[float]
    dials: Dials
    coarse: tuple[int, int]
    full: tuple[int, int]


class SunAimIn(Schema):
    """A reflector of a draft."""

    document: Document | None = None
    grip: Annotated[str, Field(max_length=40)]


class LevelIn(Worded):
    """A draft in which one unit is to bring a level [lx]; without one, what the camera asks for."""

    document: Document
    unit: Annotated[str, Field(max_length=40)]
    lux: Annotated[float, Field(gt=0, le=1e7)] | None = None


class RestoreIn(Worded):
    """A draft and what stood there before its last change."""

    document: Document
    before: Document


class LevelledOut(Schema):
    dimmer: float
    off: float
    words: str
