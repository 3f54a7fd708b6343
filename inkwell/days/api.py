"""Days: asked for, put in order, printed, taken into a calendar."""

from typing import Any, Literal

from django.http import HttpResponse
from ninja import Router, Status

from inkwell.config.problems import Problem
from inkwell.config.text import file_name
from inkwell.productions.models import Role
from inkwell.productions.services import production_for
from inkwell.rendering.answers import Rank
from inkwell.rendering.service import answered, engine
from moth.sun import Day as SunDay
from moth.sun import day_of

from . import paper, services
from .schemas import DayChange, DayLine, DayNew, DayOut, LeftOut, WithoutAsked

router = Router()


@router.get("/productions/{int:pk}/days", response=list[DayLine])
def list_days(request, pk: int):
    """The days of a production, the first first."""
    production, _ = production_for(request.user, pk)
    return [
        {
            "id": day.pk,
            "title": day.title,
            "date": day.asked["date"],
            "shots": len(day.asked["shots"]),
            "words": day.plan["words"] if day.plan else "",
        }
        for day in production.days.all()
    ]


@router.post("/productions/{int:pk}/days", response={201: DayOut})
def create_day(request, pk: int, data: DayNew):
    """A day without set-ups."""
    production, role = production_for(request.user, pk, Role.EDITOR)
    day = services.create(request.user, production, data.title, data.date)
    return Status(201, services.shown(day, role))


@router.get("/days/{int:pk}", response=DayOut)
def read_day(request, pk: int):
    """What is asked of a day, its order, what it takes."""
    return services.shown(*services.day_for(request.user, pk))


@router.put("/days/{int:pk}", response=DayOut)
def change_day(request, pk: int, data: DayChange):
    """A day set anew; 409 for one who has not seen its newest version."""
    return services.shown(*services.change(request.user, pk, data))


@router.delete("/days/{int:pk}", response={204: None})
def delete_day(request, pk: int):
    services.day_for(request.user, pk, Role.EDITOR)[0].delete()
    return Status(204, None)


@router.post("/days/{int:pk}/order", response=DayOut)
def order_day(request, pk: int):
    """Put a day in order: what is locked stays, what cannot be met is told."""
    return services.shown(*services.put_in_order(request.user, pk))


@router.get("/days/{int:pk}/sun/{int:setup}", response=SunDay)
def sun_of_day(request, pk: int, setup: int):
    """What the sun does to a set-up on that day."""
    day, _ = services.day_for(request.user, pk)
    known = services.Known(day)
    if setup not in known.setups:
        raise Problem(404, "That set-up is not of this day.")
    document = known.setups[setup]
    if document.site is None:
        raise Problem(422, "This set-up has no place on the earth: set it at its day line.", "site")
    site = document.site.model_copy(update={"date": known.asked.date})
    moved = document.model_copy(update={"site": site})
    return answered(engine().ask(request.user.pk, Rank.ANALYSIS, day_of, moved))


@router.post("/days/{int:pk}/without", response=list[LeftOut])
def without(request, pk: int, data: WithoutAsked):
    """What each set-up of a day loses in its picture when some units are left out."""
    day, _ = services.day_for(request.user, pk)
    return services.left_out(request.user, day, data.units)


@router.get("/days/{int:pk}/sheet.{kind}", response={200: Any})
def day_file(request, pk: int, kind: Literal["pdf", "ics", "csv"]):
    """The day on paper, in a calendar, or what is packed as a table."""
    day, _ = services.day_for(request.user, pk)
    known = services.Known(day)
    plan = known.plan
    sheet = known.sheet(plan)
    if sheet is None:
        raise Problem(422, "Put the day in order first.", "plan")
    made, media = {
        "pdf": (paper.pages, "application/pdf"),
        "ics": (paper.calendar, "text/calendar; charset=utf-8"),
        "csv": (paper.packing, "text/csv; charset=utf-8"),
    }[kind]
    response = HttpResponse(made(known, plan, sheet, request.user), content_type=media)
    what = "pack" if kind == "csv" else "day"
    name = f"{file_name(day.title)}-{what}.{kind}"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
