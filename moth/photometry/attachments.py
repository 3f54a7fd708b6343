"""What is hung on a head: each attachment takes a lamp and gives another, with its loss.

All figures are typical of their kind. Flux is what a part is given; what does not leave is lost in
black paint, lining or glass. Angles are full angles unless they say otherwise.
"""

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from ..colour import LUMINANCE, mired_gain, unit_gain
from ..materials import MATERIALS
from .distribution import Distribution, from_angles, from_function


@dataclass(frozen=True)
class Lamp:
    """A lit face and its distribution at full and white, on the way through the attachments."""

    distribution: Distribution
    shape: str
    """"point", "disc", "rectangle" or "bulb"."""
    size: tuple
    """Width and height of the lit face [m]."""
    face: np.ndarray | None = None
    """(k, k) brightness over the face, mean 1; None for even."""
    gel: np.ndarray = field(default_factory=lambda: np.ones(3))
    """Linear BT.709 factors: colours cause no render."""


@dataclass(frozen=True)
class Setting:
    """One number of an attachment."""

    key: str
    name: str
    low: float
    high: float
    default: float
    unit: str = ""


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


def _with_flux(distribution, lumens):
    return distribution.scaled(lumens / max(distribution.lumens, 1e-12))


def _shaped(lamp, factor, step=1.0, turns=73):
    """The lamp with its intensity multiplied by factor(x, y), x and y the tangents off the axis."""
    reach = lamp.distribution.vertical[-1]

    def candela(c, g):
        c, g = np.broadcast_arrays(c, g)
        t = np.tan(np.radians(np.minimum(g, 89.9)))
        front = g < 90
        return lamp.distribution.intensity(g, c) * np.where(
            front, factor(t * np.cos(np.radians(c)), t * np.sin(np.radians(c))), 0
        )

    fine = min(step, lamp.distribution.vertical[1] * 2)
    return replace(
        lamp,
        distribution=from_function(
            candela, reach=min(reach, 90.0), step=max(fine, 0.05), symmetric=False, turns=turns
        ),
    )


def _ramp(x, soft):
    """0 below -soft/2, 1 above soft/2, smooth between."""
    t = np.clip(x / max(soft, 1e-6) + 0.5, 0, 1)
    return t * t * (3 - 2 * t)


def _reflector(lamp, s):
    beam = s["spread"]
    return replace(
        lamp,
        distribution=_with_flux(from_angles(1, beam, beam * 1.6), 0.85 * lamp.distribution.lumens),
        shape="disc",
        size=(0.18, 0.18),
    )


def _fresnel(lamp, s):
    beam = 12 + 38 * s["travel"]
    kept = 0.25 + 0.35 * s["travel"]
    return replace(
        lamp,
        distribution=_with_flux(from_angles(1, beam, beam * 1.7), kept * lamp.distribution.lumens),
        shape="disc",
        size=(0.17, 0.17),
    )


def _travel(lamp, s):
    """Spot to flood of a fresnel that comes with its lens: the middle of the travel is the head as
    listed.
    """
    middle = lamp.distribution.beam_angle
    beam = middle * (0.45 + 1.1 * s["travel"])
    kept = 0.62 + 0.76 * s["travel"]
    return replace(
        lamp,
        distribution=_with_flux(from_angles(1, beam, beam * 1.7), kept * lamp.distribution.lumens),
    )


PATTERNS = ("open", "slats", "branches", "window")
"""Gobo patterns of a projection lens, by number."""


def _pattern(which, x, y):
    """Part let through at a place of the gate, x and y in -1..1."""
    if which == 1:
        return _ramp(np.sin(y * 9 * np.pi) + 0.1, 0.3)
    if which == 2:
        wave = (
            np.sin(7.1 * x + 3.3 * np.sin(4.7 * y))
            + np.sin(8.3 * y + 2.9 * np.sin(5.9 * x + 1))
            + 0.7 * np.sin(17 * x - 13 * y)
        )
        return _ramp(wave, 0.5)
    if which == 3:
        bars = (
            (np.abs(x) > 0.07) & (np.abs(y - 0.1) > 0.05) & (np.abs(x) < 0.72) & (np.abs(y) < 0.85)
        )
        return bars.astype(float)
    return np.ones_like(x)


def _projection(lamp, s):
    half = np.tan(np.radians(s["angle"] / 2))
    soft = 0.03 + 0.5 * s["edge"]
    solid = np.pi * np.radians(s["angle"] / 2) ** 2

    def candela(c, g):
        c, g = np.broadcast_arrays(c, g)
        t = np.tan(np.radians(np.minimum(g, 80))) / half
        x, y = t * np.cos(np.radians(c)), t * np.sin(np.radians(c))
        open_ = _ramp(1 - t, soft) * _pattern(round(s["pattern"]), x, y)
        for cut, along in (
            (s["cut_left"], -x),
            (s["cut_right"], x),
            (s["cut_top"], y),
            (s["cut_bottom"], -y),
        ):
            if cut > 0:
                open_ = open_ * _ramp((1 - 1.9 * cut) - along, soft)
        return open_ * (g < 80)

    plain = not any(s[k] for k in ("pattern", "cut_left", "cut_right", "cut_top", "cut_bottom"))
    reach = min(s["angle"] * (0.5 + 0.6 * soft) + 1, 89.0)
    shape = from_function(candela, reach=reach, step=reach / 240, symmetric=plain, turns=361)
    # A shutter or a pattern takes light away, it does not press it into what is left.
    peak = 0.55 * lamp.distribution.lumens / solid
    return replace(lamp, distribution=shape.scaled(peak), shape="disc", size=(0.06, 0.06))


def _box_face(width, height, depth, baffles):
    """Brightness over a softbox's cloth: what falls straight on it from the lamp, and what the
    lining evens out.
    """
    k = 9
    x, y = np.meshgrid(
        (np.arange(k) + 0.5) / k * width - width / 2,
        (np.arange(k) + 0.5) / k * height - height / 2,
        indexing="ij",
    )
    hot = (depth**2 / (x**2 + y**2 + depth**2)) ** 2  # cosine lamp, cosine cloth, inverse square
    caught = float(hot.mean()) * width * height / (np.pi * depth**2)
    # Each baffle keeps a third of the straight light straight; the box's white lining spreads the
    # rest evenly.
    straight = min(caught, 1.0) * 0.33 ** (baffles - 1)
    even = 1 - straight
    return straight * hot / hot.mean() + even


def _softbox(lamp, s, shape="rectangle"):
    width, height = s["width"], s.get("height", s["width"])
    flux = lamp.distribution.lumens * (0.50 if s["baffles"] < 1.5 else 0.36)
    face = _box_face(width, height, s["depth"], round(s["baffles"]))
    return replace(
        lamp,
        distribution=_with_flux(from_angles(1, 104, 150), flux),
        shape=shape,
        size=(width, height),
        face=face,
    )


def _octagon(lamp, s):
    return _softbox(lamp, s, "disc")


def _lantern(lamp, s):
    even = from_function(lambda c, g: np.clip((168 - g) / 24, 0, 1), reach=180)
    return replace(
        lamp,
        distribution=_with_flux(even, 0.68 * lamp.distribution.lumens),
        shape="bulb",
        size=(s["diameter"],) * 2,
        face=None,
    )


def _dome(lamp, s):
    wide = from_angles(1, 150, 236)
    return replace(
        lamp,
        distribution=_with_flux(wide, 0.66 * lamp.distribution.lumens),
        shape="disc",
        size=(s["diameter"],) * 2,
        face=None,
    )


def _shade(lamp, s):
    """A shade open above and below: sideways its cloth lets a third through."""
    open_ = np.radians(s["opening"] / 2)

    def candela(c, g):
        off = np.minimum(np.radians(g), np.pi - np.radians(g))
        return lamp.distribution.intensity(g, c) * (0.3 + 0.7 * _ramp(open_ - off, 0.15))

    return replace(
        lamp,
        distribution=from_function(candela, reach=180.0, symmetric=True),
        size=(max(lamp.size[0], 0.22),) * 2,
    )


def _crate(lamp, s):
    """Square cells with black walls: the open part seen along a direction, exact for thin walls."""
    slope = 1 / np.tan(np.radians(s["cutoff"]))
    return _shaped(
        lamp,
        lambda x, y: (
            0.92 * np.clip(1 - np.abs(x) * slope, 0, 1) * np.clip(1 - np.abs(y) * slope, 0, 1)
        ),
    )


def _honeycomb(lamp, s):
    """Round black cells: the overlap of two discs, one shifted by the slope of the light."""
    slope = 1 / np.tan(np.radians(s["cutoff"]))

    def factor(x, y):
        q = np.clip(np.hypot(x, y) * slope, 0, 1)
        return 0.85 * 2 / np.pi * (np.arccos(q) - q * np.sqrt(1 - q * q))

    return _shaped(lamp, factor)


def _doors(lamp, s):
    # The edge of a door is seen from across the whole face: that is its penumbra.
    soft = max(lamp.size) / 0.18 * 0.5
    sides = ((s["left"], -1, 0), (s["right"], 1, 0), (s["top"], 0, 1), (s["bottom"], 0, -1))

    def factor(x, y):
        out = np.ones_like(x)
        for angle, a, b in sides:
            if angle < 89:
                out = out * _ramp(np.tan(np.radians(angle)) - (a * x + b * y), soft)
        return out

    return _shaped(lamp, factor)


def _snoot(lamp, s):
    edge = np.tan(np.radians(s["angle"] / 2))
    return _shaped(lamp, lambda x, y: _ramp(edge - np.hypot(x, y), max(lamp.size) / 0.35))


def _scrim(lamp, s):
    return replace(lamp, distribution=lamp.distribution.scaled(2.0 ** -s["stops"]))


def _half_scrim(lamp, s):
    part = 2.0 ** -s["stops"]
    return _shaped(lamp, lambda x, y: part + (1 - part) * _ramp(y, 0.25))


def _clip_on(key):
    cloth = MATERIALS[key]

    def change(lamp, s):
        d = lamp.distribution
        flux = d.lumens
        wide = from_angles(
            1,
            min(np.hypot(d.beam_angle, cloth.forward_width), 150),
            min(np.hypot(d.field_angle, 1.9 * cloth.forward_width), 200),
        )
        lambert = from_function(lambda c, g: np.cos(np.radians(np.minimum(g, 90))))
        parts = [(d, cloth.straight)] if cloth.straight else []
        parts += [
            (_with_flux(wide, flux), cloth.forward),
            (_with_flux(lambert, flux), cloth.through),
        ]

        def candela(c, g):
            return sum(share * each.intensity(g, c) for each, share in parts)

        symmetric = len(d.horizontal) == 1
        side = max(lamp.size) + 0.10
        return replace(
            lamp,
            distribution=from_function(
                candela, reach=max(90.0, d.vertical[-1]), symmetric=symmetric
            ),
            shape="rectangle",
            size=(side, side),
            face=None,
        )

    return change


def _gel(rgb_of):
    return lambda lamp, s: replace(lamp, gel=lamp.gel * rgb_of(s))


def _even(rgb, transmission):
    rgb = np.asarray(rgb, float)
    return rgb / (LUMINANCE @ rgb) * transmission


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
_BOX = (Setting("depth", "Depth", 0.15, 1.0, 0.35, "m"), Setting("baffles", "Cloths", 1, 2, 2))
_POINT = ("point",)
_WIDTH, _HEIGHT = (
    Setting(k, k.capitalize(), 0.3, 2.0, d, "m") for k, d in (("width", 0.9), ("height", 0.6))
)


def _named(name, rgb, transmission):
    return Attachment(
        "gel-" + name,
        name.capitalize() + " gel",
        "gel",
        _gel(lambda s: _even(rgb, transmission)),
        caution=_HOT,
        weight=0.05,
    )


def _lens(angle):
    return Attachment(
        f"lens-{angle}",
        f"Projection lens, {angle}°",
        "optic",
        _projection,
        (
            Setting("angle", "Beam", 5, 60, angle, "°"),
            Setting("edge", "Edge, sharp to soft", 0, 1, 0.1),
            Setting("pattern", "Pattern", 0, len(PATTERNS) - 1, 0),
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
            _reflector,
            (Setting("spread", "Beam", 15, 90, 48, "°"),),
            _POINT,
        ),
        Attachment(
            "fresnel",
            "Fresnel lens",
            "optic",
            _fresnel,
            (Setting("travel", "Spot to flood", 0, 1, 0.5),),
            _POINT,
            1.6,
            1,
        ),
        Attachment(
            "travel",
            "Spot–flood travel",
            "optic",
            _travel,
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
            _softbox,
            (_WIDTH, _HEIGHT, *_BOX),
            _POINT,
            1.8,
            1,
            caution=_STAND,
        ),
        Attachment(
            "octagon",
            "Softbox, octagon",
            "soft",
            _octagon,
            (Setting("width", "Across", 0.4, 2.0, 1.2, "m"), *_BOX),
            _POINT,
            2.4,
            1,
            caution=_STAND,
        ),
        Attachment(
            "strip",
            "Softbox, strip",
            "soft",
            _softbox,
            (
                replace(_WIDTH, low=0.2, high=0.6, default=0.3),
                replace(_HEIGHT, low=0.6, default=1.2),
                *_BOX,
            ),
            _POINT,
            1.6,
            1,
            caution=_STAND,
        ),
        Attachment(
            "lantern",
            "Lantern",
            "soft",
            _lantern,
            (Setting("diameter", "Across", 0.3, 1.2, 0.65, "m"),),
            _POINT,
            0.9,
        ),
        Attachment(
            "dome",
            "Dome",
            "soft",
            _dome,
            (Setting("diameter", "Across", 0.15, 1.0, 0.6, "m"),),
            _POINT,
            1.1,
        ),
        Attachment(
            "shade",
            "Lamp shade",
            "soft",
            _shade,
            (Setting("opening", "Opening above and below", 40, 150, 90, "°"),),
            ("bulb",),
            0.3,
        ),
        Attachment(
            "crate",
            "Egg crate",
            "control",
            _crate,
            (Setting("cutoff", "Cut-off, half angle", 15, 70, 40, "°"),),
            ("point", "panel"),
            0.5,
        ),
        Attachment(
            "honeycomb",
            "Honeycomb",
            "control",
            _honeycomb,
            (Setting("cutoff", "Cut-off, half angle", 8, 60, 25, "°"),),
            ("point", "fresnel", "panel"),
            0.4,
        ),
        Attachment(
            "doors", "Barn doors", "control", _doors, _DOORS, ("point", "fresnel", "panel"), 0.6
        ),
        Attachment(
            "snoot",
            "Snoot",
            "control",
            _snoot,
            (Setting("angle", "Cone", 8, 60, 25, "°"),),
            ("point", "fresnel"),
            0.4,
        ),
        Attachment(
            "wrap",
            "Black wrap, hand-shaped",
            "control",
            _snoot,
            (Setting("angle", "Cone", 20, 120, 60, "°"),),
            ("point", "fresnel"),
            0.1,
            caution=_HOT,
        ),
        Attachment(
            "scrim-single",
            "Scrim, single",
            "control",
            _scrim,
            (Setting("stops", "Loss", 0.3, 0.7, 0.5, "stops"),),
            ("point", "fresnel"),
            0.2,
        ),
        Attachment(
            "scrim-double",
            "Scrim, double",
            "control",
            _scrim,
            (Setting("stops", "Loss", 0.8, 1.2, 1.0, "stops"),),
            ("point", "fresnel"),
            0.2,
        ),
        Attachment(
            "scrim-half",
            "Scrim, half, below",
            "control",
            _half_scrim,
            (Setting("stops", "Loss", 0.3, 1.2, 1.0, "stops"),),
            ("point", "fresnel"),
            0.2,
        ),
        Attachment(
            "clip-frost",
            "Clip-on light frost",
            "soft",
            _clip_on("frost-light"),
            (),
            ("point", "fresnel", "panel"),
            0.1,
            caution=_HOT,
        ),
        Attachment(
            "clip-opal",
            "Clip-on opal",
            "soft",
            _clip_on("opal"),
            (),
            ("point", "fresnel", "panel"),
            0.1,
            caution=_HOT,
        ),
        Attachment(
            "clip-grid",
            "Clip-on half grid",
            "soft",
            _clip_on("grid-half"),
            (),
            ("point", "fresnel", "panel"),
            0.1,
            caution=_HOT,
        ),
        Attachment(
            "gel-warm",
            "Warming gel",
            "gel",
            _gel(lambda s: mired_gain(159 * s["eighths"] / 8) * 0.58 ** (s["eighths"] / 8)),
            _EIGHTHS,
            weight=0.05,
            caution=_HOT,
        ),
        Attachment(
            "gel-cool",
            "Cooling gel",
            "gel",
            _gel(lambda s: mired_gain(-137 * s["eighths"] / 8) * 0.34 ** (s["eighths"] / 8)),
            _EIGHTHS,
            weight=0.05,
            caution=_HOT,
        ),
        Attachment(
            "gel-plus-green",
            "Plus-green gel",
            "gel",
            _gel(lambda s: unit_gain(5600, s["eighths"] / 8, 5600, 0) * 0.76 ** (s["eighths"] / 8)),
            _EIGHTHS,
            weight=0.05,
            caution=_HOT,
        ),
        Attachment(
            "gel-minus-green",
            "Minus-green gel",
            "gel",
            _gel(
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
            _gel(lambda s: np.full(3, 2.0 ** -s["stops"])),
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
