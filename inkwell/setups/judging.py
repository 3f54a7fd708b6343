"""Judging a set-up: its picture by parts, targets, the order of work, and what differs from
another.
"""

from typing import Annotated, Literal

from ninja import Router, Schema
from pydantic import Field

from inkwell.config.problems import Problem
from inkwell.productions.models import Role
from moth.document import Setup as Document
from moth.document import load
from moth.judging import (
    acting_area,
    can_be_fixed,
    compare,
    headroom,
    picture_of,
    read_asked,
    read_fixed,
    read_order,
    read_targets,
    walk_path,
)
from moth.metering import read_ratios
from moth.solving import match

from . import services
from .metering import AnswerOut, DraftIn
from .rendering import desk

router = Router()


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


@router.post("/setups/{int:pk}/judge", response=JudgedOut)
def judge(request, pk: int, data: DraftIn):
    """The picture by parts, targets, what is fixed, the steps of the order of work, ratios three
    ways.
    """
    document = services.draft(request.user, pk, data.document)
    picture = picture_of(document, desk.coarse(document))
    return {
        "targets": read_targets(document, picture, data.step),
        "fixed": read_fixed(document, picture, data.step),
        "can_be_fixed": [{"id": k, "name": name} for k, name in can_be_fixed(document)],
        "order": read_order(document, picture, data.step),
        "ratios": read_ratios(document, picture),
        "asked": read_asked(document, data.step),
        "headroom": headroom(document.cameras[0]),
    }


@router.post("/setups/{int:pk}/walk", response=WalkOut)
def walk(request, pk: int, data: WalkIn):
    """The stop along a walk from the mark, and the area in which it keeps."""
    document = services.draft(request.user, pk, data.document)
    return {
        "path": walk_path(document, data.angle, data.distance, data.step),
        "acting": acting_area(document),
    }


def _other(request, pk, data):
    """The document to compare with, and what it is called."""
    if (data.other is not None) + (data.setup is not None) + (data.revision is not None) != 1:
        raise Problem(
            422, "Name one thing to compare with: a document, a set-up or a revision.", "other"
        )
    if data.other is not None:
        services.check(data.other)
        return data.other, data.other.title
    if data.setup is not None:
        setup, _ = services.setup_for(request.user, data.setup)
        return load(setup.current.document), setup.title
    setup, _ = services.setup_for(request.user, pk)
    revision = setup.revisions.filter(number=data.revision).first()
    if revision is None:
        raise Problem(404, f"There is no revision {data.revision} of this set-up.", "revision")
    return load(revision.document), f"revision {revision.number}, {revision.gesture}"


@router.post("/setups/{int:pk}/compare", response=ComparedOut)
def compared(request, pk: int, data: AgainstIn):
    """What is different here from the other, the light first."""
    document = services.draft(request.user, pk, data.document)
    other, title = _other(request, pk, data)
    return {"title": title, "rows": compare(document, other, data.step)}


@router.post("/setups/{int:pk}/match", response=MatchedOut)
def matched(request, pk: int, data: AgainstIn):
    """The draft with its dimmers brought to the other's levels; nothing is stored."""
    services.role_in(request.user, pk, Role.EDITOR)
    document = services.draft(request.user, pk, data.document)
    other, _ = _other(request, pk, data)
    found = match(document, other, data.step)
    return {"document": found.setup, "left": found.left, "words": found.words}
