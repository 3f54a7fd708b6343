"""Trials at work as the records office shows them: workers, queue, memory, failures."""

import json
import time

from django.conf import settings
from django.contrib import admin
from django.db.models import Count
from django.shortcuts import render

from .models import Cell, State
from .runner import WORKERS
from .services import seconds_a_cell

FRESH = 30.0
"""How old what the runner told may be and still be taken for now [s]."""
SHOWN = 20
"""Failures that are listed."""


def at_work():
    """What the runner told last, or None when none is at work.

    Returns
    -------
    dict or None
        "under_way", and "workers": name, memory and limit [bytes].
    """
    try:
        told = json.loads((settings.LOCAL_DIR / WORKERS).read_text())
    except (OSError, ValueError):
        return None
    return told if time.time() - told.get("at", 0) < FRESH else None


def trials_page(request):
    """Who is at work, how much waits, and what failed."""
    counts = dict(Cell.objects.order_by().values_list("state").annotate(Count("id")))
    told = at_work()
    workers = told["workers"] if told else ()
    failed = Cell.objects.filter(state=State.FAILED).select_related("trial")
    context = {
        **admin.site.each_context(request),
        "title": "Trials at work",
        "cluster": settings.CLUSTER or "this machine",
        "told": told,
        "workers": [(w["name"], w["memory"] / 1e6, w["limit"] / 1e6) for w in workers],
        "counts": [(label, counts.get(value, 0)) for value, label in State.choices],
        "seconds": seconds_a_cell(),
        "failed": [(cell.trial.title, cell.row, cell.column, cell.fault) for cell in
                   failed.order_by("-id")[:SHOWN]],
    }  # fmt: skip
    return render(request, "trials/office.html", context)
