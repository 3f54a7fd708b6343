"""The kit kept, read from a table, and asked what a set-up takes of it."""

from django.db import transaction
from django.http import Http404

from inkwell.config.problems import Problem
from inkwell.productions.models import Production, Role
from inkwell.productions.services import allow
from moth.document import Measured
from moth.photometry import HEADS
from moth.planning.cautions import cautions_of
from moth.planning.kit import MOST, read_kit
from moth.planning.kit import Gear as Line
from moth.planning.needs import needs_of, shortages, weight_of_needs
from moth.planning.own import checked_file, head_file
from moth.planning.power import power_of
from moth.planning.tasks import rigged, tasks_of
from moth.solving.standins import Candidate, candidates

from .models import Gear

FIELDS = tuple(Line.model_fields)


def line_of(gear):
    """A row as the core has it."""
    return Line.model_validate({f: getattr(gear, f) for f in FIELDS})


def kit_of(production):
    """The kit of a production."""
    return [line_of(gear) for gear in production.gear.all()]


def gear_for(user, pk, least=Role.VIEWER):
    """A line of a kit, or Http404 / 403."""
    gear = Gear.objects.select_related("production").filter(pk=pk).first()
    if gear is None:
        raise Http404
    allow(user, gear.production, least)
    return gear


def _room_for(production, lines):
    if production.gear.count() + lines > MOST:
        raise Problem(422, f"A kit has {MOST} lines at most.", "file")


def add(production, line):
    """A line more.

    Raises
    ------
    Problem
        422 when the kit is full.
    moth.errors.MothError
        For a photometric file that cannot be read.
    """
    _room_for(production, 1)
    if line.file:
        checked_file(line.file)
    return Gear.objects.create(production=production, **line.model_dump())


def change(gear, line):
    """A line set anew; its photometric file stays where none is sent."""
    values = line.model_dump()
    if line.file:
        checked_file(line.file)
    else:
        values.pop("file")
    for name, value in values.items():
        setattr(gear, name, value)
    gear.save()
    return gear


def read_table(production, text, mode):
    """Lines from a table, added to the kit or in its place; nothing where a line is wrong."""
    lines = read_kit(text)
    with transaction.atomic():
        Production.objects.select_for_update().get(pk=production.pk)
        if mode == "replace":
            production.gear.all().delete()
        _room_for(production, len(lines))
        Gear.objects.bulk_create(Gear(production=production, **line.model_dump()) for line in lines)


def add_read_head(production, data):
    """A head of one's own, made of three readings."""
    text = head_file(data.head, data.distance, data.axis, data.off)
    line = Line(
        kind="head",
        name=data.name,
        key=data.head,
        count=data.count,
        watts=data.watts,
        weight=data.weight,
        file=text,
        note=f"from three readings at {data.distance:g} m",
    )
    return add(production, line)


def head_of(gear):
    """What a unit takes over of a head of the kit."""
    if gear.kind != "head":
        raise Problem(422, f"{gear.name} is no head.", "kind")
    measured = Measured(lux=gear.lux, distance=gear.distance) if gear.lux else None
    return {"head": gear.key, "ies": gear.file or None, "measured": measured}


def work_of(document, kit, hands, minutes):
    """A set-up as work."""
    needs = needs_of(document)
    return {
        "needs": needs,
        "short": shortages(needs, kit) if kit else (),
        "kept": bool(kit),
        "weight": weight_of_needs(needs, kit),
        "power": power_of(document, minutes),
        "rigging": rigged(tasks_of(document), hands),
        "cautions": cautions_of(document, minutes),
    }


def candidates_for(document, unit, source, production):
    """Heads that could stand in: of the catalogue, or of the kit."""
    if source == "catalogue":
        return candidates(document, unit)
    own = next((u for u in document.units if u.id == unit), None)
    if own is None:
        raise Problem(422, f"There is no unit '{unit}' here.", "unit")
    known = own.head, own.ies, own.measured
    return [c for c in heads_of_kit(production) if (c.head, c.ies, c.measured) != known]


def heads_of_kit(production):
    """Heads that a production has, with its own figures of them."""
    return [
        Candidate(
            gear.name, **head_of(gear), price=gear.price, weight=gear.weight, watts=gear.watts
        )
        for gear in production.gear.filter(kind="head", count__gt=0)
    ]


def heads_of(source, production):
    """Heads of the kit, or all that are brought to a set."""
    if source == "kit":
        return heads_of_kit(production)
    return [Candidate(h.name, h.key) for h in HEADS.values() if not h.of_place]


def shown(gear):
    """A line as it is sent."""
    return {
        **{f: getattr(gear, f) for f in FIELDS if f != "file"},
        "id": gear.pk,
        "has_file": bool(gear.file),
    }
