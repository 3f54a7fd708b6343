"""The figures of a cell: what is told of a unit at the desk, in numbers that can be sorted."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..inspection import inspect_unit
from ..metering import read_setup
from ..photometry import ATTACHMENTS, HEADS, NOISE, PRICE
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
        CellFigure("minutes", "minutes to rig", "min", 0, "less"),
        CellFigure("floor", "floor it takes", "m²", 1, "less"),
        CellFigure("price", "price class", "", 0, "less", PRICE),
        CellFigure("fan", "fan", "", 0, "less", NOISE),
    )
}
"""Figures by key, in the order they are told."""
FOOT = 1.1
"""Across the legs of a stand [m]; typical."""
HEAD_MINUTES, HUNG_MINUTES, SHEET_MINUTES, HELD_MINUTES = 4, 1, 5, 4
"""To set a head on its stand with its cable, to hang something on it, to set a cloth or board, to
rig a boom or hang it: one practised hand; typical.
"""
GRIP_WEIGHT = 2.5
"""Of a cloth or board with its frame, a square metre [kg]; typical."""


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
    hung = [ATTACHMENTS[a.key] for a in unit.attachments]
    sheets = [g.size[0] * g.size[1] for g in setup.grip if g.id in grip]
    stands = 1 + sum(1 if area < 1.5 else 2 for area in sheets)
    return {
        "watts": head.watts,
        "weight": head.weight + sum(a.weight for a in hung) + GRIP_WEIGHT * sum(sheets),
        "pieces": 1 + len(hung) + len(sheets) + stands,
        "minutes": HEAD_MINUTES
        + HUNG_MINUTES * len(hung)
        + SHEET_MINUTES * len(sheets)
        + HELD_MINUTES * (unit.held in ("boom", "hung")),
        "floor": stands * np.pi / 4 * FOOT**2,
        "price": max([head.price, *(a.price for a in hung)]),
        "fan": head.noise,
    }
