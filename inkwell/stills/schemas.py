"""What goes in and out of stills."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from inkwell.rendering.schemas import Worded
from moth.document import Setup as Document
from moth.solving.trying import Patch
from moth.stills.marks import Marks, Record

StillTitle = Annotated[str, Field(min_length=1, max_length=80)]


class StillLine(Schema):
    """A still on its production's list."""

    id: int
    title: str
    author: str | None
    created: str
    width: int
    height: int
    version: int


class StillProduction(Schema):
    id: int
    title: str


class StillOut(StillLine):
    """A still with all that is marked in it."""

    production: StillProduction
    role: Literal["viewer", "editor", "owner"]
    record: Record
    marks: Marks


class StillChange(Schema):
    """What a hand has changed; `version` is the one that it began from."""

    version: int
    title: StillTitle
    record: Record
    marks: Marks


class StillAsked(Worded):
    """Marks to be read as they are on the screen."""

    record: Record
    marks: Marks


class StillBuild(Schema):
    """Where a still's light is to be built: in a scene, on a set-up's place or a plain room."""

    scene: int
    setup: int | None = None
    title: StillTitle


class BuiltSetup(Schema):
    setup: int
    words: list[str]


class StillAgainst(Worded):
    """A set-up to be held against a still: a draft of it, or as it is stored."""

    setup: int
    document: Document | None = None


class StillMend(Schema):
    """A difference to be taken out of a set-up."""

    setup: int
    version: int
    patches: Annotated[list[Patch], Field(min_length=1, max_length=4)]
    gesture: Annotated[str, Field(min_length=1, max_length=120)]


class MendedSetup(Schema):
    setup: int
    version: int
