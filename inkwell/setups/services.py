"""Changes to set-ups: one revision a gesture, undo and redo over them, nobody overwritten."""

from django.db import transaction
from django.http import Http404

from inkwell.config.problems import Problem
from inkwell.productions.models import Membership, Role
from inkwell.productions.services import allow, enough
from moth.document import Setup as Document
from moth.document import load
from moth.transport import sources
from moth.world import check_placement

from .models import Revision, Setup

BLANK = {
    "schema_version": 4,
    "room": {
        "width": 5,
        "depth": 6,
        "height": 2.8,
        "north": {"reflectance": 0.3},
        "south": {"reflectance": 0.3},
        "east": {"reflectance": 0.3},
        "west": {"reflectance": 0.3},
    },
    "figures": [
        {
            "id": "subject",
            "name": "Subject",
            "figure": "middle-aged-woman",
            "pose": "seated",
            "position": [2.5, 2.4],
            "facing": 0,
        }
    ],
    "furniture": [
        {
            "id": "stool",
            "name": "Stool",
            "kind": "cylinder",
            "position": [2.5, 2.32, 0],
            "size": [0.36, 0.36, 0.42],
            "surface": {"reflectance": 0.1, "colour": [0.6, 0.4, 0.25]},
        }
    ],
    "cameras": [
        {
            "id": "a",
            "name": "A camera",
            "position": [2.5, 4.9, 1.2],
            "aim": [2.5, 2.4, 1.02],
            "focal_length": 60,
        }
    ],
    "units": [],
}
"""A new set-up: a room, a person on a stool, a camera; no light."""


def check(document):
    """Refuse a document whose lamps cannot be built or stand where nothing can stand.

    Raises
    ------
    moth.errors.MothError
    """
    sources(document)
    check_placement(document)


def plain(document):
    """A document as JSON data."""
    return document.model_dump(mode="json")


def setup_for(user, pk, least=Role.VIEWER, lock=False):
    """(set-up, role) or Http404 / 403."""
    rows = Setup.objects.select_related("scene__production", "current")
    if lock:
        rows = rows.select_for_update(of=("self",))
    setup = rows.filter(pk=pk).first()
    if setup is None:
        raise Http404
    return setup, allow(user, setup.scene.production, least)


def role_in(user, pk, least=Role.VIEWER):
    """Role in the production of a set-up, or Http404 / 403; the set-up is not fetched, for this is
    asked at every move of a hand.
    """
    return enough(Membership.objects.filter(user=user, production__scenes__setups=pk), least)


def draft(user, pk, document):
    """The document sent, or what is stored, checked; a viewer may only look at what is stored."""
    if document is None:
        setup, _ = setup_for(user, pk)
        document = load(setup.current.document)
    elif role_in(user, pk) == Role.VIEWER:
        raise Problem(403, "You are viewer here; looking at a draft takes an editor.")
    check(document)
    return document


def create(user, scene, document, gesture="new set-up"):
    check(document)
    setup = Setup.objects.create(scene=scene, title=document.title)
    setup.current = Revision.objects.create(
        setup=setup, number=1, parent=None, document=plain(document), gesture=gesture, author=user
    )
    setup.save()
    return setup


def _expect(setup, base_version):
    if setup.version != base_version:
        raise Problem(
            409,
            "Somebody changed this set-up since you loaded it. Here is the newer one; your change"
            " is not stored.",
            version=setup.version,
            document=setup.current.document,
            gesture=setup.current.gesture,
        )


@transaction.atomic
def revise(user, pk, document: Document, base_version, gesture):
    """Store a gesture as a new revision on top of the version the hand started from."""
    setup, role = setup_for(user, pk, Role.EDITOR, lock=True)
    _expect(setup, base_version)
    check(document)
    last = setup.revisions.order_by("-number").values_list("number", flat=True).first() or 0
    setup.current = Revision.objects.create(
        setup=setup,
        number=last + 1,
        parent=setup.current.number,
        document=plain(document),
        gesture=gesture,
        author=user,
    )
    setup.redo = []
    return _moved(setup), role


def _moved(setup):
    setup.version += 1
    setup.title = setup.current.document["title"]
    setup.save()
    return setup


@transaction.atomic
def undo(user, pk, base_version):
    """Go back to the revision that the present one was made from."""
    setup, role = setup_for(user, pk, Role.EDITOR, lock=True)
    _expect(setup, base_version)
    if setup.current.parent is None:
        raise Problem(422, "There is nothing to undo: this is how the set-up began.")
    setup.redo = [*setup.redo, setup.current.number]
    setup.current = setup.revisions.get(number=setup.current.parent)
    return _moved(setup), role


@transaction.atomic
def redo(user, pk, base_version):
    """Go forward again to the revision last undone."""
    setup, role = setup_for(user, pk, Role.EDITOR, lock=True)
    _expect(setup, base_version)
    if not setup.redo:
        raise Problem(422, "There is nothing to redo.")
    *rest, number = setup.redo
    setup.redo, setup.current = rest, setup.revisions.get(number=number)
    return _moved(setup), role
