"""The level card as a page to print and as a table."""

import csv
import io
import re
from xml.sax.saxutils import escape

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from moth.card import FIELDS

_TEXT, _STRONG = "Vera", "VeraBd"
_THIRDS = {"⅓": "1/3", "⅔": "2/3"}


def plain(text):
    """Words as the font that comes with the page maker can set them: it has no thirds. 3⅓ must not
    become 31/3.
    """
    return re.sub(
        "(\\d?)([⅓⅔])", lambda m: f"{m[1]} {_THIRDS[m[2]]}" if m[1] else _THIRDS[m[2]], text
    )


def as_cell(value):
    """A cell of a table; none that a spreadsheet takes for a formula."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    formula = isinstance(value, str) and value.startswith(("=", "+", "-", "@", "\t", "\r"))
    return f"'{value}" if formula else value


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


def page(made):
    """A card as PDF bytes: A4 across, as many pages as it takes."""
    for font in (_TEXT, _STRONG):
        if font not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(font, f"{font}.ttf"))
    body = ParagraphStyle("body", fontName=_TEXT, fontSize=8, leading=10.5)
    small = ParagraphStyle("small", parent=body, fontSize=7, leading=9)
    head = ParagraphStyle("head", parent=small, fontName=_STRONG)
    title = ParagraphStyle("title", parent=body, fontName=_STRONG, fontSize=15, leading=19)

    def text(value, style=body):
        return Paragraph(escape(plain(str(value))).replace("\n", "<br/>"), style)

    flow: list = [
        text(made.title, title),
        text(made.place),
        Spacer(1, 3 * mm),
        text(made.sentence, ParagraphStyle("said", parent=body, fontName=_STRONG)),
    ]
    flow += (
        [text(line) for line in made.camera]
        + ([text(made.sky)] if made.sky else [])
        + [Spacer(1, 3 * mm)]
    )
    units = [
        [text(k, head) for k in ("Unit", "Head, hung on", "Place", "Light", "White", "At the face")]
    ]
    for u in made.units:
        units.append(
            [
                text(f"{u.name}\n{u.role}{'' if u.on else ', off'}", small),
                text(u.head + (f"\n{u.hung}" if u.hung else ""), small),
                text(
                    f"{u.angle:g}° {u.side}, {_height(u.height)}\n"
                    f"{u.distance:.2f}"
                    f" m ({u.distance_ft:.1f} ft) to the face, {u.over_floor:.2f} m over the"
                    " floor",
                    small,
                ),
                text(f"{u.dimmer:g} %\ndial {u.dial:g} %", small),
                text(u.white.replace(", ", "\n"), small),
                text(f"{u.footcandles:.1f} fc, {u.lux:.0f} lx\n{u.stop}", small),
            ]
        )
    line = TableStyle(
        [
            ("LINEBELOW", (0, 0), (-1, -1), 0.4, colors.HexColor("#888888")),
            ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ("TOPPADDING", (0, 0), (-1, -1), 2),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
        ]
    )
    flow.append(
        Table(
            units, [38 * mm, 62 * mm, 84 * mm, 24 * mm, 24 * mm, 36 * mm], repeatRows=1, style=line
        )
    )
    if made.grip:
        rows = [[text(k, head) for k in ("Grip", "Kind, cloth", "Size", "Place")]]
        rows += [
            [
                text(g.name, small),
                text(f"{g.kind}, {g.material}", small),
                text(g.size, small),
                text(
                    f"{g.distance:.2f} m to the face, {g.over_floor:.2f} m over the floor",
                    small,
                ),
            ]
            for g in made.grip
        ]
        flow += [
            Spacer(1, 3 * mm),
            Table(rows, [60 * mm, 90 * mm, 40 * mm, 78 * mm], repeatRows=1, style=line),
        ]
    marks = [[text(k, head) for k in ("Mark", "Level", "Asks for", "On the camera")]]
    marks += [
        [
            text(m.name, small),
            text(f"{m.footcandles:.1f} fc, {m.lux:.0f} lx", small),
            text(m.stop_words, small),
            text(m.against_words, small),
        ]
        for m in made.marks
    ]
    flow += [
        Spacer(1, 3 * mm),
        Table(marks, [100 * mm, 60 * mm, 54 * mm, 54 * mm], repeatRows=1, style=line),
    ]
    if made.notes:
        flow += [Spacer(1, 3 * mm), text("Notes", head), text(made.notes)]
    out = io.BytesIO()
    SimpleDocTemplate(
        out,
        pagesize=landscape(A4),
        leftMargin=14 * mm,
        rightMargin=14 * mm,
        topMargin=12 * mm,
        bottomMargin=12 * mm,
        title=made.title,
        author="Inkwell Moth",
    ).build(flow)
    return out.getvalue()
