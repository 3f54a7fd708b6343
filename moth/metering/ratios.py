"""Ratios three ways side by side: by the meter, by the signal as read, by the signal made linear
again.
"""

from dataclasses import dataclass

import numpy as np

from ..camera import curve_of
from ..units import stops
from ..wording import ratio_words
from .readings import DARK, lay_out
from .schools import hair

PAIRS = {
    "fill": ("key : fill", "shadow", "fill-shaded"),
    "backdrop": ("key : backdrop", "backdrop", "backdrop"),
    "edge": ("key : edge", "edge", "hair"),
}
"""What the key side is told against: name, part of the picture, mark of the meter."""


@dataclass(frozen=True)
class PairRatio:
    """The key side against one other thing."""

    key: str
    """Of :data:`PAIRS`."""
    name: str
    meter: float | None
    """Of light falling."""
    read: float | None
    """Percent over percent of the recorded signal."""
    linear: float | None
    """Of light reflected."""
    words: dict[str, str]
    """The three in words, by their names here."""
    stops: float | None
    """Of the meter's."""
    why: str
    """Why the three differ."""


def read_ratios(setup, picture):
    """Key side against fill, backdrop and edge, each in three ways, with the reason why they
    differ.

    Parameters
    ----------
    setup : moth.document.Setup
    picture : Picture

    Returns
    -------
    list of PairRatio
    """
    ready = lay_out(setup)
    curve = curve_of(ready.camera)
    places = {
        name: ready.marks[name]
        for name in ("key-side", "fill-shaded", "fill-side", "backdrop")
        if name in ready.marks
    }
    places["hair"] = hair(setup, ready.camera)
    full = ready.full(list(places.values()))
    totals = dict(
        zip(places, ready.state @ full if len(full) else np.zeros(len(places)), strict=True)
    )
    skin = picture.signal("skin")
    rows = []
    edged = any(u.role == "edge" and u.on for u in setup.units)
    for key, (name, part, mark) in PAIRS.items():
        if key == "edge" and not edged:
            continue
        mark = "fill-side" if mark not in totals and mark == "fill-shaded" else mark
        key_side, other, seen = totals["key-side"], totals.get(mark, 0.0), picture.signal(part)
        values = {
            "meter": float(key_side / other) if other > DARK and key_side > DARK else None,
            "read": (
                float(curve.encode(skin) / curve.encode(seen))
                if skin and seen and curve.encode(seen) > 0.005
                else None
            ),
            "linear": float(skin / seen) if skin and seen and seen > 1e-6 else None,
        }
        rows.append(
            PairRatio(
                key=key,
                name=name,
                **values,
                words={k: ratio_words(v) if v else "none" for k, v in values.items()},
                stops=float(stops(values["meter"])) if values["meter"] else None,
                why=_why(key, curve),
            )
        )
    return rows


def _why(key, curve):
    surface = {
        "fill": (
            "skin is the same on both sides, but the meter shades the key off and a dome takes in"
            " more than the spot shows"
        ),
        "backdrop": "what the backdrop reflects counts in the picture, not on the meter",
        "edge": "hair reflects less than skin, and shines at grazing angles",
    }[key]
    bent = (
        ""
        if curve.key == "linear"
        else f" Percent over percent is no ratio of light: {curve.name} bends the scale."
    )
    return f"Light falling against light seen: {surface}.{bent}"
