"""What productions are asked and answered with."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field, StringConstraints

Title = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
RoleName = Literal["owner", "editor", "viewer"]


class Titled(Schema):
    title: Title


class MemberIn(Schema):
    username: Annotated[str, Field(min_length=1, max_length=150)]
    role: RoleName


class MemberOut(Schema):
    username: str
    role: RoleName


class SetupCard(Schema):
    id: int
    title: str
    version: int
    units: int


class SceneOut(Schema):
    id: int
    title: str
    setups: list[SetupCard]


class ProductionOut(Schema):
    id: int
    title: str
    role: RoleName
    members: list[MemberOut]
    scenes: list[SceneOut]


class ScenePlaceIn(Schema):
    """The scene that follows; None for the end."""

    before: int | None = None


class InviteIn(Schema):
    role: RoleName


class InvitationOut(Schema):
    token: str


class InvitedOut(Schema):
    """What an invitation is to."""

    production: str
    role: RoleName
    by: str


class JoinIn(Schema):
    """A new person's name and password; none for somebody who is signed in."""

    username: Annotated[str, Field(max_length=150)] | None = None
    password: Annotated[str, Field(max_length=200)] | None = None


class JoinedOut(Schema):
    production: int
    username: str
    csrf: str
