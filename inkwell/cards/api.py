"""The level card: on screen, as a printable page, as CSV."""

from dataclasses import replace
from typing import Any, Literal

from django.http import HttpResponse
from ninja import Router

from inkwell.config.text import file_name
from inkwell.rendering.answers import Rank
from inkwell.rendering.service import answered, engine
from inkwell.setups import services
from moth.card import LevelCard, level_card
from moth.document import load
from moth.wording import Wording

from .page import page, table

router = Router()
STEP = Literal["third", "tenth"]


def _card(request, pk, step):
    setup, _ = services.setup_for(request.user, pk)
    place = f"{setup.scene.production.title} / {setup.scene.title}, revision {setup.current.number}"
    document = load(setup.current.document)
    asked = engine().ask(request.user.pk, Rank.ANALYSIS, level_card, document, Wording(step))
    return replace(answered(asked), place=place)


@router.get("/setups/{int:pk}/card", response=LevelCard)
def card(request, pk: int, step: STEP = "third"):
    """What puts the stored set-up back."""
    return _card(request, pk, step)


@router.get("/setups/{int:pk}/card.{kind}", response={200: Any})
def card_file(request, pk: int, kind: Literal["csv", "pdf"], step: STEP = "third"):
    """The card as a page to print, or as a table of units."""
    made = _card(request, pk, step)
    if kind == "csv":
        response = HttpResponse(table(made), content_type="text/csv; charset=utf-8")
    else:
        response = HttpResponse(page(made), content_type="application/pdf")
    name = f"{file_name(made.title)}-levels.{kind}"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
