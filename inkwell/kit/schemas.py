"""What goes in and out of the kit."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from moth.document import Measured
from moth.document import Setup as Document
from moth.planning.cautions import Caution
from moth.planning.kit import Gear
from moth.planning.needs import Need, Shortage
from moth.planning.power import Power
from moth.planning.tasks import Rigging
from moth.solving.standins import StandIn

Number = Annotated[float, Field(allow_inf_nan=False)]


class GearOut(Gear):
    """A line of a kit as it is stored; a photometric file is told by its length only."""

    id: int
    file: str = ""
    has_file: bool
    """Whether its light is a photometric file."""


class GearHead(Schema):
    """A head of the kit as a unit takes it."""

    head: str
    ies: str | None
    measured: Measured | None


class KitOut(Schema):
    """The kit of a production."""

    production: int
    title: str
    role: str
    gear: list[GearOut]


class KitTable(Schema):
    """A kit as CSV text."""

    text: Annotated[str, Field(max_length=1_000_000)]
    mode: Literal["add", "replace"] = "add"


class ReadHead(Schema):
    """A head that was read at three places, all at one distance."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    head: Annotated[str, Field(max_length=60)]
    """Of the catalogue, that it works like."""
    distance: Number
    """[m]"""
    axis: Number
    """On its axis [lx]."""
    off: tuple[tuple[Number, Number], tuple[Number, Number]]
    """Angles off the axis [deg] and readings there [lx]."""
    watts: Annotated[float, Field(allow_inf_nan=False, ge=0, le=100_000)] | None = None
    weight: Annotated[float, Field(allow_inf_nan=False, ge=0, le=2000)] | None = None
    count: Annotated[int, Field(ge=0, le=999)] = 1


class WorkAsked(Schema):
    """What a draft takes to rig."""

    document: Document | None = None
    """None for what is stored."""
    hands: Annotated[int, Field(ge=1, le=30)] = 2
    minutes: Annotated[float, Field(allow_inf_nan=False, ge=0, le=2880)] = 60.0
    """That lamps on batteries have to last [min]."""


class Work(Schema):
    """A set-up as work."""

    needs: list[Need]
    short: list[Shortage]
    """Against the production's kit; empty where it keeps none."""
    kept: bool
    """Whether the production keeps a kit."""
    weight: float
    """Of what is packed [kg]."""
    power: Power
    rigging: Rigging
    cautions: list[Caution]


class StandInAsked(Schema):
    """A head tried in the place of a unit's."""

    document: Document | None = None
    unit: Annotated[str, Field(max_length=40)]
    source: Literal["kit", "catalogue"] = "catalogue"
    at: Annotated[int, Field(ge=0, le=3000)] = 0
    """Which of the candidates."""
    step: Literal["third", "tenth"] = "third"


class ReachAsked(Schema):
    """Heads of the kit or the catalogue that a level is asked of: as many stops over what the
    first camera's settings ask for.
    """

    document: Document | None = None
    source: Literal["kit", "catalogue"] = "catalogue"
    over: Annotated[float, Field(ge=-8, le=8)] = 0.0


class StandInOut(Schema):
    """One of so many stand-ins."""

    of: int
    found: StandIn | None
    """None where there is nothing to try."""
