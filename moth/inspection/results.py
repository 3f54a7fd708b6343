"""What is found of one unit under the glass."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Share:
    """A part of a unit's light on the face, by the way it takes."""

    name: str
    share: float
    """0..1."""


@dataclass(frozen=True)
class Stage:
    """Level at one place on the light's way, and what came off it since the one before."""

    name: str
    kind: str
    """"head", "attachment", "colour", "sheet", "paint" or "face"."""
    lux: float
    stops: float | None
    words: str
    note: str


@dataclass(frozen=True)
class Cost:
    """Of going the long way: against the same lamp aimed straight at the face over that way."""

    stops: float
    words: str
    path: float
    """Length of the way [m]."""


@dataclass(frozen=True)
class Size:
    """How large a source is to the face."""

    width: float
    """[m]"""
    height: float
    """[m]"""
    distance: float
    """[m]"""
    degrees: float
    half: float
    """Full angle that holds half of the light [deg]."""
    most: float
    """The same for nine tenths."""


@dataclass(frozen=True)
class Shadow:
    """Edges of the shadows it casts, and how far it reaches round."""

    cheek: float
    """Width of the nose's shadow's edge on the cheek [m]."""
    backdrop: float | None
    """Of the head's shadow on what is behind [m]."""
    wrap: float
    """[deg]"""
    to_backdrop: float | None
    """[m]"""


@dataclass(frozen=True)
class Widths:
    """Widths across the subject's place within which the level keeps [m]."""

    half: float
    one: float
    one_and_half: float


@dataclass(frozen=True)
class Coverage:
    widths: Widths
    falloff: float | None
    """Over a 12 ft wall at the subject's place [stops]."""


@dataclass(frozen=True)
class Spill:
    """What the backdrop gets of it, against the face."""

    stops: float
    words: str


@dataclass(frozen=True)
class White:
    kelvin: float
    green: float
    """Duv, + toward green."""


@dataclass(frozen=True)
class Inspection:
    """What is to be known of one unit's light."""

    id: str
    origin: str
    """What the face sees of it: "lamp", "sheet", "mirror", "wall" ..."""
    lux: float
    footcandles: float
    stop_words: str
    ways: tuple[Share, ...]
    stages: tuple[Stage, ...]
    cost: Cost | None
    size: Size
    shadow: Shadow
    coverage: Coverage
    spill: Spill | None
    white: White
    grip: tuple[str, ...]
    """Ids of the grip that its light goes by."""
    holding: tuple[str, ...]
    """What is to be minded of how it is held."""
    faults: tuple[str, ...]
