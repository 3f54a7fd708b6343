"""How what is hung on a head changes its light: each function takes a lamp and settings, and gives
another lamp, with its loss.

All figures are typical of their kind. Flux is what a part is given; what does not leave is lost in
black paint, lining or glass. Angles are full angles unless they say otherwise.
"""

from dataclasses import dataclass, field, replace

import numpy as np

from ..colour import LUMINANCE
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


def reflector(lamp, s):
    beam = s["spread"]
    return replace(
        lamp,
        distribution=_with_flux(from_angles(1, beam, beam * 1.6), 0.85 * lamp.distribution.lumens),
        shape="disc",
        size=(0.18, 0.18),
    )


def fresnel(lamp, s):
    beam = 12 + 38 * s["travel"]
    kept = 0.25 + 0.35 * s["travel"]
    return replace(
        lamp,
        distribution=_with_flux(from_angles(1, beam, beam * 1.7), kept * lamp.distribution.lumens),
        shape="disc",
        size=(0.17, 0.17),
    )


def travel(lamp, s):
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


def projection(lamp, s):
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


CLOTHS = ("none", "inner", "front", "inner and front")
"""Cloths in a softbox, by number."""
BOX_KEEPS = (0.74, 0.56, 0.50, 0.36)
"""Part of the lamp's flux that leaves a softbox by its cloths, lining and cloths counted."""
BOX_SPREAD = ((88, 138), (98, 146), (104, 150), (104, 150))
"""Beam and field it leaves in [deg]."""
INNER = 0.7
"""An inner cloth is so large beside the front, and hangs half way to it."""
INNER_PASSES = 0.45
"""Part of what falls on the inner cloth that goes on to the front without meeting the lining, as
far as the front is seen from it."""
_CELLS, _FINE = 9, 3
"""Cells of a front each way, and places that each is worked out at."""


def _grid(width, height):
    count = _CELLS * _FINE
    steps = (np.arange(count) + 0.5) / count - 0.5
    return np.meshgrid(steps * width, steps * height, indexing="ij")


def _straight(place, away):
    """Density over a plane square to a small flat lamp's axis [1/m^2], of its flux: Lambert's lamp,
    the cosine on the plane, the inverse square.
    """
    x, y = place
    return away**2 / (np.pi * (x**2 + y**2 + away**2) ** 2)


def _by_inner(front, inner, lit, depth):
    """Density over the front that an inner cloth lit so brings: Lambert's law from each place."""
    off = tuple(
        there.reshape(-1, 1) - here.reshape(1, -1) for there, here in zip(front, inner, strict=True)
    )
    return (_straight(off, depth / 2) @ lit.ravel()).reshape(front[0].shape)


def _box_face(width, height, depth, cloths):
    """Brightness over a softbox's front, mean 1: what comes straight to it from the lamp or from
    the inner cloth, and what the white lining evens out.
    """
    front, inner = _grid(width, height), _grid(INNER * width, INNER * height)
    place = width * height / (_CELLS * _FINE) ** 2
    if cloths in (1, 3):
        lit = _straight(inner, depth / 2) * place * INNER**2
    if cloths == 0:
        # The lamp itself stands in the open box: its straight light comes from the middle alone.
        straight = np.zeros_like(front[0])
        straight[len(straight) // 2, len(straight) // 2] = min(
            float(_straight(front, depth).sum()) * place, 1.0
        )
    elif cloths == 1:
        # Seen through the open front: the inner cloth, with the lining round it.
        inside = (np.abs(front[0]) < INNER * width / 2) & (np.abs(front[1]) < INNER * height / 2)
        straight = np.where(inside, _straight(front, depth / 2), 0)
        straight *= min(float(lit.sum()), 1.0) / float(straight.sum())
    elif cloths == 2:
        straight = _straight(front, depth) * place
    else:
        straight = INNER_PASSES * _by_inner(front, inner, lit, depth) * place
    shares = straight.reshape(_CELLS, _FINE, _CELLS, _FINE).sum((1, 3))
    face = shares * _CELLS**2 + max(1 - float(shares.sum()), 0.0)
    return face / face.mean()


def softbox(lamp, s, shape="rectangle"):
    width, cloths = s["width"], round(s["cloths"])
    height, depth = s.get("height", width), s.get("depth", DOME_DEPTH * width)
    return replace(
        lamp,
        distribution=_with_flux(
            from_angles(1, *BOX_SPREAD[cloths]), BOX_KEEPS[cloths] * lamp.distribution.lumens
        ),
        shape=shape,
        size=(width, height),
        face=_box_face(width, height, depth, cloths),
    )


DOME_DEPTH = 0.65
"""A deep dome is so deep, of its width."""


def octagon(lamp, s):
    return softbox(lamp, s, "disc")


def lantern(lamp, s):
    ball = from_function(lambda c, g: np.clip((168 - g) / 24, 0, 1), reach=180)
    bare = _with_flux(ball, 0.68 * lamp.distribution.lumens)
    shown = from_function(
        lambda c, g: bare.intensity(g, c) * _under_skirt(g, s["skirt"]), reach=180
    )
    return replace(
        lamp,
        distribution=shown,
        shape="bulb",
        size=(s["diameter"],) * 2,
        face=None,
    )


def _under_skirt(angle, drop):
    """Part of a ball's disc that is seen below a black skirt round it, from an angle off its axis
    [deg]: its rim hides all of the disc beyond a chord.

    `drop` is how far the rim comes down: 0 no skirt, 0.5 to the middle, 1 to the foot of the ball.
    """
    if drop <= 0:
        return np.ones_like(np.asarray(angle, float))
    g = np.radians(angle)
    chord = np.clip((2 * drop - 1) * np.sin(g) - np.cos(g), -1, 1)
    return (np.arccos(chord) - chord * np.sqrt(1 - chord**2)) / np.pi


def parallel(lamp, s):
    """A lens far before a small lamp: each place of it sends the lamp's image, a flat beam whose
    angle is the lamp's size over the focal length.
    """
    half = np.tan(np.radians(s["angle"] / 2))
    focal = CHIP / 2 / half
    caught = np.sin(np.arctan(s["front"] / 2 / focal)) ** 2
    reach = s["angle"] * 0.75 + 0.5

    def candela(c, g):
        return _ramp(1 - np.tan(np.radians(g)) / half, 0.2)

    beam = from_function(candela, reach=reach, step=reach / 120)
    return replace(
        lamp,
        distribution=_with_flux(beam, 0.88 * caught * lamp.distribution.lumens),
        shape="disc",
        size=(s["front"],) * 2,
        face=None,
    )


CHIP = 0.028
"""Across the lit chips of a point head [m]; typical."""


def dome(lamp, s):
    wide = from_angles(1, 150, 236)
    return replace(
        lamp,
        distribution=_with_flux(wide, 0.66 * lamp.distribution.lumens),
        shape="disc",
        size=(s["diameter"],) * 2,
        face=None,
    )


def shade(lamp, s):
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


def crate(lamp, s):
    """Square cells with black walls: the open part seen along a direction, exact for thin walls."""
    slope = 1 / np.tan(np.radians(s["cutoff"]))
    return _shaped(
        lamp,
        lambda x, y: (
            0.92 * np.clip(1 - np.abs(x) * slope, 0, 1) * np.clip(1 - np.abs(y) * slope, 0, 1)
        ),
    )


def honeycomb(lamp, s):
    """Round black cells: the overlap of two discs, one shifted by the slope of the light."""
    slope = 1 / np.tan(np.radians(s["cutoff"]))

    def factor(x, y):
        q = np.clip(np.hypot(x, y) * slope, 0, 1)
        return 0.85 * 2 / np.pi * (np.arccos(q) - q * np.sqrt(1 - q * q))

    return _shaped(lamp, factor)


def doors(lamp, s):
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


def snoot(lamp, s):
    edge = np.tan(np.radians(s["angle"] / 2))
    return _shaped(lamp, lambda x, y: _ramp(edge - np.hypot(x, y), max(lamp.size) / 0.35))


def scrim(lamp, s):
    return replace(lamp, distribution=lamp.distribution.scaled(2.0 ** -s["stops"]))


def half_scrim(lamp, s):
    part = 2.0 ** -s["stops"]
    return _shaped(lamp, lambda x, y: part + (1 - part) * _ramp(y, 0.25))


def clip_on(key):
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


def gel(rgb_of):
    return lambda lamp, s: replace(lamp, gel=lamp.gel * rgb_of(s))


def tinted(rgb, transmission):
    rgb = np.asarray(rgb, float)
    return rgb / (LUMINANCE @ rgb) * transmission
