"""What the meter says."""

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class MarkReading:
    """What the meter says at one mark."""

    id: str
    name: str
    receiver: Literal["dome", "disc"]
    position: tuple[float, float, float]
    """[m]"""
    direction: tuple[float, float, float]
    """Unit vector the receiver faces."""
    lux: float
    footcandles: float
    stop: float | None
    """f-number to set, None in the dark."""
    stop_words: str
    against_camera: float | None
    """Stops over (+) or under (-) the camera's setting."""
    against_words: str
    by_unit: dict[str, float]
    """Source id -> what of `lux` it brings [lx]."""


@dataclass(frozen=True)
class Ratio:
    """Key to fill in one school."""

    school: str
    """Its name, of :data:`SCHOOLS_OF_RATIO`."""
    ratio: float | None
    stops: float | None
    words: str
    """The ratio, or why there is none."""


@dataclass(frozen=True)
class Ratios:
    """Key to fill in every school."""

    cheeks: Ratio
    combined: Ratio
    single: Ratio


@dataclass(frozen=True)
class UnitReading:
    """Where a unit stands, and what it alone gives to a dome held to the head toward it."""

    id: str
    beam: float
    """Full angle at half of the peak [deg]."""
    field: float
    """Full angle at a tenth of it [deg]."""
    lumens: float
    angle: float
    """Off the line to the lens, camera right positive [deg]."""
    height: float
    """Above the eyes [deg]."""
    distance: float
    """To the face [m]."""
    face_lux: float
    face_footcandles: float
    stop_words: str
    dial: float
    """Where the dial of its dimmer stands, 0..1."""
    dimmer_stops: float | None
    side: str


@dataclass(frozen=True)
class Readings:
    """Everything the meter says of a set-up."""

    camera: str
    """Id of the camera it is told against."""
    key: str | None
    """Id of the unit that is the key."""
    marks: tuple[MarkReading, ...]
    ratios: Ratios
    units: tuple[UnitReading, ...]
    sentence: str

    def mark(self, name):
        """The reading at a mark; KeyError where there is no such mark."""
        found = next((m for m in self.marks if m.id == name), None)
        if found is None:
            raise KeyError(name)
        return found

    def unit(self, name):
        """The reading of a unit; KeyError where there is no such unit."""
        found = next((u for u in self.units if u.id == name), None)
        if found is None:
            raise KeyError(name)
        return found
