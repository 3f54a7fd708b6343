"""Trials made, run, stopped, changed; one of their cells put into a set-up."""

import os

from django.db import transaction
from django.db.models import Avg, Prefetch
from django.http import Http404

from inkwell.config.problems import Problem
from inkwell.productions.models import Role
from inkwell.productions.services import allow
from inkwell.rendering.answers import Rank
from inkwell.rendering.service import answered, engine
from inkwell.setups import services as setups
from moth.document import load
from moth.engine.caching import model_digest
from moth.photometry import ATTACHMENTS, HEADS
from moth.solving import CAUTION, with_level
from moth.trials import TrialPlan, changed_by

from .models import Cell, State, Trial
from .questions import placed

USUAL = 3.0
"""How long a cell takes where none was run yet [s]."""
KEPT = 60
"""Trials of a production."""
LARGEST = 30_000_000
"""Bytes that the set-ups of all cells may take together."""


def model():
    """Digest of the light's code and figures: what another one found is not the same."""
    return model_digest()[:12]


def trial_for(user, pk, least=Role.VIEWER):
    """(trial, role) or Http404 / 403."""
    trial = Trial.objects.select_related("production", "author").filter(pk=pk).first()
    if trial is None:
        raise Http404
    return trial, allow(user, trial.production, least)


def seconds_a_cell():
    """How long a cell has taken of late [s]."""
    done = Cell.objects.filter(state=State.DONE, seconds__isnull=False).order_by("-id")[:200]
    return done.aggregate(mean=Avg("seconds"))["mean"] or USUAL


def create(user, production, title, plan: TrialPlan):
    """A trial whose cells wait to be run; those that cannot be are told at once."""
    if production.trials.count() >= KEPT:
        raise Problem(422, f"A production keeps {KEPT} trials: delete one first.")
    cells = _placed(user, plan)
    with transaction.atomic():
        trial = Trial.objects.create(
            production=production,
            title=title,
            author=user,
            plan=plan.model_dump(mode="json"),
            model=model(),
        )
        Cell.objects.bulk_create(Cell(trial=trial, **cell) for cell in cells)
    return trial


def _placed(user, plan):
    """The cells of a plan, worked out by the engine.

    Raises
    ------
    Problem
        422 for so large a set-up in so many cells that it would fill the records.
    """
    count = len(plan.rows.choices) * len(plan.columns.choices)
    if len(plan.setup.model_dump_json()) * count > LARGEST:
        raise Problem(422, "This set-up is too large for so many cells: try fewer.", "plan")
    setups.check(user, plan.setup)
    return answered(engine().ask(user.pk, Rank.ANALYSIS, placed, plan.setup, plan))


def run_again(user, trial):
    """Take up what waits; what failed waits again, and everything does where the figures have
    changed since.
    """
    if trial.model == model():
        trial.cells.filter(state=State.FAILED).update(state=State.WAITING, fault="")
        Trial.objects.filter(pk=trial.pk).update(stopped=False)
        return
    cells = _placed(user, TrialPlan.model_validate(trial.plan))
    with transaction.atomic():
        minded = set(trial.cells.filter(favourite=True).values_list("row", "column"))
        trial.cells.all().delete()
        Cell.objects.bulk_create(
            Cell(trial=trial, favourite=(cell["row"], cell["column"]) in minded, **cell)
            for cell in cells
        )
        Trial.objects.filter(pk=trial.pk).update(stopped=False, model=model())


def stop(trial):
    """Leave what waits as it is; cells under way are finished."""
    Trial.objects.filter(pk=trial.pk).update(stopped=True)


def rig(user, trial, row, column, scene):
    """A new set-up with one cell's rig in it, all other light as it was.

    Returns
    -------
    (inkwell.setups.models.Setup, list of str)
        And what is to be minded when it is rigged.
    """
    plan = TrialPlan.model_validate(trial.plan)
    steps = _steps(plan, row, column)
    made = changed_by(plan.setup, plan.unit, steps)
    if plan.level == "same":
        made = with_level(made, plan.unit, plan.wish and plan.wish.lux).setup
    title = f"{trial.title[:40]}: {plan.rows.choices[row].name[:36]}"
    made = made.model_copy(update={"title": title})
    return setups.create(user, scene, load(setups.plain(made)), "rigged from a trial"), _cautions(
        made, plan.unit, steps
    )


def _steps(plan, row, column):
    if not (row < len(plan.rows.choices) and column < len(plan.columns.choices)):
        raise Http404
    return (*plan.rows.choices[row].steps, *plan.columns.choices[column].steps)


def _cautions(setup, unit_id, steps):
    unit = next(u for u in setup.units if u.id == unit_id)
    found = [HEADS[unit.head].caution, *(ATTACHMENTS[a.key].caution for a in unit.attachments)]
    found += [CAUTION[step.key] for step in steps if step.kind == "move"]
    return list(dict.fromkeys(words for words in found if words))


def workers():
    """How many cells are run at once on this machine."""
    return os.cpu_count() or 1


def states_alone():
    """To be fetched beside trials: of their cells, only what became of them."""
    return Prefetch("cells", Cell.objects.only("trial_id", "state", "row", "column"))


def effort(user, plan):
    """How much a trial is, as :class:`inkwell.trials.schemas.EffortOut`."""
    cells = _placed(user, plan)
    can = sum(cell["state"] == State.WAITING for cell in cells)
    seconds = can * seconds_a_cell() / workers()
    cannot = [
        " with ".join((plan.rows.choices[c["row"]].name, plan.columns.choices[c["column"]].name))
        + f": {c['fault']}"
        for c in cells
        if c["state"] == State.IMPOSSIBLE
    ]
    words = f"{can} cells, about {_spoken(seconds)}"
    if cannot:
        words += f"; {len(cannot)} cannot be"
    return {"cells": len(cells), "impossible": cannot, "seconds": seconds, "words": words}


def _spoken(seconds):
    """A time in words.

    Examples
    --------
    >>> _spoken(7), _spoken(95), _spoken(400)
    ('10 s', '2 min', '7 min')
    """
    return f"{max(round(seconds, -1), 10):.0f} s" if seconds < 90 else f"{seconds / 60:.0f} min"
