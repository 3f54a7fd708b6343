"""What is hung on heads: optics, soft boxes, what keeps light in, gels. How each changes a lamp is
in shaping.py.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ..colour import mired_gain, unit_gain
from . import shaping
from .shaping import CLOTHS, PATTERNS


@dataclass(frozen=True)
class Setting:
    """One number of an attachment."""

    key: str
    name: str
    low: float
    high: float
    default: float
    unit: str = ""
    choices: tuple[str, ...] = ()
    """What its whole numbers from 0 stand for; empty for a number."""


@dataclass(frozen=True)
class Attachment:
    key: str
    name: str
    group: str
    """"optic", "soft", "control" or "gel"."""
    change: Callable
    settings: tuple = ()
    fits: tuple = ("point", "fresnel", "panel", "tube", "bulb")
    """Groups of heads it can be hung on."""
    weight: float = 0.3
    """[kg]"""
    price: int = 0
    distance: float = 0.0
    """Least distance from the lamp's own front [m] that it keeps cloth or gel at."""
    caution: str = ""
    presets: tuple[tuple[str, dict[str, float]], ...] = ()
    """Settings that are often met with, by what they are called."""

    def values(self, given):
        """Settings with defaults for what is not given, held within their ranges.

        Examples
        --------
        >>> ATTACHMENTS["fresnel"].values({"travel": 7})
        {'travel': 1.0}
        """
        return {
            s.key: float(min(max(given.get(s.key, s.default), s.low), s.high))
            for s in self.settings
        }


_EIGHTHS = (Setting("eighths", "Strength", 1, 8, 8, "⅛"),)
_HOT = (
    "Gel and black wrap scorch on a hot head: leave an air gap, clip with pegs, keep the vents"
    " open."
)
_STAND = (
    "Weight in front of the head: tighten the tilt, bag the stand. Local codes and licensed people"
    " decide."
)
_DOORS = tuple(
    Setting(side, side.capitalize() + " door", 0, 90, 90, "°")
    for side in ("left", "right", "top", "bottom")
)
_CUTS = tuple(
    Setting("cut_" + side, side.capitalize() + " shutter", 0, 1, 0)
    for side in ("left", "right", "top", "bottom")
)
_CLOTHS = Setting("cloths", "Cloths", 0, 3, 3, choices=CLOTHS)
_BOX = (Setting("depth", "Depth", 0.15, 1.2, 0.35, "m"), _CLOTHS)
_POINT = ("point",)
_WIDTH, _HEIGHT = (
    Setting(k, k.capitalize(), 0.2, 2.4, d, "m") for k, d in (("width", 0.9), ("height", 0.6))
)


def _sizes(*sizes):
    return tuple((f"{w:g} × {h:g} m", {"width": w, "height": h}) for w, h in sizes)


def _across(*widths):
    return tuple((f"{w:g} m", {"width": w}) for w in widths)


def _named(name, rgb, transmission):
    return Attachment(
        "gel-" + name,
        name.capitalize() + " gel",
        "gel",
        shaping.gel(lambda s: shaping.tinted(rgb, transmission)),
        caution=_HOT,
        weight=0.05,
    )


def _lens(angle):
    return Attachment(
        f"lens-{angle}",
        f"Projection lens, {angle}°",
        "optic",
        shaping.projection,
        (
            Setting("angle", "Beam", 5, 60, angle, "°"),
            Setting("edge", "Edge, sharp to soft", 0, 1, 0.1),
            Setting("pattern", "Pattern", 0, len(PATTERNS) - 1, 0, choices=PATTERNS),
            *_CUTS,
        ),
        _POINT,
        3.2,
        2,
        caution=_STAND,
    )


ATTACHMENTS = {
    a.key: a
    for a in (
        Attachment(
            "reflector",
            "Reflector",
            "optic",
            shaping.reflector,
            (Setting("spread", "Beam", 15, 90, 48, "°"),),
            _POINT,
        ),
        Attachment(
            "fresnel",
            "Fresnel lens",
            "optic",
            shaping.fresnel,
            (Setting("travel", "Spot to flood", 0, 1, 0.5),),
            _POINT,
            1.6,
            1,
        ),
        Attachment(
            "parallel",
            "Parallel-beam lens",
            "optic",
            shaping.parallel,
            (
                Setting("angle", "Beam", 4, 12, 6, "°"),
                Setting("front", "Front lens across", 0.08, 0.3, 0.2, "m"),
            ),
            _POINT,
            4.5,
            2,
            caution=_STAND + " Never look into a parallel beam, nor let one fall on an eye.",
        ),
        Attachment(
            "travel",
            "Spot–flood travel",
            "optic",
            shaping.travel,
            (Setting("travel", "Spot to flood", 0, 1, 0.5),),
            ("fresnel",),
            0.0,
        ),
        _lens(19),
        _lens(26),
        _lens(36),
        _lens(50),
        Attachment(
            "softbox",
            "Softbox, rectangle",
            "soft",
            shaping.softbox,
            (_WIDTH, _HEIGHT, *_BOX),
            _POINT,
            1.8,
            1,
            caution=_STAND,
            presets=_sizes((0.4, 0.4), (0.6, 0.6), (0.9, 0.6), (1.2, 0.9), (1.6, 1.2), (2.4, 1.2)),
        ),
        Attachment(
            "octagon",
            "Softbox, octagon",
            "soft",
            shaping.octagon,
            (Setting("width", "Across", 0.4, 2.4, 1.2, "m"), *_BOX),
            _POINT,
            2.4,
            1,
            caution=_STAND,
            presets=_across(0.65, 0.9, 1.2, 1.5, 1.8, 2.1),
        ),
        Attachment(
            "deep-dome",
            "Softbox, deep dome",
            "soft",
            shaping.octagon,
            (Setting("width", "Across", 0.4, 1.8, 0.9, "m"), _CLOTHS),
            _POINT,
            2.0,
            1,
            caution=_STAND,
            presets=_across(0.45, 0.65, 0.9, 1.2, 1.5),
        ),
        Attachment(
            "strip",
            "Softbox, strip",
            "soft",
            shaping.softbox,
            (
                replace(_WIDTH, low=0.2, high=0.6, default=0.3),
                replace(_HEIGHT, low=0.6, default=1.2),
                *_BOX,
            ),
            _POINT,
            1.6,
            1,
            caution=_STAND,
            presets=_sizes((0.3, 0.9), (0.3, 1.2), (0.4, 1.8), (0.6, 1.8)),
        ),
        Attachment(
            "lantern",
            "Lantern",
            "soft",
            shaping.lantern,
            (
                Setting("diameter", "Across", 0.3, 1.2, 0.65, "m"),
                Setting("skirt", "Black skirt, none to the foot", 0, 1, 0),
            ),
            _POINT,
            0.9,
            presets=tuple((f"{d:g} m", {"diameter": d}) for d in (0.45, 0.55, 0.65, 0.9, 1.2)),
        ),
        Attachment(
            "dome",
            "Dome",
            "soft",
            shaping.dome,
            (Setting("diameter", "Across", 0.15, 1.0, 0.6, "m"),),
            _POINT,
            1.1,
        ),
        Attachment(
            "shade",
            "Lamp shade",
            "soft",
            shaping.shade,
            (Setting("opening", "Opening above and below", 40, 150, 90, "°"),),
            ("bulb",),
            0.3,
        ),
        Attachment(
            "crate",
            "Egg crate",
            "control",
            shaping.crate,
            (Setting("cutoff", "Cut-off, half angle", 15, 70, 40, "°"),),
            ("point", "panel", "tube"),
            0.5,
        ),
        Attachment(
            "honeycomb",
            "Honeycomb",
            "control",
            shaping.honeycomb,
            (Setting("cutoff", "Cut-off, half angle", 8, 60, 25, "°"),),
            ("point", "fresnel", "panel"),
            0.4,
        ),
        Attachment(
            "doors",
            "Barn doors",
            "control",
            shaping.doors,
            _DOORS,
            ("point", "fresnel", "panel"),
            0.6,
        ),
        Attachment(
            "snoot",
            "Snoot",
            "control",
            shaping.snoot,
            (Setting("angle", "Cone", 8, 60, 25, "°"),),
            ("point", "fresnel"),
            0.4,
        ),
        Attachment(
            "wrap",
            "Black wrap, hand-shaped",
            "control",
            shaping.snoot,
            (Setting("angle", "Cone", 20, 120, 60, "°"),),
            ("point", "fresnel"),
            0.1,
            caution=_HOT,
        ),
        Attachment(
            "scrim-single",
            "Scrim, single",
            "control",
            shaping.scrim,
            (Setting("stops", "Loss", 0.3, 0.7, 0.5, "stops"),),
            ("point", "fresnel"),
            0.2,
        ),
        Attachment(
            "scrim-double",
            "Scrim, double",
            "control",
            shaping.scrim,
            (Setting("stops", "Loss", 0.8, 1.2, 1.0, "stops"),),
            ("point", "fresnel"),
            0.2,
        ),
        Attachment(
            "scrim-half",
            "Scrim, half, below",
            "control",
            shaping.half_scrim,
            (Setting("stops", "Loss", 0.3, 1.2, 1.0, "stops"),),
            ("point", "fresnel"),
            0.2,
        ),
        Attachment(
            "clip-frost",
            "Clip-on light frost",
            "soft",
            shaping.clip_on("frost-light"),
            (),
            ("point", "fresnel", "panel"),
            0.1,
            caution=_HOT,
        ),
        Attachment(
            "clip-opal",
            "Clip-on opal",
            "soft",
            shaping.clip_on("opal"),
            (),
            ("point", "fresnel", "panel"),
            0.1,
            caution=_HOT,
        ),
        Attachment(
            "clip-grid",
            "Clip-on half grid",
            "soft",
            shaping.clip_on("grid-half"),
            (),
            ("point", "fresnel", "panel"),
            0.1,
            caution=_HOT,
        ),
        Attachment(
            "gel-warm",
            "Warming gel",
            "gel",
            shaping.gel(lambda s: mired_gain(159 * s["eighths"] / 8) * 0.58 ** (s["eighths"] / 8)),
            _EIGHTHS,
            weight=0.05,
            caution=_HOT,
        ),
        Attachment(
            "gel-cool",
            "Cooling gel",
            "gel",
            shaping.gel(lambda s: mired_gain(-137 * s["eighths"] / 8) * 0.34 ** (s["eighths"] / 8)),
            _EIGHTHS,
            weight=0.05,
            caution=_HOT,
        ),
        Attachment(
            "gel-plus-green",
            "Plus-green gel",
            "gel",
            shaping.gel(
                lambda s: unit_gain(5600, s["eighths"] / 8, 5600, 0) * 0.76 ** (s["eighths"] / 8)
            ),
            _EIGHTHS,
            weight=0.05,
            caution=_HOT,
        ),
        Attachment(
            "gel-minus-green",
            "Minus-green gel",
            "gel",
            shaping.gel(
                lambda s: unit_gain(5600, -s["eighths"] / 8, 5600, 0) * 0.66 ** (s["eighths"] / 8)
            ),
            _EIGHTHS,
            weight=0.05,
            caution=_HOT,
        ),
        Attachment(
            "gel-nd",
            "Neutral density gel",
            "gel",
            shaping.gel(lambda s: np.full(3, 2.0 ** -s["stops"])),
            (Setting("stops", "Loss", 0.5, 4, 1, "stops"),),
            weight=0.05,
            caution=_HOT,
        ),
        _named("amber", (1.0, 0.55, 0.08), 0.45),
        _named("red", (1.0, 0.05, 0.03), 0.12),
        _named("sodium", (1.0, 0.42, 0.02), 0.36),
        _named("teal", (0.05, 0.85, 0.75), 0.28),
        _named("blue", (0.06, 0.22, 1.0), 0.10),
        _named("lavender", (0.75, 0.60, 1.0), 0.45),
    )
}
"""Attachments by key."""
