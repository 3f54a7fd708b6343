"""Days kept, put in order, and what they take."""

from dataclasses import asdict

from django.db import transaction
from django.http import Http404
from pydantic import TypeAdapter

from inkwell.config.problems import Problem
from inkwell.kit.services import kit_of
from inkwell.productions.models import Role
from inkwell.productions.services import allow
from inkwell.rendering.answers import Rank
from inkwell.rendering.service import answered, engine, free_connection
from inkwell.setups.models import Setup
from moth.document import load
from moth.engine.caching import content_hash
from moth.planning.day import ShootDay, order_of_day, sheet_of
from moth.planning.order import DayPlan
from moth.solving.trying import Patch, changed, tried

from .models import Day

MOST = 120
"""Days of a production."""
_PLAN: TypeAdapter[DayPlan] = TypeAdapter(DayPlan)


def day_for(user, pk, least=Role.VIEWER):
    """(day, role), or Http404 / 403."""
    day = Day.objects.select_related("production").filter(pk=pk).first()
    if day is None:
        raise Http404
    return day, allow(user, day.production, least)


def create(user, production, title, date):
    """A day without set-ups.

    Raises
    ------
    Problem
        422 for a date that is none, or too many days.
    """
    if production.days.count() >= MOST:
        raise Problem(422, f"A production keeps {MOST} days.", "title")
    try:
        asked = ShootDay(date=date)
    except ValueError:
        raise Problem(422, f"There is no day {date}: write it as 2026-10-15.", "date") from None
    return Day.objects.create(
        production=production, title=title, asked=asked.model_dump(mode="json"), author=user
    )


def change(user, pk, data):
    """A day set anew.

    Raises
    ------
    Problem
        409 when somebody was quicker; 422 for a set-up that is not of the production.
    """
    with transaction.atomic():
        day, role = day_for(user, pk, Role.EDITOR)
        day = Day.objects.select_for_update().get(pk=pk)
        if day.version != data.version:
            raise Problem(409, "Somebody has changed this day since you opened it.", "version")
        before = {s["setup"] for s in day.asked["shots"]}
        wanted = {s.setup for s in data.asked.shots} - before
        known = set(_rows(day.production).values_list("pk", flat=True))
        if wanted - known:
            raise Problem(422, "That set-up is not of this production.", "shots")
        day.title, day.asked = data.title, data.asked.model_dump(mode="json")
        day.version += 1
        day.save()
    return day, role


def _rows(production):
    return Setup.objects.filter(scene__production=production)


def choices(production):
    """Set-ups that a day may have, in the order of their scenes."""
    rows = _rows(production).select_related("scene").order_by("scene__place", "scene_id", "place")
    return [{"id": s.pk, "title": s.title, "scene": s.scene.title} for s in rows]


class Known:
    """A day with the set-ups it is of, as they stand."""

    def __init__(self, day):
        self.day = day
        asked = ShootDay.model_validate(day.asked)
        rows = _rows(day.production).select_related("current")
        found = {s.pk: s for s in rows.filter(pk__in=[s.setup for s in asked.shots])}
        self.missing = [s.setup for s in asked.shots if s.setup not in found]
        shots = tuple(s for s in asked.shots if s.setup in found)
        self.asked = asked.model_copy(update={"shots": shots})
        self.names = {pk: s.title for pk, s in found.items()}
        self.versions = {pk: s.version for pk, s in found.items()}
        self.setups = {pk: load(s.current.document) for pk, s in found.items()}

    @property
    def made_of(self):
        """Digest of all that an order follows from."""
        return content_hash(
            "day", self.asked.model_dump(mode="json"), sorted(self.versions.items())
        )

    @property
    def plan(self):
        """The order that was found; None without one, or when a set-up of it is gone."""
        if self.day.plan is None:
            return None
        plan = _PLAN.validate_python(self.day.plan)
        here = {str(pk) for pk in self.names}
        return plan if {s.key for s in plan.slots} <= here else None

    def sheet(self, plan):
        """What the day takes, in an order of its set-ups."""
        asked = {s.setup for s in self.asked.shots}
        if plan is None or {int(s.key) for s in plan.slots} != asked:
            return None
        return sheet_of(self.asked, plan, self.setups, kit_of(self.day.production))


def put_in_order(user, pk):
    """The order of a day, found and kept.

    Raises
    ------
    moth.errors.MothError
        For a day that cannot be put in any order.
    """
    day, role = day_for(user, pk, Role.EDITOR)
    known = Known(day)
    # It may take seconds: others need the connection meanwhile.
    free_connection()
    plan = order_of_day(known.asked, known.setups, known.names)
    day.plan, day.made_of = asdict(plan), known.made_of
    Day.objects.filter(pk=pk).update(plan=day.plan, made_of=day.made_of)
    return day, role


def left_out(user, day, names):
    """What each set-up of a day loses in its picture when units of these names are off."""
    known = Known(day)
    found = []
    for pk, document in known.setups.items():
        out = [u for u in document.units if u.name in names and u.on]
        if not out:
            continue
        patches = [Patch("units", u.id, {"on": False}) for u in out]
        asked = engine().ask(user.pk, Rank.ANALYSIS, tried, document, changed(document, patches))
        worse = answered(asked).worse
        found.append(
            {
                "setup": pk,
                "title": known.names[pk],
                "units": [u.name for u in out],
                "worse": [f"{told.name}: {told.word}" for told in worse[:4]],
            }
        )
    return found


def shown(day, role):
    """A day as it is sent."""
    known = Known(day)
    plan = known.plan
    return {
        "id": day.pk,
        "title": day.title,
        "version": day.version,
        "production": day.production_id,
        "production_title": day.production.title,
        "role": role,
        "asked": day.asked,
        "plan": plan,
        "outdated": plan is not None and day.made_of != known.made_of,
        "sheet": known.sheet(plan),
        "setups": choices(day.production),
        "missing": known.missing,
    }
