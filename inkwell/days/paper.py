"""A day on paper: its order, what is packed, and the card of each set-up; the order in a calendar;
the packing as a table.
"""

import csv
import datetime
import io
import zoneinfo

from icalendar import Calendar, Event

from inkwell.cards.api import card_of
from inkwell.cards.page import put_card
from inkwell.config.paper import Paper
from inkwell.rendering.pictures import frame_png
from inkwell.setups.models import Setup
from moth.card import plan_of
from moth.planning.kit import KINDS
from moth.wording import as_cell, clock

DEFER = "Typical figures, for planning. Local codes and licensed people decide."


def pages(known, plan, sheet, user):
    """Day sheet, packing list and level cards as one PDF."""
    day = known.day
    paper = Paper(day.title, size=9.5)
    paper.say(f"{day.title}, {day.asked['date']}", "title")
    paper.say(f"{day.production.title}. {plan.words}")
    for words in plan.conflict:
        paper.say(f"At odds: {words}", "strong")
    paper.gap()
    paper.table(
        ["From", "Shoot", "What", "Where", "Rig", "Mind"],
        _rows(known, plan, sheet),
        [18, 32, 66, 40, 26, 86],
    )
    asked = known.asked
    if asked.people:
        paper.gap()
        paper.say("People", "strong")
        paper.say("; ".join(f"{p.name} {clock(p.begin)} to {clock(p.end)}" for p in asked.people))
    _tasks(paper, known, plan, sheet)
    _packing(paper, sheet)
    rows = Setup.objects.select_related("scene__production", "current")
    by_id = {s.pk: s for s in rows.filter(pk__in=[int(s.key) for s in plan.slots])}
    for slot in plan.slots:
        pk = int(slot.key)
        paper.turn()
        frame = frame_png(user.pk, by_id[pk].current.document, True)
        put_card(paper, card_of(user, by_id[pk]), plan_of(known.setups[pk]), frame)
    return paper.made()


def _rows(known, plan, sheet):
    """Set-ups and meals as they begin."""
    by_setup = {s.setup: s for s in sheet.slots}
    rows = [(m.begin, "", m.name, "", f"to {clock(m.end)}", "") for m in plan.meals]
    for slot in plan.slots:
        of = by_setup[int(slot.key)]
        mind = [*slot.broken, *(s.words for s in of.short), *of.changes]
        rows.append(
            (
                slot.rigging[0][0] if slot.rigging else slot.begin,
                f"{clock(slot.begin)} to {clock(slot.end)}",
                slot.name,
                slot.room,
                f"{slot.rig} min, {of.watts:.0f} W",
                "\n".join(mind),
            )
        )
    return [(clock(begin), *rest) for begin, *rest in sorted(rows)]


def _tasks(paper, known, plan, sheet):
    paper.turn()
    paper.say("Rigging, and what is to be minded", "large")
    paper.say(DEFER, "small")
    by_setup = {s.setup: s for s in sheet.slots}
    for slot in plan.slots:
        of = by_setup[int(slot.key)]
        paper.gap()
        paper.say(f"{slot.name}: {of.rigging.words}", "strong")
        tasks = (f"{t.begin:.0f}–{t.end:.0f} {t.task.name}" for t in of.rigging.tasks)
        paper.say("; ".join(tasks) or "nothing to rig", "small")
        for caution in of.cautions:
            paper.say(f"! {caution.words} ({caution.follows})", "small")


def _packing(paper, sheet):
    paper.turn()
    paper.say("To pack", "large")
    paper.say(f"{sheet.weight:.0f} kg. {sheet.batteries} {sheet.money.words}")
    short = {s.need.what: s for s in sheet.short}
    paper.gap()
    paper.table(
        ["", "Count", "What", "Kind", "For", "Short"],
        [
            (
                "[  ]",
                str(n.count),
                n.name,
                KINDS[n.kind],
                ", ".join(n.of[:6]),
                str(short[n.what].missing) if n.what in short else "",
            )
            for n in sheet.needs
        ],
        [10, 19, 94, 48, 78, 18],
    )


def packing(known, plan, sheet, user):
    """What is packed as CSV text."""
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(["Kind", "Count", "What", "For", "Short"])
    short = {s.need.what: s.missing for s in sheet.short}
    for need in sheet.needs:
        cells = [KINDS[need.kind], need.count, need.name, ", ".join(need.of)]
        table.writerow([as_cell(c) for c in (*cells, short.get(need.what, 0))])
    return out.getvalue()


def calendar(known, plan, sheet, user):
    """The order of a day as iCalendar bytes (RFC 5545), in the time zone of its place where one of
    its set-ups has one; else in no zone at all, as clocks there show it.
    """
    day = known.day
    midnight = datetime.datetime.combine(
        datetime.date.fromisoformat(day.asked["date"]), datetime.time()
    )
    sites = [s.site.zone for s in known.setups.values() if s.site]
    zone = zoneinfo.ZoneInfo(sites[0]) if sites else None

    def at(minute):
        return (midnight + datetime.timedelta(minutes=minute)).replace(tzinfo=zone)

    made = Calendar()
    made.add("prodid", "-//Inkwell Moth//Order of the day//EN")
    made.add("version", "2.0")
    made.add("name", day.title)
    stamp = datetime.datetime.now(datetime.UTC)
    rigs = ((f"Rig: {s.name}", a, b, s.room, "") for s in plan.slots for a, b in s.rigging)
    shots = ((s.name, s.begin, s.end, s.room, " ".join(s.broken)) for s in plan.slots)
    meals = ((m.name, m.begin, m.end, "", "") for m in plan.meals)
    for number, (name, begin, end, room, words) in enumerate((*rigs, *shots, *meals)):
        event = Event()
        event.add("uid", f"day-{day.pk}-{number}-v{day.version}@inkwell-moth")
        event.add("dtstamp", stamp)
        event.add("summary", name)
        event.add("dtstart", at(begin))
        event.add("dtend", at(end))
        if room:
            event.add("location", room)
        if words:
            event.add("description", words)
        made.add_component(event)
    if zone is not None:
        made.add_missing_timezones()
    return made.to_ical()
