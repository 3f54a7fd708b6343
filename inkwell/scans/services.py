"""Scans brought in and taken off the list."""

import threading

from django.db import IntegrityError, transaction
from django.db.models import Q
from django.http import Http404

from inkwell.config.problems import Problem
from inkwell.productions.models import Role
from inkwell.productions.services import allow
from inkwell.rendering.service import free_connection
from inkwell.setups.models import Setup
from moth.place.scans import on_shelf, scan_of, shelf, shelve
from moth.scans import VIEWS, model_apart, outline, shown, view_png

from .models import Scan

KEPT = 40
"""Scans of a production."""
_ONE_AT_A_TIME = threading.Lock()
"""Opening a large model takes gigabytes: who comes second waits."""


def scan_for(user, pk, least=Role.VIEWER):
    """(scan, role) or Http404 / 403."""
    scan = Scan.objects.select_related("production", "author").defer("data").filter(pk=pk).first()
    if scan is None:
        raise Http404
    return scan, allow(user, scan.production, least)


def bring_in(user, production, name, up, file):
    """A scan from a model file; the one that is there where it was brought in before.

    Raises
    ------
    Problem
        422 when the production is full.
    moth.errors.MothError
        For a file that cannot be read.
    """
    if production.scans.count() >= KEPT:
        raise Problem(422, f"A production keeps {KEPT} models: delete one first.", "file")
    data, called = file.read(), file.name
    free_connection()
    with _ONE_AT_A_TIME:
        brought = model_apart(data, called, up)
    digest = shelve(brought.scan)
    facts = {**_facts(digest), "notes": list(brought.notes)}
    try:
        with transaction.atomic():
            return Scan.objects.create(
                production=production,
                name=name,
                digest=digest,
                data=brought.scan,
                facts=facts,
                author=user,
            )
    except IntegrityError:
        return production.scans.defer("data").get(digest=digest)


def _facts(digest):
    scan = scan_of(digest)
    size = tuple(float(v) for v in scan.size)
    return {
        "size": size,
        "triangles": len(scan.faces),
        "closed": scan.closed,
        "outline": outline(scan),
        "views": {view: dict(zip(("wide", "high"), shown(scan, view), strict=True))
                  for view in VIEWS},
    }  # fmt: skip


def picture(scan, view):
    """PNG of a scan."""
    if view not in VIEWS:
        raise Http404
    if not on_shelf(scan.digest):
        shelve(bytes(Scan.objects.values_list("data", flat=True).get(pk=scan.pk)))
    return view_png(scan_of(scan.digest, scan.name), view)


def delete(user, pk):
    """Take a scan off the list, for good.

    Raises
    ------
    Problem
        409 while a set-up holds it, now, in its history or in a frame that was put aside.
    """
    scan, _ = scan_for(user, pk, Role.EDITOR)
    piece = [{"scan": scan.digest}]
    held = Setup.objects.filter(
        Q(revisions__document__furniture__contains=piece)
        | Q(frozen__document__furniture__contains=piece)
    ).distinct()
    own = held.filter(scene__production=scan.production).order_by("pk").first()
    others = Scan.objects.filter(digest=scan.digest).exclude(pk=scan.pk)
    if own or (held.exists() and not others.exists()):
        # Of another production's set-ups no more is said than that there are some.
        what = f"The set-up '{own.title}'" if own else "A set-up of another production"
        raise Problem(409, f"{what} holds it, or did: what is to be undone there needs it.")
    digest = scan.digest
    scan.delete()
    if not Scan.objects.filter(digest=digest).exists():
        (shelf() / f"{digest}.npz").unlink(missing_ok=True)
