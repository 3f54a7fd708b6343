"""The level card: on screen, as printable pages, as CSV; the plan as a vector file."""

from dataclasses import replace
from typing import Any, Literal

from django.http import HttpResponse
from ninja import Router

from inkwell.config.text import file_name
from inkwell.rendering.answers import Rank
from inkwell.rendering.pictures import frame_png
from inkwell.rendering.service import answered, engine
from inkwell.setups import services
from moth.card import LevelCard, level_card, plan_of
from moth.document import load
from moth.wording import Wording

from .page import page, table
from .plans import dxf, svg

router = Router()
STEP = Literal["third", "tenth"]


def card_of(user, setup, step="third"):
    """The card of what is stored, with where it is filed."""
    place = f"{setup.scene.production.title} / {setup.scene.title}, revision {setup.current.number}"
    document = load(setup.current.document)
    asked = engine().ask(user.pk, Rank.ANALYSIS, level_card, document, Wording(step))
    return replace(answered(asked), place=place)


@router.get("/setups/{int:pk}/card", response=LevelCard)
def card(request, pk: int, step: STEP = "third"):
    """What puts the stored set-up back."""
    return card_of(request.user, services.setup_for(request.user, pk)[0], step)


@router.get("/setups/{int:pk}/card.{kind}", response={200: Any})
def card_file(
    request, pk: int, kind: Literal["csv", "pdf"], step: STEP = "third", feet: bool = False
):
    """The card as pages to print, with frame and plan, or as a table of units."""
    setup, _ = services.setup_for(request.user, pk)
    made = card_of(request.user, setup, step)
    if kind == "csv":
        response = HttpResponse(table(made), content_type="text/csv; charset=utf-8")
    else:
        stored = setup.current.document
        frame = frame_png(request.user.pk, stored, True)
        pages = page(made, plan_of(load(stored), feet), frame)
        response = HttpResponse(pages, content_type="application/pdf")
    name = f"{file_name(made.title)}-levels.{kind}"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.get("/setups/{int:pk}/plan.{kind}", response={200: Any})
def plan_file(request, pk: int, kind: Literal["svg", "dxf"], feet: bool = False):
    """The plan to scale as a vector file, in metres."""
    setup, _ = services.setup_for(request.user, pk)
    plan = plan_of(load(setup.current.document), feet)
    made, media = {"svg": (svg, "image/svg+xml"), "dxf": (dxf, "image/vnd.dxf")}[kind]
    response = HttpResponse(made(plan), content_type=media)
    name = f"{file_name(setup.title)}-plan.{kind}"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
