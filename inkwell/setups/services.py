"""Changes to set-ups: one revision a gesture, undo and redo over them, nobody overwritten.

Every change is one transaction, bears a key of its sender's, and names the version it starts from.
What is heavy (whether a document can be lit at all) is asked before the set-up is locked.
"""

from dataclasses import dataclass

from django.db import transaction
from django.db.models import Max, Q
from django.http import Http404

from inkwell.config.problems import Problem
from inkwell.productions.models import Membership, Role, Scene
from inkwell.productions.services import allow, create_scene, enough
from inkwell.rendering.service import answered, engine
from moth.document import Setup as Document
from moth.document import load, upgrade

from .models import Command, Revision, Setup

BLANK = {
    "schema_version": 7,
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
            "cloth": "wool",
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
REMEMBERED = 400
"""Commands of a set-up that are remembered; a browser sends again within minutes."""


@dataclass(frozen=True)
class State:
    """A set-up as it stands, or as a command left it."""

    setup: Setup
    role: Role
    version: int
    revision: Revision
    redo: list


def check(user, document):
    """Refuse a document whose lamps cannot be built or stand where nothing can stand.

    Raises
    ------
    moth.errors.MothError
    """
    answered(engine().check(user.pk, document))


def plain(document):
    """A document as JSON data."""
    return document.model_dump(mode="json")


def setup_for(user, pk, least=Role.VIEWER):
    """(set-up, role) or Http404 / 403."""
    rows = Setup.objects.select_related("scene__production", "current")
    setup = rows.filter(pk=pk).first()
    if setup is None:
        raise Http404
    return setup, allow(user, setup.scene.production, least)


def state_for(user, pk, least=Role.VIEWER):
    """The set-up as it stands, or Http404 / 403."""
    setup, role = setup_for(user, pk, least)
    return _now(setup, role)


def _now(setup, role):
    return State(setup, role, setup.version, setup.current, setup.redo)


def role_in(user, pk, least=Role.VIEWER):
    """Role in the production of a set-up, or Http404 / 403; the set-up is not fetched, for this is
    asked at every move of a hand.
    """
    return enough(Membership.objects.filter(user=user, production__scenes__setups=pk), least)


def draft(user, pk, document):
    """The document sent, or what is stored; a viewer may have only what is stored looked at."""
    if document is None:
        setup, _ = setup_for(user, pk)
        return load(setup.current.document)
    if role_in(user, pk) == Role.VIEWER:
        raise Problem(403, "You are viewer here; looking at a draft takes an editor.")
    return document


def create(user, scene, document, gesture="new set-up"):
    """A set-up with its first revision, at the end of its scene."""
    check(user, document)
    with transaction.atomic():
        last = scene.setups.aggregate(last=Max("place"))["last"]
        setup = Setup.objects.create(
            scene=scene,
            title=document.title,
            units=len(document.units),
            place=0 if last is None else last + 1,
        )
        setup.current = Revision.objects.create(
            setup=setup,
            number=1,
            parent=None,
            document=plain(document),
            gesture=gesture,
            author=user,
        )
        setup.save()
    return setup


def duplicate(user, setup, scene=None, title=None):
    """A set-up beside another (or in another scene), with what stands there now and no history."""
    document = load(setup.current.document)
    title = title or f"{document.title[:73]}, again"
    document = document.model_copy(update={"title": title})
    return create(user, scene or setup.scene, document, f"copied from {setup.title}"[:120])


def duplicate_scene(user, scene):
    """A scene after another, with copies of its set-ups as they stand."""
    setups = list(scene.setups.select_related("current", "scene"))
    with transaction.atomic():
        made = create_scene(scene.production, f"{scene.title[:73]}, again", after=scene)
        for setup in setups:
            duplicate(user, setup, made, setup.title)
    return made


def _carried_out(setup, role, key):
    """What a command came to that was carried out before, or None."""
    done = setup.commands.select_related("revision").filter(key=key).first() if key else None
    return done and State(setup, role, done.version, done.revision, done.redo)


def _expect(setup, base_version):
    if setup.version != base_version:
        raise Problem(
            409,
            "Somebody changed this set-up since you loaded it. Here is the newer one; your change"
            " is not stored.",
            version=setup.version,
            revision=setup.current.number,
            document=upgrade(setup.current.document),
            gesture=setup.current.gesture,
            author=setup.current.author.username if setup.current.author else None,
        )


def _added(setup, document, gesture, user, parent=None):
    """One more revision of a set-up that is :func:`_locked`, made from what stands there or from
    another revision.
    """
    # What stands there is not read whole: its document is not asked for.
    standing = Max("number", filter=Q(pk=setup.current_id))
    numbers = setup.revisions.aggregate(last=Max("number"), standing=standing)
    return Revision.objects.create(
        setup=setup,
        number=(numbers["last"] or 0) + 1,
        parent=numbers["standing"] if parent is None else parent,
        document=document,
        gesture=gesture,
        author=user,
    )


def _moved(setup, role, key):
    setup.version += 1
    setup.title = setup.current.document["title"]
    setup.units = len(setup.current.document["units"])
    setup.save()
    if key:
        Command.objects.create(
            setup=setup, key=key, version=setup.version, revision=setup.current, redo=setup.redo
        )
        if setup.version % 100 == 0:
            old = setup.commands.order_by("-id")[REMEMBERED:].values("id")
            Command.objects.filter(id__in=list(old)).delete()
    return _now(setup, role)


def _commanded(role, pk, base_version, key, change):
    """Carry a change out once: lock, compare versions, recognise, change, remember.

    A command that was carried out has raised the version: only where that is not the one the hand
    started from can it have been sent before.
    """
    with transaction.atomic():
        setup = _locked(pk)
        if setup.version != base_version:
            before = _carried_out(setup, role, key)
            if before:
                return before
        _expect(setup, base_version)
        change(setup)
        return _moved(setup, role, key)


def _locked(pk):
    """The set-up, held until the transaction ends.

    It is locked by itself, and what belongs to it is read when it is asked for: whoever waits for a
    lock and joins in one query gets the newer row with what belonged to the older.
    """
    setup = Setup.objects.select_for_update().filter(pk=pk).first()
    if setup is None:
        raise Http404
    setup.scene = Scene.objects.select_related("production").get(pk=setup.scene_id)
    return setup


def revise(user, pk, document: Document, base_version, gesture, key=""):
    """Store a gesture as a new revision on top of the version the hand started from."""
    role = role_in(user, pk, Role.EDITOR)
    check(user, document)

    def change(setup):
        setup.current = _added(setup, plain(document), gesture, user)
        setup.redo = []

    return _commanded(role, pk, base_version, key, change)


def undo(user, pk, base_version, key=""):
    """Go back to the revision that the present one was made from."""
    role = role_in(user, pk, Role.EDITOR)

    def change(setup):
        if setup.current.parent is None:
            raise Problem(422, "There is nothing to undo: this is how the set-up began.")
        setup.redo = [*setup.redo, setup.current.number]
        setup.current = setup.revisions.get(number=setup.current.parent)

    return _commanded(role, pk, base_version, key, change)


def redo(user, pk, base_version, key=""):
    """Go forward again to the revision last undone."""
    role = role_in(user, pk, Role.EDITOR)

    def change(setup):
        if not setup.redo:
            raise Problem(422, "There is nothing to redo.")
        *rest, number = setup.redo
        setup.redo, setup.current = rest, setup.revisions.get(number=number)

    return _commanded(role, pk, base_version, key, change)


def bring_back(user, pk, number, base_version, key=""):
    """What an earlier revision or a branch holds, as a new revision on top of the present one."""
    setup, role = setup_for(user, pk, Role.EDITOR)
    found = revision_of(setup, number)
    document = load(found.document)
    check(user, document)

    def change(setup):
        gesture = f"brought back {number}: {found.gesture}"[:120]
        setup.current = _added(setup, plain(document), gesture, user)
        setup.redo = []

    return _commanded(role, pk, base_version, key, change)


def branch(user, pk, document, parent, gesture, key=""):
    """Keep a document as a revision of its own branch; what stands there stays.

    Returns
    -------
    Revision
    """
    role_in(user, pk, Role.EDITOR)
    with transaction.atomic():
        setup = _locked(pk)
        done = setup.commands.select_related("revision").filter(key=key).first() if key else None
        if done:
            return done.revision
        revision_of(setup, parent)
        revision = _added(setup, plain(document), gesture, user, parent)
        if key:
            Command.objects.create(
                setup=setup, key=key, version=setup.version, revision=revision, redo=setup.redo
            )
        return revision


def revision_of(setup, number):
    """A revision by its number, or 404 in words."""
    found = setup.revisions.select_related("author").filter(number=number).first()
    if found is None:
        raise Problem(404, f"There is no revision {number} of this set-up.", "revision")
    return found


def line_of(setup):
    """Numbers of the revisions that undo and redo reach; the others are branches."""
    parents = dict(setup.revisions.values_list("number", "parent"))
    line, at = set(setup.redo), setup.current.number
    while at is not None and at not in line:
        line.add(at)
        at = parents.get(at)
    return line


@transaction.atomic
def place(user, pk, scene, before):
    """Put a set-up into a scene, before another set-up there or at the end.

    Parameters
    ----------
    before : int or None
        Id of the set-up that then follows it.
    """
    role_in(user, pk, Role.EDITOR)
    setup = _locked(pk)
    others = [s for s in scene.setups.select_for_update() if s.pk != pk]
    at = next((k for k, s in enumerate(others) if s.pk == before), len(others))
    setup.scene = scene
    for number, each in enumerate([*others[:at], setup, *others[at:]]):
        each.place = number
        each.save(update_fields=["place", "scene"])
    return setup
