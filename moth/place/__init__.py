"""What stands in the place and how things are held: furniture, stands, booms."""

from .furniture import Shape, inside, parts_of, shape_of
from .pieces import PIECES, SOLIDS, Part, Piece
from .standing import (
    COUNTERWEIGHT,
    CROWN,
    SPREAD,
    InTheWay,
    Load,
    foot_of,
    in_its_way,
    load_of,
    over,
)

__all__ = [
    "COUNTERWEIGHT",
    "CROWN",
    "PIECES",
    "SOLIDS",
    "SPREAD",
    "InTheWay",
    "Load",
    "Part",
    "Piece",
    "Shape",
    "foot_of",
    "in_its_way",
    "inside",
    "load_of",
    "over",
    "parts_of",
    "shape_of",
]
