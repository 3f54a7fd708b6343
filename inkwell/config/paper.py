"""Pages to print: one maker for all that is put on paper, in black and white, to be read at arm's
length.
"""

import io
import re
from xml.sax.saxutils import escape

from reportlab.graphics.shapes import Drawing as Canvas
from reportlab.graphics.shapes import Line as CanvasLine
from reportlab.graphics.shapes import Polygon, String
from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Flowable, PageBreak, Paragraph, SimpleDocTemplate, Spacer, Table
from reportlab.platypus import TableStyle as Style

from moth.card import Line, Shape

_TEXT, _STRONG = "Vera", "VeraBd"
_PARTS = {"⅓": "1/3", "⅔": "2/3"}
_INK, _LIGHT = colors.HexColor("#000000"), colors.HexColor("#bbbbbb")
_RULED = Style(
    [
        ("LINEBELOW", (0, 0), (-1, -1), 0.4, colors.HexColor("#888888")),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("TOPPADDING", (0, 0), (-1, -1), 2),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
    ]
)
SCALES = (20, 25, 50, 75, 100, 150, 200, 300, 500, 1000)
"""A plan is printed at the largest of these that fits."""


def plain(text):
    """Words as the font that comes with the page maker can set them: it has no thirds. 3⅓ must not
    become 31/3.
    """
    return re.sub(
        "(\\d?)([⅓⅔])", lambda m: f"{m[1]} {_PARTS[m[2]]}" if m[1] else _PARTS[m[2]], text
    )


class Paper:
    """Pages of A4 across, filled from the top."""

    def __init__(self, title, size=8.0, margin=14.0):
        for font in (_TEXT, _STRONG):
            if font not in pdfmetrics.getRegisteredFontNames():
                pdfmetrics.registerFont(TTFont(font, f"{font}.ttf"))
        self.name, self.margin = title, margin * mm
        self.flow: list[Flowable] = []
        body = ParagraphStyle("body", fontName=_TEXT, fontSize=size, leading=1.31 * size)
        self.styles = {
            "body": body,
            "small": ParagraphStyle(
                "small", parent=body, fontSize=0.88 * size, leading=1.13 * size
            ),
            "strong": ParagraphStyle("strong", parent=body, fontName=_STRONG),
            "title": ParagraphStyle(
                "title", parent=body, fontName=_STRONG, fontSize=15, leading=19
            ),
            "large": ParagraphStyle(
                "large", parent=body, fontName=_STRONG, fontSize=1.4 * size, leading=1.8 * size
            ),
        }

    @property
    def width(self):
        """Of what may be printed on [pt]."""
        return landscape(A4)[0] - 2 * self.margin

    @property
    def height(self):
        return landscape(A4)[1] - 2 * self.margin

    def text(self, words, style="body"):
        """Words as something that flows."""
        safe = escape(plain(str(words))).replace("\n", "<br/>")
        return Paragraph(safe, self.styles[style])

    def say(self, words, style="body"):
        self.flow.append(self.text(words, style))

    def gap(self, height=3.0):
        """[mm]"""
        self.flow.append(Spacer(1, height * mm))

    def add(self, *things):
        self.flow += things

    def turn(self):
        """Go on overleaf."""
        self.flow.append(PageBreak())

    def table(self, heads, rows, widths, style="small"):
        """A ruled table, its heads again on each page; cells are words, or what flows already.

        Parameters
        ----------
        heads : sequence of str
        rows : iterable of sequence
        widths : sequence of float
            [mm]
        """
        cells = [[self.text(h, "strong") for h in heads]]
        cells += [
            [c if isinstance(c, (Flowable, list)) else self.text(c, style) for c in row]
            for row in rows
        ]
        self.flow.append(Table(cells, [w * mm for w in widths], repeatRows=1, style=_RULED))

    def made(self):
        """All pages as PDF bytes."""
        out = io.BytesIO()
        SimpleDocTemplate(
            out,
            pagesize=landscape(A4),
            leftMargin=self.margin,
            rightMargin=self.margin,
            topMargin=12 * mm,
            bottomMargin=12 * mm,
            title=self.name,
            author="Inkwell Moth",
        ).build(self.flow, onFirstPage=_numbered, onLaterPages=_numbered)
        return out.getvalue()


def _numbered(canvas, page):
    canvas.saveState()
    canvas.setFont(_TEXT, 7)
    canvas.drawRightString(page.pagesize[0] - page.rightMargin, 7 * mm, f"page {page.page}")
    canvas.restoreState()


def scale_for(drawing, width, height):
    """The largest of the usual scales at which a plan fits into so many points.

    Examples
    --------
    >>> from moth.card import Drawing
    >>> scale_for(Drawing("", (0, 0), (10, 8), 0.5, "0.5 m", ()), 700, 480)
    50
    """
    wide = drawing.high[0] - drawing.low[0]
    high = drawing.high[1] - drawing.low[1]
    points = 1000 * mm
    fit = (s for s in SCALES if wide * points / s <= width and high * points / s <= height)
    return next(fit, SCALES[-1])


def drawn_plan(drawing, width, height):
    """A plan on paper, to scale, with the scale it is at.

    Parameters
    ----------
    drawing : moth.card.Drawing
    width, height : float
        What it may take [pt].

    Returns
    -------
    (reportlab.graphics.shapes.Drawing, int)
    """
    scale = scale_for(drawing, width, height)
    by = 1000 * mm / scale
    x0, y0 = drawing.low

    def put(place):
        return (place[0] - x0) * by, (place[1] - y0) * by

    canvas = Canvas((drawing.high[0] - x0) * by, (drawing.high[1] - y0) * by)
    for part in drawing.parts:
        light = part.layer == "grid"
        if isinstance(part, Line):
            (a, b), (c, d) = (put(p) for p in part.ends)
            canvas.add(
                CanvasLine(
                    a,
                    b,
                    c,
                    d,
                    strokeColor=_LIGHT if light else _INK,
                    strokeWidth=0.25 if light else 0.6,
                    strokeDashArray=[3, 2] if part.dashed else None,
                )
            )
        elif isinstance(part, Shape):
            flat = [n for corner in part.corners for n in put(corner)]
            wall = part.layer == "walls"
            canvas.add(
                Polygon(
                    flat,
                    strokeColor=_INK,
                    strokeWidth=1.6 if wall else 0.6,
                    fillColor=_LIGHT if part.filled else None,
                )
            )
        else:
            x, y = put(part.at)
            size = min(max(part.height * by * 1.3, 5.0), 8.0)
            canvas.add(
                String(x, y, plain(part.text), fontName=_TEXT, fontSize=size, fillColor=_INK)
            )
    return canvas, scale
