"""The sheet of a trial on paper, as a table, as linear frames."""

import csv
import io
import zipfile

from reportlab.graphics.shapes import Drawing, Rect, String
from reportlab.lib import colors
from reportlab.lib.units import mm
from reportlab.platypus import Image, KeepTogether, Table

from inkwell.config.paper import Paper
from inkwell.config.text import file_name
from moth.trials import FIGURES
from moth.wording import as_cell

from .models import State

ACROSS = 4
"""Frames side by side on a page."""
PRINTED = ("level", "gain", "lost", "soft", "edge", "one", "spill", "ratio", "minutes")
"""Figures under a frame on paper."""


def _names(trial, cell):
    plan = trial.plan
    return tuple(
        plan[axis]["choices"][at]["name"]
        for axis, at in (("rows", cell.row), ("columns", cell.column))
    )


def told(figure, value):
    """A figure in words.

    Examples
    --------
    >>> told(FIGURES["soft"], 12.34), told(FIGURES["fan"], 1.0), told(FIGURES["glint"], 2.0)
    ('12.3 °', 'quiet fan', '2')
    """
    if figure.words:
        return figure.words[int(value)]
    return f"{value:.{figure.digits}f} {figure.unit}".strip().replace("-", "−")


def table(trial):
    """CSV text: a row a cell, figures with their units in the heads of the columns."""
    out = io.StringIO()
    writer = csv.writer(out)
    heads = [f"{f.name} [{f.unit}]" if f.unit else f.name for f in FIGURES.values()]
    writer.writerow(["row", "column", "state", "pattern", "worst", *heads, "favourite", "why not"])
    for cell in trial.cells.defer("png", "exr", "wall", "document"):
        figures = [
            f.words[int(cell.figures[f.key])]
            if f.words and f.key in cell.figures
            else round(cell.figures[f.key], f.digits)
            if f.key in cell.figures
            else ""
            for f in FIGURES.values()
        ]
        words = [cell.words.get(k, "") for k in ("pattern", "worst")]
        rest = [as_cell(cell.favourite), as_cell(cell.fault)]
        writer.writerow(
            [*map(as_cell, _names(trial, cell)), cell.state, *map(as_cell, words), *figures, *rest]
        )
    return out.getvalue()


def frames(trial):
    """A ZIP of the linear frames, one EXR a cell that is done."""
    out = io.BytesIO()
    # They are packed already.
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as packed:
        for cell in (
            trial.cells.filter(state=State.DONE).defer("png", "wall", "document").iterator(20)
        ):
            row, column = (file_name(name) for name in _names(trial, cell))
            name = f"{cell.row + 1:03d}-{cell.column + 1:03d} {row} {column}.exr"
            packed.writestr(name, bytes(cell.exr))
        packed.writestr("figures.csv", table(trial))
    return out.getvalue()


def pages(trial):
    """The sheet as PDF bytes: A4 across, frames with their figures beneath."""
    paper = Paper(trial.title, size=7.0, margin=12.0)

    def shown(cell):
        names = " · ".join(n for n in _names(trial, cell) if n != "as it is")
        flow = [paper.text(("* " if cell.favourite else "") + names, "strong")]
        if cell.state != State.DONE:
            return [*flow, paper.text(cell.fault or cell.state, "small")]
        flow.append(Image(io.BytesIO(bytes(cell.png)), 64 * mm, 36 * mm))
        figures = [
            f"{FIGURES[k].name}: {told(FIGURES[k], cell.figures[k])}"
            for k in PRINTED
            if k in cell.figures
        ]
        words = [f"{k}: {v}" for k, v in cell.words.items() if v]
        return [*flow, paper.text("\n".join([*figures, *words]), "small")]

    plan = trial.plan
    level = "each at the camera's stop by a gain of its own" if plan["level"] == "same" else "full"
    paper.say(trial.title, "title")
    paper.say(f"{trial.production.title}. Level: {level}.")
    paper.gap()
    if trial.notes:
        paper.say(trial.notes)
        paper.gap()
    cells = list(trial.cells.defer("exr", "document"))
    _side_by_side(paper, [shown(cell) for cell in cells])
    walls = [cell for cell in cells if cell.state == State.DONE and cell.wall]
    if walls:
        paper.gap()
        paper.say("The wall behind", "large")
        paper.say("As the lens sees it, every foot from the floor up: stops under its brightest.")
        paper.gap()

    def on_the_wall(cell):
        names = " · ".join(n for n in _names(trial, cell) if n != "as it is")
        return [paper.text(names, "strong"), wall_drawing(cell.wall)]

    _side_by_side(paper, [on_the_wall(cell) for cell in walls])
    return paper.made()


def _side_by_side(paper, shown):
    """Rows of so many across, none broken over two pages."""
    for at in range(0, len(shown), ACROSS):
        row = shown[at : at + ACROSS]
        row += [[]] * (ACROSS - len(row))
        paper.add(KeepTogether(Table([row], colWidths=[68 * mm] * ACROSS, style=_TOP)))


WALL = 64 * mm
"""Width of a wall on paper [pt]."""
DARKEST = 5.0
"""Stops under the brightest from which a wall's grey gets no darker: figures stay readable."""


def wall_drawing(stops):
    """A wall's levels as a drawing: a square a crossing, greyer the darker, its stops in it.

    Parameters
    ----------
    stops : list of list of (float or None)
        As :func:`moth.trials.wall_map` gives them, from the floor up.

    Returns
    -------
    reportlab.graphics.shapes.Drawing

    Examples
    --------
    >>> found = wall_drawing([[0.0, -1.26], [None, -3.0]])
    >>> [s.text for s in found.contents if isinstance(s, String)]
    ['0', '−1.3', '−3.0']
    """
    side = WALL / max(len(stops[0]), 1)
    drawing = Drawing(WALL, side * len(stops))
    for v, row in enumerate(stops):
        for u, stop in enumerate(row):
            if stop is None:
                continue
            grey = 1 - 0.55 * min(-stop / DARKEST, 1)
            tone = colors.Color(grey, grey, grey)
            square = Rect(u * side, v * side, side, side, fillColor=tone, strokeColor=None)
            words = "0" if stop > -0.05 else f"{stop:.1f}".replace("-", "−")
            middle = u * side + side / 2, v * side + 0.36 * side
            drawing.add(square)
            drawing.add(
                String(*middle, words, fontName="Vera", fontSize=0.31 * side, textAnchor="middle")
            )
    return drawing


_TOP = [("VALIGN", (0, 0), (-1, -1), "TOP"), ("BOTTOMPADDING", (0, 0), (-1, -1), 6)]
