"""Stills brought in, read, built, thrown away."""

import io
import threading

from django.db import transaction
from django.http import Http404
from PIL import Image

from inkwell.config.problems import Problem
from inkwell.productions.models import Role
from inkwell.productions.services import allow
from inkwell.rendering.answers import Rank
from inkwell.rendering.service import answered, engine, free_connection
from inkwell.setups import services as setups
from moth.document import load
from moth.solving.trying import changed
from moth.stills.apart import opened_apart
from moth.stills.kept import keep, kept
from moth.stills.marks import Marks, Record
from moth.stills.reading import shown
from moth.wording import Wording

from . import questions
from .models import Still

KEPT = 60
"""Stills of a production."""
_ONE_AT_A_TIME = threading.Lock()
"""Opening a large picture takes gigabytes: who comes second waits."""
FULL_FRAME = 36.0
"""Width of the frame that a file's equivalent focal length is told for [mm]."""


def still_for(user, pk, least=Role.VIEWER, picture=False):
    """(still, role) or Http404 / 403; its pictures are fetched only when they are asked for."""
    rows = Still.objects.select_related("production", "author")
    rows = rows if picture else rows.defer("code", "shown")
    still = rows.filter(pk=pk).first()
    if still is None:
        raise Http404
    return still, allow(user, still.production, least)


def bring_in(user, production, title, file):
    """A still from a file.

    Raises
    ------
    Problem
        422 when the production is full.
    moth.errors.MothError
        For a file that cannot be read.
    """
    if production.stills.count() >= KEPT:
        raise Problem(422, f"A production keeps {KEPT} stills: delete one first.", "file")
    data = file.read()
    free_connection()
    with _ONE_AT_A_TIME:
        opened = opened_apart(data)
    record = Record(curve="linear" if opened.linear else "unknown", t_stop=opened.stop)
    if opened.focal:
        # The equivalent is told for a full frame: so is the width.
        record = record.model_copy(
            update={"focal_length": opened.focal, "sensor_width": FULL_FRAME}
        )
    return add(user, production, title, opened, record, Marks())


def add(user, production, title, opened, record, marks):
    """A still from a picture that was opened."""
    high, wide = opened.code.shape[:2]
    return Still.objects.create(
        production=production,
        title=title,
        width=wide,
        height=high,
        code=keep(opened.code),
        shown=_jpeg(opened.code, record),
        record=record.model_dump(mode="json"),
        marks=marks.model_dump(mode="json"),
        author=user,
    )


def _jpeg(code, record):
    file = io.BytesIO()
    Image.fromarray(shown(code, record)).save(file, "JPEG", quality=92, subsampling=0)
    return file.getvalue()


def change(user, pk, version, title, record: Record, marks: Marks):
    """Its title, how it was recorded, what is marked.

    Raises
    ------
    Problem
        409 when somebody else has changed it since.
    """
    still, role = still_for(user, pk, Role.EDITOR)
    fields = {"title": title, "record": record.model_dump(mode="json"),
              "marks": marks.model_dump(mode="json")}  # fmt: skip
    if _curve(fields["record"]) != _curve(still.record):
        code = kept(bytes(Still.objects.values_list("code", flat=True).get(pk=pk)))
        fields["shown"] = _jpeg(code, record)
    with transaction.atomic():
        done = Still.objects.filter(pk=pk, version=version).update(version=version + 1, **fields)
    if not done:
        raise Problem(409, "Somebody else has marked this still since: look at theirs first.")
    return still_for(user, pk)[0], role


def _curve(record):
    return record["curve"], record["log"]


def _asked(user, question, document, still, *args):
    """What the engine answers about a still, beside a set-up or none."""
    future = engine().ask(user.pk, Rank.ANALYSIS, question, document, bytes(still.code), *args)
    return answered(future)


def read(user, still, record, marks, step):
    """What is read in a still."""
    return _asked(user, questions.read, None, still, record, marks, Wording(step))


def build(user, still, scene, base, title):
    """A new set-up whose light is the still's.

    Returns
    -------
    (inkwell.setups.models.Setup, list of str)
    """
    document, words = _asked(user, questions.built, base, still, still.record, still.marks, title)
    return setups.create(user, scene, load(document), f"built from the still {still.title}"), words


def differs(user, still, document, step):
    """What a set-up's frame does otherwise than a still."""
    return _asked(
        user, questions.differing, document, still, still.record, still.marks, Wording(step)
    )


def mend(user, setup, patches, version, gesture):
    """A difference taken out of a set-up, as one revision of it."""
    document = changed(load(setup.current.document), patches)
    return setups.revise(user, setup.pk, document, version, gesture)
