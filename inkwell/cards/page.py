"""The level card as pages to print and as a table."""

import csv
import io

from reportlab.lib.units import mm
from reportlab.platypus import Image

from inkwell.config.paper import Paper, drawn_plan
from moth.card import FIELDS
from moth.wording import as_cell

FRAME = 84.0
"""Width of the frame on paper [mm]."""


def table(made):
    """Units of a card as CSV text, one row each, units of measure in the heads of the columns."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(FIELDS.values())
    for unit in made.units:
        writer.writerow([as_cell(getattr(unit, field)) for field in FIELDS])
    return out.getvalue()


def _height(angle):
    whole = round(angle)
    if not whole:
        return "level with the eyes"
    return f"{abs(whole)}° {'above' if whole > 0 else 'below'} the eyes"


def page(made, plan=None, png=None):
    """A card as PDF bytes: A4 across, as many pages as it takes.

    Parameters
    ----------
    made : moth.card.LevelCard
    plan : moth.card.Drawing, optional
    png : bytes, optional
        The frame.
    """
    paper = Paper(made.title, size=9.5)
    put_card(paper, made, plan, png)
    return paper.made()


def put_card(paper, made, plan=None, png=None):
    """A card on pages of their own, the plan to scale overleaf."""
    words = [paper.text(made.title, "title"), paper.text(made.place)]
    words += [paper.text(made.sentence, "strong")]
    words += [paper.text(line) for line in (*made.camera, *([made.sky] if made.sky else []))]
    if png:
        frame = Image(io.BytesIO(png), FRAME * mm, FRAME * 9 / 16 * mm)
        paper.table(["", ""], [[words, frame]], [180, 88])
    else:
        paper.add(*words)
    paper.gap()
    paper.table(
        ["", "Unit", "Head, hung on", "Place, aim", "Light", "White", "Its light"],
        [_unit(number, u) for number, u in enumerate(made.units, 1)],
        [7, 38, 52, 76, 22, 26, 48],
    )
    if made.grip:
        paper.gap()
        paper.table(
            ["Grip", "Kind, cloth", "Size", "Place", "Front"],
            [
                (
                    g.name,
                    f"{g.kind}, {g.material}",
                    g.size,
                    f"{g.east:.2f} east, {g.north:.2f} north, {g.over_floor:.2f} m over the floor;"
                    f" {g.distance:.2f} m to the face",
                    g.turned,
                )
                for g in made.grip
            ],
            [42, 68, 32, 82, 45],
        )
    paper.gap()
    paper.table(
        ["Mark", "Level", "Asks for", "On the camera"],
        [
            (m.name, f"{m.footcandles:.1f} fc, {m.lux:.0f} lx", m.stop_words, m.against_words)
            for m in made.marks
        ],
        [100, 60, 54, 54],
    )
    for head, lines in (
        ("Windows", made.windows),
        ("Cameras", made.cameras if len(made.cameras) > 1 else ()),
        ("Furniture near", made.furniture),
        ("Circuits", made.circuits),
    ):
        if lines:
            paper.gap()
            paper.say(head, "strong")
            paper.say("; ".join(line.rstrip(".") for line in lines) + ".", "small")
    if made.notes:
        paper.gap()
        paper.say("Notes", "strong")
        paper.say(made.notes)
    if plan is not None:
        paper.turn()
        drawn, scale = drawn_plan(plan, paper.width, paper.height - 18 * mm)
        paper.say(made.title, "large")
        paper.say(f"Plan, north up, 1 : {scale}; grid {plan.grid}", "small")
        paper.gap()
        paper.add(drawn)


def _unit(number, u):
    light = f"{u.dimmer:g} %\ndial {u.dial:g} %"
    lands = ""
    if u.lands and u.lands_footcandles is not None:
        lands = f"\n{u.lands_footcandles:.1f} fc, {u.lands_lux:.0f} lx on {u.lands}"
    soft = f"\nsoft {u.soft:g}°" if u.soft else ""
    return (
        str(number),
        f"{u.name}\n{u.role}{'' if u.on else ', off'}\n{u.held}"
        + (f"\non {u.feed}" if u.feed else ""),
        u.head + (f"\n{u.hung}" if u.hung else ""),
        f"{u.angle:g}° {u.side}, {_height(u.height)}\n"
        f"{u.distance:.2f} m ({u.distance_ft:.1f} ft) to the face, {u.over_floor:.2f} m over the"
        f" floor\n{u.east:.2f} east, {u.north:.2f} north; aimed at {u.aimed}"
        f" (to {u.bearing}°, {abs(u.tilt)}° {'up' if u.tilt >= 0 else 'down'})",
        light if u.on else "off",
        u.white.replace(", ", "\n"),
        f"{u.footcandles:.1f} fc, {u.lux:.0f} lx at the face\n{u.stop}{lands}{soft}"
        if u.on
        else "",
    )
