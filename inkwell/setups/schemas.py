"""What set-ups are asked and answered with."""

from typing import Annotated

from ninja import Schema
from pydantic import Field

from inkwell.productions.schemas import RoleName
from moth.document import Setup as Document

Gesture = Annotated[str, Field(min_length=1, max_length=120)]
Key = Annotated[str, Field(max_length=40)]
"""Of a command: sent again, it is recognised. Empty for one that need not be."""


class Crumb(Schema):
    id: int
    title: str


class SetupOut(Schema):
    id: int
    version: int
    revision: int
    """Number of the revision that stands."""
    role: RoleName
    document: Document
    gesture: str
    undo: str | None
    redo: str | None
    production: Crumb
    scene: Crumb


class NewSetup(Schema):
    title: Annotated[str, Field(min_length=1, max_length=80)]


class Edit(Schema):
    document: Document
    base_version: int
    gesture: Gesture
    key: Key = ""


class Base(Schema):
    base_version: int
    key: Key = ""


class BringBack(Base):
    revision: int


class BranchIn(Schema):
    """Work that another's was taken over: kept beside it."""

    document: Document
    parent: int
    gesture: Gesture
    key: Key = ""


class PlaceIn(Schema):
    """Where on the shelf: a scene, and the set-up there that follows (None for the end)."""

    scene: int
    before: int | None = None


class RevisionOut(Schema):
    number: int
    parent: int | None
    gesture: str
    author: str | None
    created: str
    current: bool
    branch: bool
    """Whether neither undo nor redo leads to it."""


class FrozenIn(Schema):
    """A frame to be put aside: its picture as a data URL, and what it was lit by."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    picture: Annotated[str, Field(max_length=3_000_000)]
    document: Document


class FrozenName(Schema):
    name: Annotated[str, Field(min_length=1, max_length=80)]


class FrozenOut(Schema):
    """A frame that was put aside."""

    id: int
    name: str
    author: str | None
    created: str
    document: Document
