"""Metering beyond the reading: schools and what each would set, ratios brought about."""

from typing import Annotated, Literal

from ninja import Router, Schema
from pydantic import Field

from inkwell.productions.models import Role
from moth.document import Setup as Document
from moth.judging import picture_of
from moth.metering import read_schools
from moth.solving import set_ratio

from . import services
from .rendering import desk

router = Router()


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
    school: Literal["combined", "single"] = "combined"
    means: Literal["dimmer", "distance", "board"] = "dimmer"


class SolvedOut(Schema):
    document: Document
    ratio: float
    gesture: str


@router.post("/setups/{int:pk}/schools", response=list[SchoolOut])
def schools(request, pk: int, data: DraftIn):
    """Each way of holding the meter, and where the face sits if its reading is set."""
    document = services.draft(request.user, pk, data.document)
    return read_schools(document, picture_of(document, desk.coarse(document)), data.step)


@router.post("/setups/{int:pk}/ratio", response=SolvedOut)
def ratio(request, pk: int, data: RatioIn):
    """The draft with the ratio asked for; nothing is stored. 422 says why it cannot be had so, and
    what would bring it.
    """
    services.role_in(request.user, pk, Role.EDITOR)
    services.check(data.document)
    solved = set_ratio(data.document, data.unit, data.target, data.school, data.means)
    services.check(solved.setup)
    return {"document": solved.setup, "ratio": solved.ratio, "gesture": solved.words}
