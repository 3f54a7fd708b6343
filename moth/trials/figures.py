"""The figures of a cell: what is told of a unit at the desk, in numbers that can be sorted."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..inspection import inspect_unit
from ..metering import read_setup
from ..photometry import ATTACHMENTS, HEADS, NOISE, PRICE
from ..planning.needs import legs_of, needs_of, weight_of_needs
from ..planning.tasks import rigged, tasks_of
from ..units import footcandles


@dataclass(frozen=True)
class CellFigure:
    """One figure of every cell."""

    key: str
    name: str
    unit: str
    digits: int
    better: Literal["more", "less", ""]
    """Which way is usually wanted; empty where that depends."""
    words: tuple[str, ...] = ()
    """What whole numbers from 0 stand for."""


FIGURES = {
    figure.key: figure
    for figure in (
        CellFigure("at", "what the row tries", "", 1, ""),
        CellFigure("misses", "short of what is asked", "", 1, "less"),
        CellFigure("level", "level at full", "fc", 1, "more"),
        CellFigure("gain", "gain to the level", "stops", 1, "less"),
        CellFigure("lost", "lost on the way", "stops", 1, "less"),
        CellFigure("soft", "softness, half of the light", "°", 1, ""),
        CellFigure("soft90", "softness, nine tenths", "°", 1, ""),
        CellFigure("edge", "shadow edge on the cheek", "mm", 1, ""),
        CellFigure("edge_backdrop", "shadow edge behind", "cm", 1, ""),
        CellFigure("wrap", "wraps", "°", 0, ""),
        CellFigure("half", "covers within ½ stop", "m", 2, ""),
        CellFigure("one", "covers within 1 stop", "m", 2, ""),
        CellFigure("one_and_half", "covers within 1½ stops", "m", 2, ""),
        CellFigure("falloff", "fall-off over a 12 ft wall", "stops", 1, "less"),
        CellFigure("spill", "spill on the backdrop", "stops", 1, "less"),
        CellFigure("ratio", "(key + fill) : fill", ": 1", 1, ""),
        CellFigure("outline", "worst of the outline", "ΔE", 1, "more"),
        CellFigure("glint", "eyes with a glint", "", 0, ""),
        CellFigure("glare", "glare in glasses", "% of glass", 0, "less"),
        CellFigure("kelvin", "white", "K", 0, ""),
        CellFigure("green", "green", "Duv", 4, ""),
        CellFigure("watts", "power", "W", 0, "less"),
        CellFigure("weight", "weight", "kg", 1, "less"),
        CellFigure("pieces", "pieces to carry", "", 0, "less"),
        CellFigure("minutes", "one person's minutes to rig", "min", 0, "less"),
        CellFigure("hands", "hands it takes", "", 0, "less"),
        CellFigure("floor", "floor it takes", "m²", 1, "less"),
        CellFigure("price", "price class", "", 0, "less", PRICE),
        CellFigure("fan", "fan", "", 0, "less", NOISE),
    )
}
"""Figures by key, in the order they are told."""


def figures_of(setup, unit_id, full, gain, readings):
    """The figures of one unit of a set-up.

    Parameters
    ----------
    setup : moth.document.Setup
        With the unit at the level it is looked at.
    unit_id : str
    full : moth.document.Setup
        With the unit at full.
    gain : float
        From full to that level.
    readings : list of moth.judging.Reading
        What the picture does.

    Returns
    -------
    dict of str to float
        By key of :data:`FIGURES`; what cannot be told is left out.
    """
    at_full = inspect_unit(full, unit_id)
    unit = next(u for u in setup.units if u.id == unit_id)
    found: dict[str, float | None] = {
        "level": footcandles(at_full.lux),
        "gain": float(np.log2(gain)) if gain > 0 else None,
        "lost": _lost(at_full),
        "soft": at_full.size.half,
        "soft90": at_full.size.most,
        "edge": 1000 * at_full.shadow.cheek,
        "edge_backdrop": _times(100, at_full.shadow.backdrop),
        "wrap": at_full.shadow.wrap,
        "half": at_full.coverage.widths.half,
        "one": at_full.coverage.widths.one,
        "one_and_half": at_full.coverage.widths.one_and_half,
        "falloff": at_full.coverage.falloff,
        "spill": at_full.spill.stops if at_full.spill else None,
        "ratio": read_setup(setup).ratios.combined.ratio,
        "kelvin": at_full.white.kelvin,
        "green": at_full.white.green,
        **_read(readings),
        **_carried(setup, unit, at_full.grip),
    }
    return {k: float(v) for k, v in found.items() if v is not None and np.isfinite(v)}


def _times(by, value):
    return None if value is None else by * value


def _lost(inspection):
    """From the bare head aimed straight to what the face gets [stops]."""
    levels = [stage.lux for stage in inspection.stages if stage.lux > 0]
    return float(np.log2(levels[0] / levels[-1])) if len(levels) > 1 else 0.0


def _read(readings):
    own = [r for r in readings if r.key.split()[1] == "0"]
    outline = [r.figure for r in own if r.kind == "outline" and r.figure is not None]
    glints = [r for r in own if r.kind == "eyes" and " glass " not in r.key]
    glass = [r.figure for r in own if " glass " in r.key and r.figure is not None]
    found = {}
    if outline:
        found["outline"] = min(outline)
    if glints:
        found["glint"] = sum(r.figure is not None for r in glints)
    if glass:
        found["glare"] = 100 * max(glass)
    return found


def _carried(setup, unit, grip):
    """What has to be packed, carried, powered and stood for it: of the grip, what its light goes by
    (ids), for the rest stands there for others.
    """
    head = HEADS[unit.head]
    own = tuple(g for g in setup.grip if g.id in grip)
    alone = setup.model_copy(update={"units": (unit,), "grip": own, "openings": ()})
    needs = needs_of(alone)
    stands = [n for n in needs if n.kind == "stand"]
    carried = [n for n in needs if n.kind in ("head", "attachment", "filter", "sheet")]
    rigging = [t for t in tasks_of(alone) if t.kind not in EVERY]
    return {
        "watts": head.watts,
        "weight": weight_of_needs(carried),
        "pieces": sum(n.count for n in (*carried, *stands)),
        "minutes": rigged(rigging, 1).minutes,
        "hands": max((t.hands for t in rigging), default=1),
        "floor": sum(n.count * np.pi * legs_of(n.key) ** 2 for n in stands),
        "price": max([head.price, *(ATTACHMENTS[a.key].price for a in unit.attachments)]),
        "fan": head.noise,
    }


EVERY = ("balance", "marks", "sound")
"""Tasks that a set-up has whatever lights it."""
