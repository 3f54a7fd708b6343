"""Trials: made, looked at, stopped, printed, rigged."""

from typing import Any, Literal

from django.http import Http404, HttpResponse
from ninja import Router, Status

from inkwell.config.problems import Problem
from inkwell.config.text import file_name
from inkwell.kit.services import kit_of
from inkwell.productions.models import Role
from inkwell.productions.services import production_for, scene_for
from inkwell.setups import services as setups
from moth.trials import CATALOGUE, KeyWish, TrialPlan, misses, of_kit, propose, stage

from . import services, sheet
from .models import State
from .runner import ensure_running
from .schemas import (
    CellToRig,
    EffortOut,
    Favourite,
    PlanIn,
    ProposalAsked,
    RiggedCell,
    TrialChange,
    TrialLine,
    TrialNew,
    TrialOut,
    WallOut,
)

router = Router()


def _plan(data: PlanIn):
    """The plan that is asked for.

    Raises
    ------
    Problem
        422 with a sentence for one that cannot be.
    """
    if (data.document is None) == (data.stage is None):
        raise Problem(422, "Name a set-up or a ready arrangement to try it on.", "stage")
    given = data.dict(exclude={"document", "stage", "figure", "columns"})
    if data.columns is not None:
        given["columns"] = data.columns.model_dump()
    try:
        if data.document is not None:
            made = data.document.model_dump(mode="json")
        else:
            made = stage(data.stage, data.figure).model_dump(mode="json")
        return TrialPlan.model_validate({**given, "setup": made})
    except ValueError as error:
        words = str(error).splitlines()
        said = next((w for w in words if "Value error, " in w), words[-1])
        said = said.split("Value error, ")[-1].split(" [type=")[0].strip()
        raise Problem(422, f"{said[:1].upper()}{said[1:]}.", "plan") from None


def _line(trial, states):
    return {
        "id": trial.pk,
        "title": trial.title,
        "author": trial.author.username if trial.author else None,
        "created": trial.created.isoformat(),
        "cells": len(states),
        "done": sum(s in (State.DONE, State.IMPOSSIBLE) for s in states),
        "failed": states.count(State.FAILED),
        "stopped": trial.stopped,
    }


def _shown(trial, role):
    plan = trial.plan
    wish = KeyWish.model_validate(plan["wish"]) if plan.get("wish") else None
    cells = list(trial.cells.defer("png", "exr", "wall", "document"))
    waiting = sum(c.state in (State.WAITING, State.RUNNING) for c in cells)
    if waiting and not trial.stopped:
        # Whoever looks sees to it that somebody works.
        ensure_running()
    return {
        **_line(trial, [c.state for c in cells]),
        "production": {"id": trial.production_id, "title": trial.production.title},
        "role": role,
        "notes": trial.notes,
        "unit": next(u["name"] for u in plan["setup"]["units"] if u["id"] == plan["unit"]),
        "level": plan["level"],
        "outdated": trial.model != services.model(),
        "alone": plan["alone"],
        "rows": [c["name"] for c in plan["rows"]["choices"]],
        "columns": [c["name"] for c in plan["columns"]["choices"]],
        "sheet": [
            {k: getattr(cell, k) for k in ("row", "column", "state", "fault", "words", "favourite")}
            | {"figures": {**_tried(plan, cell.row), **_missed(wish, cell), **cell.figures}}
            for cell in cells
        ],
        "wish": plan.get("wish"),
        "left": waiting * services.seconds_a_cell() / services.workers(),
    }


def _tried(plan, row):
    """The number that a row tries, where it tries one: a sweep is laid out along it."""
    numbers = [s["value"] for s in plan["rows"]["choices"][row]["steps"] if s["value"] is not None]
    return {"at": numbers[0]} if len(numbers) == 1 else {}


def _missed(wish, cell):
    """By how much a cell that is done falls short of what is asked, all of it together."""
    if wish is None or not cell.figures:
        return {}
    return {"misses": sum(misses(wish, cell.figures).values())}


@router.post("/setups/{int:pk}/proposals", response={201: TrialOut})
def propose_key(request, pk: int, data: ProposalAsked):
    """A trial of the ways that might make the key that is asked for, of the kit or of everything;
    its cells begin to be run.
    """
    setup, role = setups.setup_for(request.user, pk, Role.EDITOR)
    production = setup.scene.production
    document = setups.draft(request.user, pk, data.document)
    at_hand = of_kit(kit_of(production)) if data.source == "kit" else CATALOGUE
    plan = propose(document, data.unit, data.wish, at_hand)
    unit = next(u for u in document.units if u.id == data.unit)
    trial = services.create(request.user, production, f"Ways to {unit.name}"[:80], plan)
    return Status(201, _shown(trial, role))


@router.get("/productions/{int:pk}/trials", response=list[TrialLine])
def list_trials(request, pk: int):
    """The trials of a production, newest first."""
    production, _ = production_for(request.user, pk)
    trials = production.trials.select_related("author").prefetch_related(services.states_alone())
    return [_line(trial, [c.state for c in trial.cells.all()]) for trial in trials]


@router.post("/productions/{int:pk}/trials", response={201: TrialOut})
def create_trial(request, pk: int, data: TrialNew):
    """A trial, whose cells begin to be run."""
    production, role = production_for(request.user, pk, Role.EDITOR)
    trial = services.create(request.user, production, data.title, _plan(data.plan))
    return Status(201, _shown(trial, role))


@router.post("/productions/{int:pk}/trials/effort", response=EffortOut)
def effort(request, pk: int, data: PlanIn):
    """How many cells a trial has, which of them cannot be, and about how long it takes."""
    production_for(request.user, pk, Role.EDITOR)
    return services.effort(request.user, _plan(data))


@router.get("/trials/{int:pk}", response=TrialOut)
def read_trial(request, pk: int):
    return _shown(*services.trial_for(request.user, pk))


@router.patch("/trials/{int:pk}", response={204: None})
def change_trial(request, pk: int, data: TrialChange):
    """Its title, its notes."""
    trial, _ = services.trial_for(request.user, pk, Role.EDITOR)
    for name, value in data.dict(exclude_none=True).items():
        setattr(trial, name, value)
    trial.save(update_fields=["title", "notes"])
    return Status(204, None)


@router.delete("/trials/{int:pk}", response={204: None})
def delete_trial(request, pk: int):
    services.trial_for(request.user, pk, Role.EDITOR)[0].delete()
    return Status(204, None)


@router.post("/trials/{int:pk}/stop", response=TrialOut)
def stop_trial(request, pk: int):
    """Leave what waits; cells under way are finished."""
    trial, role = services.trial_for(request.user, pk, Role.EDITOR)
    services.stop(trial)
    trial.refresh_from_db()
    return _shown(trial, role)


@router.post("/trials/{int:pk}/run", response=TrialOut)
def run_trial(request, pk: int):
    """Go on with what waits, and try again what failed."""
    trial, role = services.trial_for(request.user, pk, Role.EDITOR)
    services.run_again(request.user, trial)
    trial.refresh_from_db()
    return _shown(trial, role)


def _cell(trial, row, column):
    cell = trial.cells.filter(row=row, column=column).first()
    if cell is None:
        raise Http404
    return cell


@router.put("/trials/{int:pk}/cells/{int:row}/{int:column}", response={204: None})
def mark_cell(request, pk: int, row: int, column: int, data: Favourite):
    """Make a cell a favourite, or no longer."""
    trial, _ = services.trial_for(request.user, pk, Role.EDITOR)
    cell = _cell(trial, row, column)
    cell.favourite = data.favourite
    cell.save(update_fields=["favourite"])
    return Status(204, None)


@router.get("/trials/{int:pk}/cells/{int:row}/{int:column}.png", response={200: Any})
def cell_picture(request, pk: int, row: int, column: int):
    """The frame of a cell that is done."""
    trial, _ = services.trial_for(request.user, pk)
    cell = _cell(trial, row, column)
    if cell.png is None:
        raise Problem(404, "This cell has no frame yet.")
    response = HttpResponse(bytes(cell.png), content_type="image/png")
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response


@router.get("/trials/{int:pk}/cells/{int:row}/{int:column}/wall", response=WallOut)
def cell_wall(request, pk: int, row: int, column: int):
    """What the unit of a cell does on the wall behind the face, foot by foot."""
    trial, _ = services.trial_for(request.user, pk)
    return {"stops": _cell(trial, row, column).wall}


@router.get("/trials/{int:pk}/sheet.{kind}", response={200: Any})
def sheet_file(request, pk: int, kind: Literal["csv", "pdf", "zip"]):
    """The sheet as a table, as pages to print, or its linear frames as EXR."""
    trial, _ = services.trial_for(request.user, pk)
    make, media = {
        "csv": (sheet.table, "text/csv; charset=utf-8"),
        "pdf": (sheet.pages, "application/pdf"),
        "zip": (sheet.frames, "application/zip"),
    }[kind]
    response = HttpResponse(make(trial), content_type=media)
    name = f"{file_name(trial.title)}-trial.{kind}"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.post("/trials/{int:pk}/rig", response={201: RiggedCell})
def rig_cell(request, pk: int, data: CellToRig):
    """A new set-up with one cell's rig in it, and what is to be minded."""
    trial, _ = services.trial_for(request.user, pk, Role.EDITOR)
    scene, _ = scene_for(request.user, data.scene, Role.EDITOR)
    setup, cautions = services.rig(request.user, trial, data.row, data.column, scene)
    return Status(201, {"setup": setup.pk, "cautions": cautions})
