"""Kinds of furniture that hold a light, a shade or a mirror."""

import math
from dataclasses import replace

from ..document import Surface
from .parts import BLACK, DARK_WOOD, PAPER, STEEL, Flat, Lamp, Part, Piece, box

SIDES = 16
"""Flats around a lamp that a round shade is made of: 2 % off a circle's area."""
CLOTH = Surface(reflectance=0.5, colour=(1.0, 0.9, 0.72))
TIN = Surface(reflectance=0.6, colour=(1.0, 0.97, 0.9))
BULB = "bulb"
FORWARD = (0.0, 1.0, 0.0)
DOWN = (0.0, 0.02, -0.9998)
"""A trifle to the front, so that a tube lies along its piece however that is turned."""


def drum(w, d, low, high):
    """A shade open above and below, around the upright, as wide and deep as that [m]."""
    corners = [
        (w / 2 * math.cos(a), d / 2 * math.sin(a))
        for a in (2 * math.pi * (k - 0.5) / SIDES for k in range(SIDES + 1))
    ]
    flats = []
    for k in range(SIDES):
        (ax, ay), (bx, by) = corners[k], corners[k + 1]
        width = math.hypot(bx - ax, by - ay)
        flats.append(
            Flat(
                ((ax + bx) / 2, (ay + by) / 2, (low + high) / 2),
                ((by - ay) / width, (ax - bx) / width, 0.0),
                (width, high - low),
                "shade",
                math.hypot(ax + bx, ay + by) / 2,
            )
        )
    return flats


def _standing(shade, foot):
    """Foot, stem and bulb holder of a lamp whose shade is so high a part of it."""

    def build(w, d, h):
        middle = (1 - shade / 2) * h
        plate = min(0.03, 0.1 * h)
        return [
            Part("cylinder", (0, 0, 0), (foot * w, foot * d, plate)),
            Part("cylinder", (0, 0, plate), (0.05 * w, 0.05 * d, max(middle - 0.05 - plate, 0.01))),
        ]

    return build


def _hanging(shade):
    """The cord of a lamp that hangs from the top of its height."""

    def build(w, d, h):
        low = shade / 2 * h + 0.05
        return [Part("cylinder", (0, 0, low), (0.012, 0.012, max(h - low, 0.01)))]

    return build


def _work_lamp(w, d, h):
    """A lamp on an arm, its tin shade shut above."""
    plate, lid = min(0.03, 0.1 * h), 0.012
    back, thin = -0.42 * d, min(0.03, w / 4, d / 8, h / 8)
    return [
        Part("cylinder", (0, -0.3 * d, 0), (0.6 * w, 0.4 * d, plate)),
        box(0, back, plate, thin, thin, h - plate - thin),
        box(0, (back + 0.2 * d) / 2, h - thin, thin, 0.2 * d - back, thin),
        Part("cylinder", (0, 0.2 * d, h - thin - lid), (w, 0.6 * d, lid), second=True),
    ]


def _work_shade(w, d, h):
    top = h - min(0.03, w / 4, d / 8, h / 8) - 0.012
    return [
        replace(f, centre=(f.centre[0], f.centre[1] + 0.2 * d, f.centre[2]))
        for f in drum(w, 0.6 * d, 0.6 * h, top)
    ]


def _batten(w, d, h):
    """What holds a tube, which hangs under it."""
    return [box(0, 0, 0, w, d, h)]


def _can(w, d, h):
    return [Part("cylinder", (0, 0, 0), (w, d, h))]


def _mirror(w, d, h):
    edge = min(0.03, w / 8, h / 8)
    return [
        box(0, -0.15 * d, 0, w, 0.7 * d, h),
        box(0, 0.35 * d, 0, w, 0.3 * d, edge),
        box(0, 0.35 * d, h - edge, w, 0.3 * d, edge),
        *(box(i * (w - edge) / 2, 0.35 * d, edge, edge, 0.3 * d, h - 2 * edge) for i in (-1, 1)),
    ]


def _mirror_glass(w, d, h):
    edge = min(0.03, w / 8, h / 8)
    front = 0.2 * d + 0.002
    return [Flat((0, front, h / 2), FORWARD, (w - 2 * edge, h - 2 * edge), "mirror")]


def _panel(w, d, h):
    return [box(0, -0.1 * d, 0, w, 0.8 * d, h)]


def _on_foot(w, d, h):
    foot, plate = 0.22 * h, 0.04 * h
    return [
        box(0, 0, 0, 0.4 * w, d, plate),
        box(0, -0.1 * d, plate, 0.06 * w, 0.15 * d, foot),
        box(0, 0, foot, w, 0.2 * d, h - foot),
    ]


GROUP = "lamps, mirrors, screens"
LIT = (
    Piece(
        "table-lamp",
        "Table lamp",
        GROUP,
        (0.36, 0.36, 0.55),
        _standing(0.45, 0.42),
        surface=DARK_WOOD,
        second=CLOTH,
        base=0.75,
        round=True,
        flats=lambda w, d, h: drum(w, d, 0.55 * h, h),
        through=0.3,
        lamp=Lamp(BULB, (0.0, 0.0, 0.775), (0.0, 0.0, 1.0)),
    ),
    Piece(
        "floor-lamp",
        "Floor lamp",
        GROUP,
        (0.45, 0.45, 1.6),
        _standing(0.2, 0.62),
        surface=STEEL,
        second=CLOTH,
        round=True,
        flats=lambda w, d, h: drum(w, d, 0.8 * h, h),
        through=0.3,
        lamp=Lamp(BULB, (0.0, 0.0, 0.9), (0.0, 0.0, 1.0)),
    ),
    Piece(
        "pendant",
        "Pendant lamp",
        GROUP,
        (0.42, 0.42, 0.9),
        _hanging(0.3),
        surface=BLACK,
        second=CLOTH,
        base=1.75,
        round=True,
        high=True,
        flats=lambda w, d, h: drum(w, d, 0.0, 0.3 * h),
        through=0.3,
        lamp=Lamp(BULB, (0.0, 0.0, 0.15), (0.0, 0.0, -1.0)),
    ),
    Piece(
        "work-lamp",
        "Desk lamp, tin shade",
        GROUP,
        (0.22, 0.38, 0.45),
        _work_lamp,
        surface=STEEL,
        second=TIN,
        base=0.75,
        flats=_work_shade,
        lamp=Lamp(BULB, (0.0, 0.2, 0.72), (0.0, 0.0, -1.0)),
    ),
    Piece(
        "ceiling-tube",
        "Ceiling tube",
        GROUP,
        (1.25, 0.09, 0.07),
        _batten,
        surface=PAPER,
        ceiling=True,
        lamp=Lamp("house-tube", (0.0, 0.0, -0.35), DOWN, "ceiling"),
    ),
    Piece(
        "downlight",
        "Downlight",
        GROUP,
        (0.12, 0.12, 0.06),
        _can,
        surface=PAPER,
        round=True,
        ceiling=True,
        lamp=Lamp("house-downlight", (0.0, 0.0, -0.05), DOWN, "ceiling"),
    ),
    Piece(
        "strip-light",
        "Strip, under a cupboard",
        GROUP,
        (0.6, 0.05, 0.03),
        _batten,
        surface=PAPER,
        base=1.42,
        wall=True,
        lamp=Lamp("house-strip", (0.0, 0.0, -0.4), DOWN, "cupboards"),
    ),
    Piece(
        "wall-mirror",
        "Wall mirror",
        GROUP,
        (0.7, 0.03, 1.0),
        _mirror,
        surface=DARK_WOOD,
        base=1.0,
        wall=True,
        flats=_mirror_glass,
    ),
    Piece(
        "screen",
        "Wall screen, lit",
        GROUP,
        (1.26, 0.06, 0.73),
        _panel,
        surface=BLACK,
        base=1.0,
        wall=True,
        lamp=Lamp("screen-55", (0.0, 0.4, 0.5), FORWARD),
    ),
    Piece(
        "lit-monitor",
        "Monitor, lit",
        GROUP,
        (0.6, 0.2, 0.48),
        _on_foot,
        surface=BLACK,
        base=0.75,
        lamp=Lamp("screen-24", (0.0, 0.15, 0.61), FORWARD),
    ),
)
