"""Stills: brought in, marked, read, built, deleted for good."""

from typing import Any

from django.http import HttpResponse
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile

from inkwell.productions.models import Role
from inkwell.productions.services import production_for, scene_for
from inkwell.setups.services import draft, setup_for
from moth.document import load
from moth.stills.differing import Differs
from moth.stills.everything import StillRead

from . import services
from .schemas import (
    BuiltSetup,
    MendedSetup,
    StillAgainst,
    StillAsked,
    StillBuild,
    StillChange,
    StillLine,
    StillMend,
    StillOut,
    StillTitle,
)

router = Router()


def _line(still):
    return {
        "id": still.pk,
        "title": still.title,
        "author": still.author.username if still.author else None,
        "created": still.created.isoformat(),
        "width": still.width,
        "height": still.height,
        "version": still.version,
    }


def _out(still, role):
    return {
        **_line(still),
        "production": {"id": still.production_id, "title": still.production.title},
        "role": role,
        "record": still.record,
        "marks": still.marks,
    }


@router.get("/productions/{int:pk}/stills", response=list[StillLine])
def list_stills(request, pk: int):
    """The stills of a production, newest first."""
    production, _ = production_for(request.user, pk)
    return [_line(s) for s in production.stills.select_related("author").defer("code", "shown")]


@router.post("/productions/{int:pk}/stills", response={201: StillOut})
def bring_still(request, pk: int, title: Form[StillTitle], file: File[UploadedFile]):
    """Bring a picture in: PNG, JPEG, TIFF or EXR. The file itself is not kept."""
    production, role = production_for(request.user, pk, Role.EDITOR)
    return Status(201, _out(services.bring_in(request.user, production, title, file), role))


@router.get("/stills/{int:pk}", response=StillOut)
def read_one_still(request, pk: int):
    return _out(*services.still_for(request.user, pk))


@router.put("/stills/{int:pk}", response=StillOut)
def change_still(request, pk: int, data: StillChange):
    """Its title, how it was recorded, what is marked in it."""
    still, role = services.change(
        request.user, pk, data.version, data.title, data.record, data.marks
    )
    return _out(still, role)


@router.delete("/stills/{int:pk}", response={204: None})
def delete_still(request, pk: int):
    """Throw a still away, for good."""
    services.still_for(request.user, pk, Role.EDITOR)[0].delete()
    return Status(204, None)


@router.get("/stills/{int:pk}/picture.jpg", response={200: Any})
def still_picture(request, pk: int):
    """The still as a display shows it."""
    still, _ = services.still_for(request.user, pk, picture=True)
    response = HttpResponse(bytes(still.shown), content_type="image/jpeg")
    response.headers["Cache-Control"] = "private, no-cache"
    return response


@router.post("/stills/{int:pk}/read", response=StillRead)
def read_marks(request, pk: int, data: StillAsked):
    """What is read in a still with these marks."""
    still, _ = services.still_for(request.user, pk, picture=True)
    return services.read(request.user, still, data.record, data.marks, data.step)


@router.post("/stills/{int:pk}/build", response={201: BuiltSetup})
def build_setup(request, pk: int, data: StillBuild):
    """A new set-up whose units stand where the still's lights were."""
    still, _ = services.still_for(request.user, pk, Role.EDITOR, picture=True)
    scene, _ = scene_for(request.user, data.scene, Role.EDITOR)
    base = None
    if data.setup is not None:
        base = load(setup_for(request.user, data.setup)[0].current.document)
    setup, words = services.build(request.user, still, scene, base, data.title)
    return Status(201, {"setup": setup.pk, "words": words})


@router.post("/stills/{int:pk}/differences", response=list[Differs])
def still_differences(request, pk: int, data: StillAgainst):
    """What a set-up's frame does otherwise than a still, the largest first."""
    still, _ = services.still_for(request.user, pk, picture=True)
    document = draft(request.user, data.setup, data.document)
    return services.differs(request.user, still, document, data.step)


@router.post("/stills/{int:pk}/mend", response=MendedSetup)
def mend_setup(request, pk: int, data: StillMend):
    """Take a difference out of a set-up, as one revision of it."""
    services.still_for(request.user, pk)
    setup, _ = setup_for(request.user, data.setup, Role.EDITOR)
    state = services.mend(request.user, setup, data.patches, data.version, data.gesture)
    return {"setup": setup.pk, "version": state.version}
