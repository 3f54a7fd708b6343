"""The kinds of furniture to any size: each is parts, and a part is a box, a cylinder or a ball."""

import math
import operator

from ..document import Surface
from .land import LAND
from .lit import LIT
from .parts import (
    BLACK,
    BOARD,
    CLAY,
    CUSHION,
    DARK_WOOD,
    GREEN,
    GREY_CLOTH,
    LEG,
    PAPER,
    STEEL,
    STONE,
    WHITE,
    WOOD,
    Part,
    Piece,
    box,
    many,
    shifted,
)

_TURN = math.pi * (3 - math.sqrt(5))
"""Angle by which leaves follow each other on a stem [rad]."""


def _legs(w, d, height, thick=LEG):
    thick = min(thick, w / 3, d / 3)
    x, y = (w - thick) / 2, (d - thick) / 2
    return [box(i * x, j * y, 0, thick, thick, height) for i in (-1, 1) for j in (-1, 1)]


def _table(w, d, h):
    top = min(BOARD, h / 2)
    return [*_legs(w, d, h - top), box(0, 0, h - top, w, d, top)]


def _round_table(w, d, h):
    top, foot = min(BOARD, h / 4), min(0.03, h / 4)
    return [
        Part("cylinder", (0, 0, 0), (0.55 * w, 0.55 * d, foot)),
        Part("cylinder", (0, 0, foot), (0.12 * w, 0.12 * d, h - top - foot)),
        Part("cylinder", (0, 0, h - top), (w, d, top)),
    ]


def _desk(w, d, h):
    top, side, thin = min(BOARD, h / 4), min(0.42, w / 3), min(BOARD, w / 9)
    return [
        box((w - side) / 2, 0, 0, side, 0.92 * d, h - top),
        box(-(w - thin) / 2, 0, 0, thin, 0.92 * d, h - top),
        box(-side / 2, -0.42 * d, 0.3 * (h - top), w - side - thin, 0.03 * d, 0.7 * (h - top)),
        box(0, 0, h - top, w, d, top),
    ]


def _chair(w, d, h):
    seat, thick, leg = 0.5 * h, min(0.04, h / 8), min(LEG, w / 3, d / 3)
    back = box(0, -(d - 0.7 * leg) / 2, 0.68 * h, w - leg, 0.4 * leg, 0.3 * h)
    posts = [box(i * (w - leg) / 2, -(d - leg) / 2, seat, leg, leg, h - seat) for i in (-1, 1)]
    return [
        *_legs(w, d, seat - thick),
        box(0, 0, seat - thick, w, d, thick, second=True),
        *posts,
        back,
    ]


def _stool(w, d, h):
    thick = min(0.04, h / 3)
    return [
        *_legs(0.68 * w, 0.68 * d, h - thick, 0.035),
        Part("cylinder", (0, 0, h - thick), (w, d, thick), second=True),
    ]


def _bench(w, d, h):
    thick = min(0.05, h / 3)
    stands = [box(i * 0.38 * w, 0, 0, min(0.05, w / 6), 0.9 * d, h - thick) for i in (-1, 1)]
    return [*stands, box(0, 0, h - thick, w, d, thick)]


def _seat(w, d, h, places):
    arm, back = min(0.16, w / 6), min(0.2, d / 4)
    base, room = 0.32 * h, w - 2 * arm
    cushion = min(CUSHION, 0.2 * h)
    each = room / places
    parts = [
        box(0, 0, 0.08 * h, w, d, base - 0.08 * h),
        *_legs(0.92 * w, 0.92 * d, 0.08 * h),
        box(0, -(d - back) / 2, base, room, back, h - base),
    ]
    parts += [box(i * (w - arm) / 2, 0, base, arm, d, 0.32 * h) for i in (-1, 1)]
    for k in range(places):
        x = (k + 0.5 - places / 2) * each
        lean = min(0.12, d / 5)
        parts.append(box(x, back / 2, base, 0.98 * each, d - back, cushion, second=True))
        parts.append(
            box(
                x,
                -d / 2 + back + lean / 2,
                base + cushion,
                0.96 * each,
                lean,
                0.42 * h,
                second=True,
            )
        )
    return parts


def _armchair(w, d, h):
    return _seat(w, d, h, 1)


def _sofa(w, d, h):
    return _seat(w, d, h, many(w, 0.75, 2))


def _bed(w, d, h):
    """Its head at the back; `h` is that of the headboard."""
    low = 0.28 * h
    mattress = min(0.2, 0.25 * h)
    pillow = min(0.36, d / 4)
    count = 2 if w > 1.2 else 1
    return [
        box(0, 0, 0.1 * h, w, d, low - 0.1 * h),
        *_legs(0.94 * w, 0.94 * d, 0.1 * h, 0.06),
        box(0, -0.49 * d, low, w, 0.02 * d, h - low),
        box(0, 0.01 * d, low, 0.96 * w, 0.95 * d, mattress, second=True),
        *(
            box(
                (k + 0.5 - count / 2) * 0.46 * w,
                -0.45 * d + pillow / 2,
                low + mattress,
                min(0.65, 0.42 * w) if count == 2 else 0.7 * w,
                pillow,
                min(0.1, 0.14 * h),
                second=True,
            )
            for k in range(count)
        ),
    ]


def _shelf(w, d, h):
    """Boards with books on them, some more, some fewer."""
    side, thin = min(0.025, w / 10, h / 10), min(0.01, d / 10)
    floors = many(h, 0.36)
    gap = (h - side) / floors
    parts = [box(i * (w - side) / 2, 0, 0, side, d, h) for i in (-1, 1)]
    parts.append(box(0, -(d - thin) / 2, 0, w - 2 * side, thin, h))
    parts += [box(0, thin / 2, k * gap, w - 2 * side, d - thin, side) for k in range(floors + 1)]
    room = 0.98 * (w - 2 * side)
    for k in range(floors):
        full = room * (0.55 + 0.4 * ((0.618 * k) % 1.0))
        at = -room / 2 + full / 2 if k % 2 else room / 2 - full / 2
        tall = (gap - side) * (0.66 + 0.2 * ((0.37 * k + 0.2) % 1.0))
        parts += [
            shifted(spine, y=-0.06 * d, z=k * gap + side)
            for spine in _row(at, full, d, tall, (k, min(24, BOOKS // floors)))
        ]
    return parts


SPINE, BOOKS = 0.034, 120
"""Mean thickness of a book [m], and how many a shelf holds at most; they are thicker then."""


def _row(at, full, d, tall, which):
    """Books side by side about a place of a board, thick and thin, light and dark.

    which: number of the board, and how many books there are on it at most.
    """
    seed, most = which
    count = min(many(full, SPINE), most)
    spread = [((k + 7 * seed) * 0.618) % 1.0 for k in range(1, count + 1)]
    widths = [0.6 + 0.8 * s for s in spread]
    shades = [0.45 + 1.1 * ((5 * s) % 1.0) for s in spread]
    each, mean = full / sum(widths), sum(map(operator.mul, widths, shades)) / sum(widths)
    books, left = [], at - full / 2
    for s, wide, shade in zip(spread, widths, shades, strict=True):
        size = wide * each, (0.58 + 0.12 * s) * d, tall * (0.8 + 0.2 * ((3 * s) % 1.0))
        place = left + size[0] / 2, (size[1] - 0.7 * d) / 2, 0
        books.append(box(*place, *size, second=True, shade=shade / mean))
        left += size[0]
    return books


def _cupboard(w, d, h):
    """Two doors and a plinth."""
    foot = min(0.08, 0.1 * h)
    return [
        box(0, 0, 0, 0.94 * w, 0.9 * d, foot),
        *(shifted(part, z=foot) for part in _wall_cupboard(w, d, h - foot)),
    ]


def _wall_cupboard(w, d, h):
    doors, thin = many(w, 0.5), min(0.02, d / 8)
    each = w / doors
    return [
        box(0, -thin / 2, 0, w, d - thin, h),
        *(
            box(
                (k + 0.5 - doors / 2) * each,
                (d - thin) / 2,
                0.01 * h,
                each - min(0.008, each / 10),
                thin,
                0.98 * h,
                second=True,
            )
            for k in range(doors)
        ),
    ]


def _counter(w, d, h):
    """Cupboards under a worktop, and tiles above it at the back; `h` is that of the tiles."""
    top, tile, thick = 0.62 * h, min(0.02, d / 10), min(0.04, h / 12)
    under = _cupboard(w, 0.94 * d, top - thick)
    return [
        *(shifted(part, y=-0.03 * d, second=False) for part in under),
        box(0, 0, top - thick, w, d, thick, second=True),
        box(0, -(d - tile) / 2, top, w, tile, h - top, second=True),
    ]


def _door(w, d, h):
    """A leaf in its frame, shut."""
    post = min(0.07, w / 8, h / 8)
    return [
        *(box(i * (w - post) / 2, 0, 0, post, d, h) for i in (-1, 1)),
        box(0, 0, h - post, w - 2 * post, d, post),
        box(0, 0, 0.003 * h, w - 2 * post, 0.5 * d, 0.995 * h - post, second=True),
        Part("ball", (0.36 * w, 0.42 * d, 0.48 * h), (0.06 * w, 0.16 * d, 0.03 * h)),
    ]


LEAF, LINTEL = 2.03, 0.82
"""Usual height of a door's leaf [m], and the part of a lower wall that one takes at most."""


def _passage(w, d, h):
    """A piece of wall with a way through it."""
    post, high = min(0.1, w / 8), min(LEAF, LINTEL * h)
    return [
        *(box(i * (w - post) / 2, 0, 0, post, d, high) for i in (-1, 1)),
        box(0, 0, high, w, d, h - high),
    ]


def _doorway(w, d, h):
    """The same with a leaf, hung at its left hand as seen from its front, which opens to there."""
    post, high = min(0.1, w / 8), min(LEAF, LINTEL * h)
    wide, thick = w - 2 * post - 0.006, min(0.04, d / 2)
    hinge = (w / 2 - post - 0.003, d / 2)
    leaf = box(0, (d - thick) / 2, 0.005, wide, thick, high - 0.01, second=True, hinge=hinge)
    return [*_passage(w, d, h), leaf]


def _curtain(w, d, h):
    """Cloth in folds, hung from a pole."""
    folds, pole = many(w, 1.2 * d, 2), min(0.03, d, h / 6)
    # Folds overlap by a sixth, so that no light comes between two.
    wide = w / (folds - (folds - 1) / 6)
    at = [(k - (folds - 1) / 2) * wide * 5 / 6 for k in range(folds)]
    return [
        *(Part("cylinder", (x, 0, 0), (wide, d, h - pole)) for x in at),
        box(0, 0, h - pole, w, pole, pole, second=True),
    ]


def _slab(w, d, h):
    return [box(0, 0, 0, w, d, h)]


def _picture(w, d, h):
    rim = min(0.05, w / 6, h / 6)
    return [
        *(box(i * (w - rim) / 2, 0, 0, rim, d, h) for i in (-1, 1)),
        *(box(0, 0, z, w - 2 * rim, d, rim) for z in (0, h - rim)),
        *_painted(w - 2 * rim, d, h - 2 * rim, rim),
    ]


def _painted(w, d, h, foot):
    """Paper with a margin, and land under a sky on it."""
    edge, land = 0.11 * min(w, h), 0.36 * h
    sky = h - 2 * edge - land
    wide, thick = w - 2 * edge, 0.6 * d
    margin = (w * h - wide * (land + sky)) / (w * h)
    shades = {"paper": 1.5, "sky": 0.95, "land": 0.45}
    share = {"paper": margin, "sky": wide * sky / (w * h), "land": wide * land / (w * h)}
    mean = sum(shades[k] * share[k] for k in shades)
    paper, above, below = (shades[k] / mean for k in ("paper", "sky", "land"))
    return [
        box(0, -0.1 * d, foot, w, thick, h, second=True, shade=paper),
        box(0, -0.05 * d, foot + edge, wide, thick, land, second=True, shade=below),
        box(0, -0.05 * d, foot + edge + land, wide, thick, sky, second=True, shade=above),
    ]


def _plant(w, d, h):
    """A pot, a stem, and leaves that wind about it, wide in the middle of its height."""
    pot, leaves, least = 0.24 * h, 44, min(w, d)
    wide = min(0.5, 0.32 * h / max(w, d))
    parts = [
        Part("cylinder", (0, 0, 0), (wide * w, wide * d, pot)),
        Part("cylinder", (0, 0, pot), (0.05 * w, 0.05 * d, 0.7 * (h - pot)), second=True),
    ]
    for k in range(leaves):
        up, angle = (k + 0.5) / leaves, k * _TURN
        out = 0.38 * math.sin(math.pi * (0.15 + 0.8 * up)) * (0.55 + 0.45 * ((0.618 * k) % 1.0))
        size = (0.24 * least, 0.11 * least, 0.018 * (h - pot))
        parts.append(
            Part(
                "ball",
                (
                    out * w * math.cos(angle),
                    out * d * math.sin(angle),
                    pot + (0.06 + 0.92 * up) * (h - pot) - size[2] * up,
                ),
                size,
                math.degrees(angle),
                second=True,
            )
        )
    return parts


def _piano(w, d, h):
    """An upright one: keys in front at half its height."""
    deep, out, keys, leg = 0.62 * d, 0.38 * d, 0.55 * h, 0.04 * w
    return [
        box(0, -out / 2, 0, w, deep, h),
        box(0, deep / 2, keys - 0.12 * h, w, out, 0.1 * h),
        *(box(i * (w - leg) / 2, 0.44 * d, 0, leg, 0.1 * d, keys - 0.12 * h) for i in (-1, 1)),
        box(0, deep / 2, keys - 0.02 * h, 0.88 * w, 0.9 * out, 0.02 * h, second=True),
    ]


def _pillar(w, d, h):
    foot = min(0.12, h / 6)
    return [
        box(0, 0, 0, w, d, foot),
        Part("cylinder", (0, 0, foot), (0.8 * w, 0.8 * d, h - 2 * foot)),
        box(0, 0, h - foot, w, d, foot),
    ]


def _crate(w, d, h):
    rim = min(0.05, w / 6, d / 6, h / 6)
    inner = box(0, 0, rim / 2, w - rim, d - rim, h - rim, second=True)
    x, y = (w - rim) / 2, (d - rim) / 2
    posts = [box(i * x, j * y, 0, rim, rim, h) for i in (-1, 1) for j in (-1, 1)]
    rails = [
        part
        for z in (0, h - rim)
        for i in (-1, 1)
        for part in (
            box(0, i * y, z, w - 2 * rim, rim, rim),
            box(i * x, 0, z, rim, d - 2 * rim, rim),
        )
    ]
    return [inner, *posts, *rails]


def _steps(w, d, h):
    """Up toward the back."""
    count = many(h, 0.18)
    rise, run = h / count, d / count
    return [box(0, d / 2 - (k + 0.5) * run, 0, w, run, (k + 1) * rise) for k in range(count)]


def _folding_screen(w, d, h):
    leaves = many(w, 0.5, 2)
    each = w / leaves
    thick = min(0.025, d / 4, each / 4)
    across, deep = each - thick, d - 2 * thick
    turn, long = math.degrees(math.atan2(deep, across)), 0.98 * math.hypot(across, deep)
    return [
        box((k + 0.5 - leaves / 2) * each, 0, 0, long, thick, h, turn=turn if k % 2 else -turn)
        for k in range(leaves)
    ]


def _radiator(w, d, h):
    fins = many(w, 0.08, 2)
    each = w / fins
    return [
        *(
            box((k + 0.5 - fins / 2) * each, 0, 0.1 * h, 0.6 * each, d, 0.9 * h)
            for k in range(fins)
        ),
        *(box(0, 0, z * h, w, 0.4 * d, 0.06 * h) for z in (0.14, 0.88)),
        *(box(i * 0.42 * w, 0, 0, 0.04 * w, 0.5 * d, 0.14 * h) for i in (-1, 1)),
    ]


def _fireplace(w, d, h):
    side, shelf = 0.22 * w, min(0.06, h / 6)
    return [
        *(box(i * (w - side) / 2, 0, 0, side, 0.9 * d, h - shelf) for i in (-1, 1)),
        box(0, 0, 0.7 * h, w - 2 * side, 0.9 * d, 0.3 * h - shelf),
        box(0, 0, h - shelf, w, d, shelf),
        box(0, -0.4 * d, 0, w - 2 * side, 0.1 * d, 0.7 * h, second=True),
    ]


def _chest(w, d, h):
    lid, gap = 0.25 * h, 0.02 * h
    return [
        box(0, 0, 0, 0.97 * w, 0.97 * d, h - lid - gap),
        box(0, 0, h - lid - gap, 0.94 * w, 0.94 * d, gap, second=True),
        box(0, 0, h - lid, w, d, lid),
    ]


def _drawers(w, d, h):
    count = many(h, 0.25, 2)
    each, thin = h / count, min(0.02, d / 8)
    return [
        box(0, -thin / 2, 0, w, d - thin, h),
        *(
            box(0, (d - thin) / 2, (k + 0.02) * each, 0.97 * w, thin, 0.96 * each, second=True)
            for k in range(count)
        ),
    ]


def _books(w, d, h):
    """A pile, none quite on the other."""
    count = many(h, 0.035, 2)
    each = h / count
    return [
        box(
            0,
            0,
            k * each,
            0.84 * w,
            0.84 * d,
            each,
            turn=14 * min(w, d) / max(w, d) * (((0.618 * k) % 1.0) - 0.5),
            second=k % 2 == 1,
        )
        for k in range(count)
    ]


def _monitor(w, d, h):
    """On its foot, dark."""
    foot, plate = 0.22 * h, 0.04 * h
    return [
        box(0, 0, 0, 0.4 * w, d, plate),
        box(0, -0.1 * d, plate, 0.06 * w, 0.15 * d, foot),
        box(0, 0, foot, w, 0.2 * d, h - foot),
        box(0, 0.11 * d, foot + plate, 0.95 * w, 0.02 * d, h - foot - 2 * plate, second=True),
    ]


def _lectern(w, d, h):
    return [
        box(0, 0, 0, w, d, 0.04 * h),
        box(0, 0, 0.04 * h, 0.5 * w, 0.4 * d, 0.84 * h),
        box(0, 0, 0.88 * h, w, d, 0.12 * h),
    ]


PIECES = {
    p.key: p
    for p in (
        Piece("table", "Table", "tables", (1.4, 0.8, 0.75), _table),
        Piece("round-table", "Round table", "tables", (1.1, 1.1, 0.75), _round_table, round=True),
        Piece("low-table", "Low table", "tables", (1.0, 0.55, 0.42), _table),
        Piece("desk", "Desk", "tables", (1.5, 0.75, 0.75), _desk),
        Piece(
            "counter",
            "Kitchen counter, tiled back",
            "tables",
            (2.4, 0.62, 1.45),
            _counter,
            surface=WHITE,
            second=STONE,
            gloss=True,
            wall=True,
        ),
        Piece("lectern", "Lectern", "tables", (0.6, 0.5, 1.1), _lectern),
        Piece("chair", "Chair", "seats", (0.44, 0.46, 0.9), _chair, second=WOOD),
        Piece(
            "armchair",
            "Armchair",
            "seats",
            (0.85, 0.85, 0.9),
            _armchair,
            surface=GREY_CLOTH,
            second=GREY_CLOTH,
        ),
        Piece(
            "sofa", "Sofa", "seats", (2.0, 0.9, 0.85), _sofa, surface=GREY_CLOTH, second=GREY_CLOTH
        ),
        Piece("stool", "Stool", "seats", (0.36, 0.36, 0.45), _stool, second=WOOD, round=True),
        Piece("bench", "Bench", "seats", (1.4, 0.36, 0.45), _bench),
        Piece("bed", "Bed", "seats", (1.6, 2.1, 1.0), _bed, second=WHITE),
        Piece(
            "shelf",
            "Bookshelf",
            "storage",
            (1.0, 0.3, 2.0),
            _shelf,
            second=Surface(reflectance=0.18, colour=(1.0, 0.6, 0.45)),
            wall=True,
        ),
        Piece(
            "cupboard", "Cupboard", "storage", (1.0, 0.55, 2.0), _cupboard, second=WOOD, wall=True
        ),
        Piece(
            "sideboard", "Sideboard", "storage", (1.5, 0.45, 0.8), _cupboard, second=WOOD, wall=True
        ),
        Piece(
            "wall-cupboard",
            "Wall cupboard",
            "storage",
            (1.2, 0.35, 0.7),
            _wall_cupboard,
            surface=WHITE,
            second=WHITE,
            base=1.45,
            wall=True,
        ),
        Piece(
            "drawers",
            "Chest of drawers",
            "storage",
            (0.9, 0.48, 0.95),
            _drawers,
            second=WOOD,
            wall=True,
        ),
        Piece(
            "chest", "Chest", "storage", (1.0, 0.5, 0.5), _chest, surface=DARK_WOOD, second=BLACK
        ),
        Piece("crate", "Crate", "storage", (0.6, 0.4, 0.4), _crate, second=WOOD),
        Piece(
            "books",
            "Pile of books",
            "small things",
            (0.24, 0.3, 0.21),
            _books,
            surface=Surface(reflectance=0.15, colour=(1.0, 0.5, 0.4)),
            second=GREY_CLOTH,
        ),
        Piece(
            "plant",
            "Plant in a pot",
            "small things",
            (0.6, 0.6, 1.2),
            _plant,
            surface=CLAY,
            second=GREEN,
            round=True,
        ),
        Piece(
            "picture",
            "Picture",
            "on the wall",
            (0.8, 0.03, 0.6),
            _picture,
            surface=DARK_WOOD,
            base=1.3,
            wall=True,
        ),
        Piece(
            "monitor",
            "Monitor, dark",
            "small things",
            (0.6, 0.2, 0.48),
            _monitor,
            surface=BLACK,
            second=BLACK,
            gloss=True,
            base=0.75,
        ),
        Piece(
            "curtain",
            "Curtain",
            "on the wall",
            (1.6, 0.12, 2.4),
            _curtain,
            surface=GREY_CLOTH,
            second=STEEL,
            wall=True,
        ),
        Piece(
            "rug",
            "Rug, cloth laid flat",
            "floor",
            (2.0, 1.4, 0.012),
            _slab,
            surface=Surface(reflectance=0.16, colour=(1.0, 0.4, 0.35)),
        ),
        Piece(
            "door",
            "Door, shut",
            "on the wall",
            (0.95, 0.12, 2.1),
            _door,
            surface=WHITE,
            second=WHITE,
            wall=True,
        ),
        Piece(
            "radiator",
            "Radiator",
            "on the wall",
            (1.0, 0.12, 0.6),
            _radiator,
            surface=WHITE,
            wall=True,
        ),
        Piece(
            "fireplace",
            "Fireplace",
            "on the wall",
            (1.3, 0.35, 1.15),
            _fireplace,
            surface=STONE,
            second=BLACK,
            wall=True,
        ),
        Piece(
            "piano",
            "Upright piano",
            "large things",
            (1.5, 0.62, 1.2),
            _piano,
            surface=BLACK,
            second=WHITE,
            gloss=True,
            wall=True,
        ),
        Piece(
            "partition",
            "Wall between rooms",
            "walls and doors",
            (2.0, 0.12, 2.6),
            _slab,
            surface=WHITE,
            high=True,
        ),
        Piece(
            "doorway",
            "Door in a wall",
            "walls and doors",
            (1.1, 0.12, 2.6),
            _doorway,
            surface=WHITE,
            second=WHITE,
            high=True,
        ),
        Piece(
            "passage",
            "Way through a wall",
            "walls and doors",
            (1.3, 0.12, 2.6),
            _passage,
            surface=WHITE,
            high=True,
        ),
        Piece("pillar", "Pillar", "large things", (0.45, 0.45, 2.6), _pillar, surface=STONE),
        Piece(
            "folding-screen",
            "Folding screen",
            "large things",
            (1.6, 0.3, 1.7),
            _folding_screen,
            surface=PAPER,
        ),
        Piece("steps", "Steps", "large things", (1.0, 0.9, 0.54), _steps),
        Piece(
            "box", "Box", "plain solids", (0.6, 0.6, 0.6), _slab, surface=Surface(reflectance=0.5)
        ),
        Piece(
            "cylinder",
            "Cylinder",
            "plain solids",
            (0.4, 0.4, 0.8),
            lambda w, d, h: [Part("cylinder", (0, 0, 0), (w, d, h))],
            surface=Surface(reflectance=0.5),
            round=True,
        ),
        Piece(
            "ball",
            "Ball",
            "plain solids",
            (0.3, 0.3, 0.3),
            lambda w, d, h: [Part("ball", (0, 0, 0), (w, d, h))],
            surface=Surface(reflectance=0.5),
            round=True,
        ),
        *LIT,
        *LAND,
    )
}
"""Kinds of furniture by key, in the order in which they are offered."""
