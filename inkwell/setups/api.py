"""Set-ups: the document, its revisions, its file, its place on the shelf."""

import json
from typing import Any

from django.http import HttpResponse
from ninja import Query, Router, Status

from inkwell.config.text import file_name
from inkwell.productions.models import Role
from inkwell.productions.services import scene_for
from moth.document import load, parse, upgrade

from . import frozen, services
from .schemas import (
    Base,
    BranchIn,
    BringBack,
    Crumb,
    Edit,
    FrozenIn,
    FrozenName,
    FrozenOut,
    NewSetup,
    PlaceIn,
    RevisionOut,
    SetupOut,
)

router = Router()
LISTED = 60
"""Revisions of a page of the history."""


def _shown(state):
    setup, revision = state.setup, state.revision
    return {
        "id": setup.pk,
        "version": state.version,
        "revision": revision.number,
        "role": state.role,
        "document": upgrade(revision.document),
        "gesture": revision.gesture,
        "undo": revision.gesture if revision.parent is not None else None,
        "redo": setup.revisions.get(number=state.redo[-1]).gesture if state.redo else None,
        "production": {"id": setup.scene.production_id, "title": setup.scene.production.title},
        "scene": {"id": setup.scene_id, "title": setup.scene.title},
    }


def _made(request, setup):
    return Status(201, _shown(services.state_for(request.user, setup.pk)))


@router.post("/scenes/{int:pk}/setups", response={201: SetupOut})
def create_setup(request, pk: int, data: NewSetup):
    scene, _ = scene_for(request.user, pk, Role.EDITOR)
    document = load({**services.BLANK, "title": data.title})
    return _made(request, services.create(request.user, scene, document))


@router.post("/scenes/{int:pk}/import", response={201: SetupOut})
def import_setup(request, pk: int):
    """A new set-up from a set-up file; the body is the file as it is."""
    scene, _ = scene_for(request.user, pk, Role.EDITOR)
    setup = services.create(request.user, scene, parse(request.body), "brought in from a file")
    return _made(request, setup)


@router.post("/setups/{int:pk}/duplicate", response={201: SetupOut})
def duplicate_setup(request, pk: int):
    """A second set-up beside this one, with what stands there now."""
    setup, _ = services.setup_for(request.user, pk, Role.EDITOR)
    return _made(request, services.duplicate(request.user, setup))


@router.post("/scenes/{int:pk}/duplicate", response={201: Crumb})
def duplicate_scene(request, pk: int):
    """A second scene after this one, with copies of its set-ups as they stand."""
    scene, _ = scene_for(request.user, pk, Role.EDITOR)
    made = services.duplicate_scene(request.user, scene)
    return Status(201, {"id": made.pk, "title": made.title})


@router.put("/setups/{int:pk}/place", response={204: None})
def place_setup(request, pk: int, data: PlaceIn):
    """Move a set-up on the shelf: in its scene, or to another of the user's."""
    services.role_in(request.user, pk, Role.EDITOR)
    scene, _ = scene_for(request.user, data.scene, Role.EDITOR)
    services.place(request.user, pk, scene, data.before)
    return Status(204, None)


@router.get("/setups/{int:pk}", response=SetupOut)
def read_setup_record(request, pk: int):
    return _shown(services.state_for(request.user, pk))


@router.put("/setups/{int:pk}", response=SetupOut)
def revise_setup(request, pk: int, data: Edit):
    """Store one gesture. 409 with the newer document when somebody was quicker."""
    return _shown(
        services.revise(request.user, pk, data.document, data.base_version, data.gesture, data.key)
    )


@router.post("/setups/{int:pk}/undo", response=SetupOut)
def undo(request, pk: int, data: Base):
    return _shown(services.undo(request.user, pk, data.base_version, data.key))


@router.post("/setups/{int:pk}/redo", response=SetupOut)
def redo(request, pk: int, data: Base):
    return _shown(services.redo(request.user, pk, data.base_version, data.key))


@router.post("/setups/{int:pk}/bring-back", response=SetupOut)
def bring_back(request, pk: int, data: BringBack):
    """An earlier revision, or a branch, on top of the present one; undo takes it away again."""
    return _shown(services.bring_back(request.user, pk, data.revision, data.base_version, data.key))


@router.post("/setups/{int:pk}/branches", response={201: RevisionOut})
def keep_branch(request, pk: int, data: BranchIn):
    """Keep a document beside what stands there, in the history, for whoever wants it back."""
    revision = services.branch(request.user, pk, data.document, data.parent, data.gesture, data.key)
    setup, _ = services.setup_for(request.user, pk)
    return Status(201, _listed(revision, setup, services.line_of(setup)))


@router.delete("/setups/{int:pk}", response={204: None})
def delete_setup(request, pk: int):
    services.setup_for(request.user, pk, Role.EDITOR)[0].delete()
    return Status(204, None)


def _listed(revision, setup, line):
    return {
        "number": revision.number,
        "parent": revision.parent,
        "gesture": revision.gesture,
        "author": revision.author and revision.author.username,
        "created": revision.created.isoformat(),
        "current": revision.pk == setup.current_id,
        "branch": revision.number not in line,
    }


@router.get("/setups/{int:pk}/revisions", response=list[RevisionOut])
def revisions(request, pk: int, before: int | None = Query(None)):
    """What was done, newest first, a page at a time: those before a number."""
    setup, _ = services.setup_for(request.user, pk)
    rows = setup.revisions.select_related("author").order_by("-number").defer("document")
    if before is not None:
        rows = rows.filter(number__lt=before)
    line = services.line_of(setup)
    return [_listed(r, setup, line) for r in rows[:LISTED]]


@router.get("/setups/{int:pk}/export", response={200: Any})
def export(request, pk: int):
    """The set-up as its file."""
    setup, _ = services.setup_for(request.user, pk)
    document = upgrade(setup.current.document)
    text = json.dumps(document, indent=2, ensure_ascii=False) + "\n"
    response = HttpResponse(text, content_type="application/json; charset=utf-8")
    name = f"{file_name(setup.title)}.setup.json"
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.get("/setups/{int:pk}/frozen", response=list[FrozenOut])
def list_frozen(request, pk: int):
    """The frames of a set-up that were put aside, oldest first."""
    return frozen.frozen_of(request.user, pk)


@router.post("/setups/{int:pk}/frozen", response={201: FrozenOut})
def freeze_frame(request, pk: int, data: FrozenIn):
    """Put a frame aside, with its picture and its document."""
    made = frozen.freeze(request.user, pk, data.name, data.picture, data.document)
    return Status(201, made)


@router.put("/frozen/{int:pk}", response=FrozenOut)
def name_frozen(request, pk: int, data: FrozenName):
    """Call a frozen frame something else."""
    frame = frozen.frozen_for(request.user, pk, Role.EDITOR)
    frame.name = data.name
    frame.save(update_fields=["name"])
    return frozen.shown(frame)


@router.delete("/frozen/{int:pk}", response={204: None})
def let_frozen_go(request, pk: int):
    frozen.frozen_for(request.user, pk, Role.EDITOR).delete()
    return Status(204, None)


@router.get("/frozen/{int:pk}/picture.jpg", response={200: Any})
def frozen_picture(request, pk: int):
    frame = frozen.frozen_for(request.user, pk)
    response = HttpResponse(bytes(frame.picture), content_type="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response
