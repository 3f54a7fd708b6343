"""What goes in and out of scans."""

from typing import Annotated

from ninja import Schema
from pydantic import Field

ScanName = Annotated[str, Field(min_length=1, max_length=80)]
UpAxis = Annotated[str, Field(pattern="^[yz]$")]


class ScanView(Schema):
    """Width and height that a picture of a scan shows, in the measure of its file."""

    wide: float
    high: float


class ScanFacts(Schema):
    """What a scan is."""

    size: tuple[float, float, float]
    """Width, depth and height, in the measure of its file."""
    triangles: int
    closed: bool
    notes: list[str]
    """What is to be minded of it."""
    outline: list[list[tuple[float, float]]]
    """What it covers of the floor: rings in parts of its width and depth, from its middle."""
    views: dict[str, ScanView]


class ScanOut(ScanFacts):
    """A scan on its production's list."""

    id: int
    name: str
    digest: str
    author: str | None
    created: str
