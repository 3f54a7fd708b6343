"""Frames put aside to compare with: kept with the set-up, none dropped unsaid."""

import base64
import binascii
import io

from django.db import transaction
from django.http import Http404
from PIL import Image, UnidentifiedImageError

from inkwell.config.problems import Problem
from inkwell.productions.models import Role
from inkwell.productions.services import allow
from moth.document import upgrade

from .models import Frozen, Setup
from .services import setup_for

MOST = 24
"""Of one set-up."""
WIDEST, QUALITY = 1280, 90
"""Pixels across a picture that is kept, and how well it is kept."""
SCHEMES = ("data:image/jpeg;base64,", "data:image/png;base64,")


def frozen_of(user, pk):
    """The frozen frames of a set-up, oldest first."""
    setup, _ = setup_for(user, pk)
    rows = setup.frozen.select_related("author").defer("picture")
    return [shown(frame) for frame in rows]


def frozen_for(user, pk, least=Role.VIEWER):
    """One of them, or Http404 / 403."""
    rows = Frozen.objects.select_related("setup__scene__production", "author")
    frame = rows.filter(pk=pk).first()
    if frame is None:
        raise Http404
    allow(user, frame.setup.scene.production, least)
    return frame


def freeze(user, pk, name, picture, document):
    """Put a frame aside.

    Raises
    ------
    Problem
        422 for what is no picture, and where there are too many already: nothing is dropped to
        make room.
    """
    setup, _ = setup_for(user, pk, Role.EDITOR)
    code = _jpeg(picture)
    with transaction.atomic():
        # Two who freeze at once wait for each other: the number is counted under the lock.
        Setup.objects.select_for_update().get(pk=setup.pk)
        if setup.frozen.count() >= MOST:
            raise Problem(
                422, f"{MOST} frames of this set-up are kept: let one go before the next.", "name"
            )
        frame = Frozen.objects.create(
            setup=setup,
            name=name,
            picture=code,
            document=document.model_dump(mode="json"),
            author=user,
        )
    return shown(frame)


def shown(frame):
    """A frame as it is answered, without its picture."""
    return {
        "id": frame.pk,
        "name": frame.name,
        "author": frame.author and frame.author.get_username(),
        "created": frame.created.isoformat(),
        "document": upgrade(frame.document),
    }


def _jpeg(url):
    """The picture of a data URL, made anew."""
    scheme = next((s for s in SCHEMES if url.startswith(s)), None)
    try:
        if scheme is None:
            raise UnidentifiedImageError
        code = base64.b64decode(url[len(scheme) :], validate=True)
        with Image.open(io.BytesIO(code), formats=("JPEG", "PNG")) as image:
            if max(image.size) > 4 * WIDEST:
                raise UnidentifiedImageError
            whole = image.convert("RGB")
    except (UnidentifiedImageError, OSError, binascii.Error, SyntaxError, ValueError):
        raise Problem(422, "That is no picture of a frame: a JPEG or PNG.", "picture") from None
    whole.thumbnail((WIDEST, WIDEST))
    out = io.BytesIO()
    whole.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()
