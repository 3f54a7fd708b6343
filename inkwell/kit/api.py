"""The kit, what a set-up takes of it, and what could stand in for what."""

from typing import Any

from django.http import HttpResponse
from ninja import Router, Status

from inkwell.config.text import file_name
from inkwell.productions.models import Role
from inkwell.productions.services import production_for
from inkwell.rendering.answers import Rank
from inkwell.rendering.service import answered, engine
from inkwell.setups.services import draft, setup_for
from moth.planning.kit import Gear, write_kit
from moth.solving.reaching import Reaching, which_reach
from moth.solving.standins import stand_in
from moth.wording import Wording

from . import services
from .schemas import (
    GearHead,
    GearOut,
    KitOut,
    KitTable,
    ReachAsked,
    ReadHead,
    StandInAsked,
    StandInOut,
    Work,
    WorkAsked,
)

router = Router()


def _kit(production, role):
    return {
        "production": production.pk,
        "title": production.title,
        "role": role,
        "gear": [services.shown(g) for g in production.gear.all()],
    }


@router.get("/productions/{int:pk}/kit", response=KitOut)
def read_whole_kit(request, pk: int):
    """Everything a production owns or hires."""
    return _kit(*production_for(request.user, pk))


@router.post("/productions/{int:pk}/kit", response={201: GearOut})
def add_gear(request, pk: int, data: Gear):
    """A line more."""
    production, _ = production_for(request.user, pk, Role.EDITOR)
    return Status(201, services.shown(services.add(production, data)))


@router.post("/productions/{int:pk}/kit/table", response=KitOut)
def read_kit_table(request, pk: int, data: KitTable):
    """Lines from a CSV table; nothing is taken where a line is wrong."""
    production, role = production_for(request.user, pk, Role.EDITOR)
    services.read_table(production, data.text, data.mode)
    return _kit(production, role)


@router.get("/productions/{int:pk}/kit.csv", response={200: Any})
def kit_table(request, pk: int):
    """The kit as a table."""
    production, _ = production_for(request.user, pk)
    response = HttpResponse(
        write_kit(services.kit_of(production)), content_type="text/csv; charset=utf-8"
    )
    name = f"{file_name(production.title)}-kit.csv"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.post("/productions/{int:pk}/kit/head", response={201: GearOut})
def add_read_head(request, pk: int, data: ReadHead):
    """A head of one's own, made of three readings of a meter."""
    production, _ = production_for(request.user, pk, Role.EDITOR)
    return Status(201, services.shown(services.add_read_head(production, data)))


@router.put("/kit/{int:pk}", response=GearOut)
def change_gear(request, pk: int, data: Gear):
    """A line set anew."""
    return services.shown(services.change(services.gear_for(request.user, pk, Role.EDITOR), data))


@router.delete("/kit/{int:pk}", response={204: None})
def delete_gear(request, pk: int):
    services.gear_for(request.user, pk, Role.EDITOR).delete()
    return Status(204, None)


@router.get("/kit/{int:pk}/head", response=GearHead)
def head_of_kit(request, pk: int):
    """What a unit takes over of a head of the kit."""
    return services.head_of(services.gear_for(request.user, pk))


def _production(user, pk):
    setup, _ = setup_for(user, pk)
    return setup.scene.production


@router.post("/setups/{int:pk}/work", response=Work)
def work(request, pk: int, data: WorkAsked):
    """What a draft takes: pieces, power, tasks; what is to be minded."""
    document = draft(request.user, pk, data.document)
    kit = services.kit_of(_production(request.user, pk))
    return services.work_of(document, kit, data.hands, data.minutes)


@router.post("/setups/{int:pk}/reach", response=Reaching)
def heads_that_reach(request, pk: int, data: ReachAsked):
    """How far off each head of the kit or the catalogue may stand for a level."""
    document = draft(request.user, pk, data.document)
    heads = services.heads_of(data.source, _production(request.user, pk))
    asked = engine().ask(request.user.pk, Rank.ANALYSIS, which_reach, document, heads, data.over)
    return answered(asked)


@router.post("/setups/{int:pk}/stand-ins", response=StandInOut)
def try_stand_in(request, pk: int, data: StandInAsked):
    """One head tried in the place of a unit's: the first of so many, the second …"""
    document = draft(request.user, pk, data.document)
    production = _production(request.user, pk)
    found = services.candidates_for(document, data.unit, data.source, production)
    if data.at >= len(found):
        return {"of": len(found), "found": None}
    asked = engine().ask(
        request.user.pk,
        Rank.ANALYSIS,
        stand_in,
        document,
        data.unit,
        found[data.at],
        Wording(data.step),
    )
    return {"of": len(found), "found": answered(asked)}
