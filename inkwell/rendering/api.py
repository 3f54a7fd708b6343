"""The look of a draft, its layers, and pictures of what is stored."""

import asyncio
from typing import Any

from django.core import signing
from django.http import HttpResponse
from ninja import Query, Router, Status

from inkwell.config.lines import lines_response, problem_line
from inkwell.config.problems import Problem
from inkwell.setups import services
from moth.document import at_state, load
from moth.errors import Cancelled
from moth.transport import estimate

from .pictures import frame_png
from .questions import reading
from .schemas import LookIn, LookLine, StopIn
from .service import answered, engine, free_connection

router = Router()
SLOW = 3.0
"""Estimates above this are told [s]."""
_signer = signing.Signer(salt="layer")


def _window(request, pk, client):
    return f"{request.user.pk}/{pk}/{client}"


def _signed(pk, key):
    """A layer's key as it is handed out: good for one set-up, in every process."""
    return f"{key}-{_signer.signature(f'{pk}/{key}')}"


@router.post("/setups/{int:pk}/look", response=LookLine)
def look(request, pk: int, data: LookIn):
    """What a draft looks like, in lines of JSON: what its frame is mixed from, at once; how long
    the meter will take, if long; then what it reads.

    The layers named begin to be rendered and older wishes of this window stop. The coarse ones go
    before the meter.
    """
    document = services.draft(request.user, pk, data.document)
    person, window = request.user.pk, _window(request, pk, data.client)
    mix = answered(engine().look(person, window, document, data.picture))
    if data.only and data.only not in mix["levels"]:
        raise Problem(422, f"There is no unit '{data.only.lstrip('@')}' to solo.", "only")
    coarse = [pair["coarse"] for pair in mix["layers"].values()]
    read = engine().read(person, coarse, reading, document, data.only, data.say)
    mix["layers"] = {
        source: {size: _signed(pk, key) for size, key in pair.items()}
        for source, pair in mix["layers"].items()
    }
    effort = estimate(document)
    free_connection()

    async def lines():
        yield {"mix": mix}
        if effort.seconds > SLOW:
            yield {"wait": {"seconds": effort.seconds, "words": effort.words}}
        try:
            yield {"look": await asyncio.wrap_future(read)}
        except Exception as error:
            yield problem_line(error)

    return lines_response(LookLine, lines())


@router.get("/setups/{int:pk}/layers/{key}", response={200: Any})
def layer(request, pk: int, key: str):
    """Bytes of a layer by the key that a look gave; see moth.transport.encode_layer. 204 when it
    was given up for a newer one.
    """
    services.role_in(request.user, pk)
    plain, _, _ = key.partition("-")
    if not _same(key, _signed(pk, plain)):
        raise Problem(404, "Nobody asked for this layer: look at the set-up first.")
    try:
        data = answered(engine().layer(plain))
    except Cancelled:
        # Nothing went wrong: somebody moved on. A browser would write an error of it.
        return HttpResponse(status=204)
    response = HttpResponse(data, content_type="application/octet-stream")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


def _same(a, b):
    return signing.constant_time_compare(a, b)


@router.post("/setups/{int:pk}/stop", response={204: None})
def stop(request, pk: int, data: StopIn):
    """Give up the layers that a window still waits for; what others wait for goes on."""
    services.role_in(request.user, pk)
    engine().give_up(_window(request, pk, data.client))
    return Status(204, None)


def _picture(request, document, large, fresh):
    data = frame_png(request.user.pk, document, large)
    response = HttpResponse(data, content_type="image/png")
    response.headers["Cache-Control"] = "private, max-age=86400" if fresh else "no-cache"
    return response


@router.get("/setups/{int:pk}/thumbnail.png", response={200: Any})
def thumbnail(
    request, pk: int, version: int = Query(0), large: bool = Query(False), state: str = Query("")
):
    """The lit frame, small or as large as the desk's, as it stands or at one of its states; name
    the version and it may be kept.
    """
    setup, _ = services.setup_for(request.user, pk)
    document = setup.current.document
    if state:
        document = at_state(load(document), state).model_dump(mode="json")
    return _picture(request, document, large, version == setup.version)


@router.get("/setups/{int:pk}/revisions/{int:number}/picture.png", response={200: Any})
def revision_picture(request, pk: int, number: int, large: bool = Query(False)):
    """The frame as a revision had it."""
    setup, _ = services.setup_for(request.user, pk)
    return _picture(request, services.revision_of(setup, number).document, large, True)
