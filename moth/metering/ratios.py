"""Ratios three ways side by side: by the meter, by the signal as read, by the signal made linear
again.
"""

import numpy as np

from ..camera import curve_of
from ..units import stops
from .readings import DARK, lay_out
from .schools import hair

PAIRS = {
    "fill": ("key : fill", "shadow", "fill-shaded"),
    "backdrop": ("key : backdrop", "backdrop", "backdrop"),
    "edge": ("key : edge", "edge", "hair"),
}
"""What the key side is told against: name, part of the picture, mark of the meter."""


def ratio_words(value):
    """A ratio as gaffers say it, the greater first.

    Examples
    --------
    >>> ratio_words(4.0), ratio_words(0.5), ratio_words(16.3)
    ('4:1', '1:2', '16:1')
    """
    if value < 1:
        return "1:" + ratio_words(1 / value).split(":")[0]
    return f"{value:.2g}:1" if value < 9.95 else f"{value:.0f}:1"


def read_ratios(setup, picture):
    """Key side against fill, backdrop and edge, each in three ways, with the reason why they
    differ.

    Parameters
    ----------
    setup : moth.document.Setup
    picture : Picture

    Returns
    -------
    list of dict
        `key`, `name`, `meter` (of light falling), `read` (percent over percent of the recorded
        signal), `linear` (of light reflected), each a number or None;
        `words` for each, `stops` of the meter's, and `why`.
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
            {
                "key": key,
                "name": name,
                **values,
                "words": {k: ratio_words(v) if v else "none" for k, v in values.items()},
                "stops": float(stops(values["meter"])) if values["meter"] else None,
                "why": _why(key, curve),
            }
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
