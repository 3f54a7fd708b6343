"""What analyses are asked and answered with."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from moth.document import Camera, Profile
from moth.document import Setup as Document

Span = Annotated[float, Field(ge=0.05, le=12)]


class DraftIn(Schema):
    """A draft to be read; without a document, the stored one. `step` is how fine stops are said."""

    document: Document | None = None
    step: Literal["third", "tenth"] = "third"


class AnswerOut(Schema):
    what: Literal["stop", "index", "shutter", "nd"]
    value: float
    left: float


class SchoolOut(Schema):
    key: str
    title: str
    name: str
    lux: float
    footcandles: float
    stop: float | None
    stop_words: str
    against: float | None
    against_words: str
    sits: dict[str, float | None]
    ways: list[AnswerOut]
    exposure: float | None


class RatioIn(Schema):
    """A draft in which one unit is to bring a ratio about."""

    document: Document
    unit: Annotated[str, Field(max_length=40)]
    target: Annotated[float, Field(ge=1, le=64)]
    school: Literal["cheeks", "combined", "single"] = "combined"
    means: Literal["dimmer", "distance", "board"] = "dimmer"


class SolvedOut(Schema):
    document: Document
    ratio: float
    gesture: str


class InspectIn(Schema):
    """A draft whose one unit is looked into; without a document, the stored one."""

    document: Document | None = None
    unit: str
    step: Literal["third", "tenth"] = "third"


class WayOut(Schema):
    name: str
    share: float


class StageOut(Schema):
    name: str
    kind: str
    lux: float
    stops: float | None
    words: str
    note: str


class CostOut(Schema):
    stops: float
    words: str
    path: float


class SizeOut(Schema):
    width: float
    height: float
    distance: float
    degrees: float
    half: float
    """Full angle that holds half of the light [deg]."""
    most: float
    """The same for nine tenths."""


class ShadowOut(Schema):
    cheek: float
    backdrop: float | None
    wrap: float
    to_backdrop: float | None


class WidthsOut(Schema):
    half: float
    one: float
    one_and_half: float


class CoverageOut(Schema):
    widths: WidthsOut
    falloff: float | None


class SpillOut(Schema):
    stops: float
    words: str


class WhiteOut(Schema):
    kelvin: float
    green: float


class InspectOut(Schema):
    id: str
    origin: str
    lux: float
    footcandles: float
    stop_words: str
    ways: list[WayOut]
    stages: list[StageOut]
    cost: CostOut | None
    size: SizeOut
    shadow: ShadowOut
    coverage: CoverageOut
    spill: SpillOut | None
    white: WhiteOut
    grip: list[str]
    """Ids of the grip that its light goes by."""
    faults: list[str]


class MapIn(Schema):
    document: Document | None = None
    plane: Literal["floor", "face", "north", "south", "east", "west"]
    only: str | None = None


class MapOut(Schema):
    plane: str
    corner: tuple[float, float, float]
    along: tuple[float, float, float]
    up: tuple[float, float, float]
    columns: int
    rows: int
    lux: list[float]


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


class TargetOut(Schema):
    what: str
    name: str
    target: float
    code: float
    within: float
    sits: float | None
    off: float | None
    met: bool
    unit: str | None
    dimmer: float | None
    words: str


class ReacherOut(Schema):
    id: str
    name: str
    dimmer: float | None
    words: str


class FixedOut(Schema):
    thing: str
    name: str
    wanted: float
    sits: float | None
    off: float | None
    met: bool
    ways: list[AnswerOut]
    key_lux: float | None
    key_footcandles: float | None
    units: list[ReacherOut]
    words: str


class ThingOut(Schema):
    id: str
    name: str


class AskedOut(Schema):
    """What the camera's settings ask for on the key side, and who can give it."""

    lux: float
    footcandles: float
    units: list[ReacherOut]


class StepOut(Schema):
    key: str
    title: str
    look: str
    state: Literal["open", "done", "skipped"]
    reason: str
    met: bool | None
    words: str
    panel: Literal["camera", "unit", "room", "meter", "note"]
    unit: str | None
    dimmer: float | None


class ThreeWaysOut(Schema):
    key: str
    name: str
    meter: float | None
    read: float | None
    linear: float | None
    words: dict[str, str]
    stops: float | None
    why: str


class JudgedOut(Schema):
    targets: list[TargetOut]
    fixed: list[FixedOut]
    can_be_fixed: list[ThingOut]
    order: list[StepOut]
    ratios: list[ThreeWaysOut]
    asked: AskedOut
    headroom: float
    """Stops from middle grey to where the camera's curve clips."""


class WalkIn(DraftIn):
    angle: Annotated[float, Field(ge=-180, le=180)] = 0.0
    distance: Annotated[float, Field(ge=0.2, le=12)] = 1.5


class WalkedOut(Schema):
    distance: float
    position: tuple[float, float, float]
    lux: float
    footcandles: float
    stops: float
    words: str


class AreaOut(Schema):
    part: float
    area: float


class ActingOut(Schema):
    corner: tuple[float, float]
    side: float
    cells: int
    stops: list[float]
    areas: list[AreaOut]


class WalkOut(Schema):
    path: list[WalkedOut]
    acting: ActingOut


class AgainstIn(DraftIn):
    """A draft against another document: one sent, another set-up of the user's, or an earlier
    revision of this one.
    """

    other: Document | None = None
    setup: int | None = None
    revision: int | None = None


class DifferenceOut(Schema):
    kind: Literal["level", "ratio", "camera", "unit", "grip", "place"]
    what: str
    words: str
    stops: float | None


class ComparedOut(Schema):
    title: str
    rows: list[DifferenceOut]


class MatchedOut(Schema):
    document: Document
    left: dict[str, float]
    words: str


class FiguresIn(Schema):
    """A camera, and how far its lens is from the subject's eyes [m]."""

    camera: Camera
    distance: Annotated[float, Field(gt=0.05, le=500)]


class BandOut(Schema):
    key: str
    name: str
    low: float
    colour: tuple[int, int, int] | None
    pattern: str
    ink: tuple[int, int, int] | None


class DepthOut(Schema):
    focus: float
    near: float
    far: float | None
    hyperfocal: float


class FlickerOut(Schema):
    mains: int
    lamp: str
    change: float
    safe: bool
    nearest: float | None
    nearest_angle: float | None


class FiguresOut(Schema):
    curve: str
    source: str
    grey: float
    over: float
    under: float
    table: list[int]
    """Code values 0..65535 of linear signals, by octaves as in the constants."""
    noise: list[float]
    """Standard deviation of the linear signal in a pixel of the picture, by the same octaves."""
    bands: list[BandOut]
    depth: DepthOut
    time: float
    angle: float
    density: float
    flicker: list[FlickerOut]
    fps: list[float]


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
    noise: str
    distance: float
    price: str
    figures: str


class SettingOut(Schema):
    key: str
    name: str
    low: float
    high: float
    default: float
    unit: str


class AttachmentOut(Schema):
    key: str
    name: str
    group: str
    settings: list[SettingOut]
    fits: list[str]
    weight: float
    price: str
    caution: str


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


class Constants(Schema):
    plans: list[PlanOut]
    profiles: list[ProfileOut]
    parts: dict[str, str]
    """Parts of a picture that targets are set for, by key."""
    ratios: list[tuple[float, float]]
    """Stops and the ratio of light they are."""
    grey: float
    """Linear signal of middle grey."""
    heads: list[HeadOut]
    attachments: list[AttachmentOut]
    materials: list[MaterialOut]
    moves: list[MoveOut]
    patterns: list[str]
    curve: list[int]
    """Display codes 0..255 of linear signals; see `octaves`."""
    octaves: tuple[int, int, int]
    """Lowest and highest power of two of a table of signals, and its steps in each octave."""
    full_stops: list[float]
    coarse: tuple[int, int]
    full: tuple[int, int]


class LevelIn(Schema):
    """A draft in which one unit is to bring a level [lx]; without one, what the camera asks for."""

    document: Document
    unit: Annotated[str, Field(max_length=40)]
    lux: Annotated[float, Field(gt=0, le=1e7)] | None = None
    step: Literal["third", "tenth"] = "third"


class LevelledOut(Schema):
    dimmer: float
    off: float
    words: str
