"""Kinds of solids that stand outside, before the windows or about an exterior."""

from ..document import Surface
from .parts import DARK_WOOD, GREEN, STONE, Part, Piece, box

BRICK = Surface(reflectance=0.22, colour=(1.0, 0.55, 0.4))
SLATE = Surface(reflectance=0.12, colour=(0.9, 0.95, 1.0))
BARK = Surface(reflectance=0.12, colour=(1.0, 0.75, 0.55))
GROUP = "outside"


def _house(w, d, h):
    """A block under a flat roof that stands out a little."""
    roof = min(0.4, 0.1 * h)
    return [
        box(0, 0, 0, 0.94 * w, 0.94 * d, h - roof),
        box(0, 0, h - roof, w, d, roof, second=True),
    ]


def _tree(w, d, h):
    """A trunk under a crown of five balls."""
    trunk = 0.35 * h
    crown = [
        Part("ball", (x * w, y * d, z * h), (a * w, a * d, b * h), second=True)
        for x, y, z, a, b in (
            (0, 0, 0.3, 0.8, 0.5),
            (0, 0, 0.58, 0.62, 0.42),
            (0.2, 0.08, 0.42, 0.6, 0.4),
            (-0.2, 0.12, 0.44, 0.56, 0.38),
            (-0.02, -0.22, 0.46, 0.56, 0.36),
        )
    ]
    return [Part("cylinder", (0, 0, 0), (0.09 * w, 0.09 * d, trunk)), *crown]


def _block(w, d, h):
    return [box(0, 0, 0, w, d, h)]


LAND = (
    Piece(
        "house",
        "House",
        GROUP,
        (10.0, 8.0, 6.5),
        _house,
        surface=BRICK,
        second=SLATE,
        outside=True,
    ),
    Piece(
        "tree",
        "Tree",
        GROUP,
        (5.0, 5.0, 7.5),
        _tree,
        surface=BARK,
        second=GREEN,
        round=True,
        outside=True,
    ),
    Piece("hedge", "Hedge", GROUP, (6.0, 0.8, 1.8), _block, surface=GREEN, outside=True),
    Piece("yard-wall", "Garden wall", GROUP, (6.0, 0.3, 2.2), _block, surface=STONE, outside=True),
    Piece("shed", "Shed", GROUP, (3.0, 2.4, 2.4), _house, surface=DARK_WOOD, outside=True),
)
