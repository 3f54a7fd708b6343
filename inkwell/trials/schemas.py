"""What goes in and out of trials."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from moth.document import Setup as Document
from moth.trials import Axis, KeyWish

Title = Annotated[str, Field(min_length=1, max_length=80)]


class PlanIn(Schema):
    """What is tried: a unit of a set-up or of a ready arrangement, rows by columns."""

    document: Document | None = None
    stage: Literal["face", "wall", "table", "doorway"] | None = None
    """A ready arrangement in place of a document."""
    figure: Annotated[str, Field(max_length=40)] = "weathered-man"
    unit: Annotated[str, Field(max_length=40)] = "key"
    rows: Axis
    columns: Axis | None = None
    level: Literal["same", "full"] = "same"
    alone: bool = True


class TrialNew(Schema):
    title: Title
    plan: PlanIn


class EffortOut(Schema):
    """How much a trial is before it is run."""

    cells: int
    impossible: list[str]
    """Why some cells cannot be: name of row and column, and the reason."""
    seconds: float
    words: str


class TrialLine(Schema):
    """A trial on its production's list."""

    id: int
    title: str
    author: str | None
    created: str
    cells: int
    done: int
    failed: int
    stopped: bool


class WallOut(Schema):
    """What a cell's unit does on the wall behind the face."""

    stops: list[list[float | None]] | None
    """From the brightest crossing of a foot grid, row by row from the floor; null off the wall, and
    where there is none.
    """


class CellOut(Schema):
    row: int
    column: int
    state: Literal["waiting", "running", "done", "failed", "impossible"]
    fault: str
    figures: dict[str, float]
    words: dict[str, str]
    favourite: bool


class ProductionNamed(Schema):
    id: int
    title: str


class TrialOut(TrialLine):
    production: ProductionNamed
    role: str
    notes: str
    unit: str
    level: str
    outdated: bool
    """Whether code or catalogue have changed since it was run."""
    alone: bool
    rows: list[str]
    columns: list[str]
    sheet: list[CellOut]
    left: float
    """About how long the rest takes [s]."""
    wish: KeyWish | None
    """What it looks for; its cells then tell by how much they miss it."""


class ProposalAsked(Schema):
    """A key that is asked for."""

    document: Document | None = None
    unit: Annotated[str, Field(max_length=40)] = "key"
    wish: KeyWish
    source: Literal["kit", "catalogue"] = "kit"


class TrialChange(Schema):
    title: Title | None = None
    notes: Annotated[str, Field(max_length=20_000)] | None = None


class Favourite(Schema):
    favourite: bool


class CellToRig(Schema):
    row: Annotated[int, Field(ge=0, lt=300)]
    column: Annotated[int, Field(ge=0, lt=300)]
    scene: int


class RiggedCell(Schema):
    setup: int
    cautions: list[str]
