"""What is written down: the level card, and the plan to scale."""

from .drawing import Drawing, Line, Shape, Word, plan_of
from .levels import FIELDS, CardGrip, CardMark, CardUnit, LevelCard, level_card

__all__ = [
    "FIELDS",
    "CardGrip",
    "CardMark",
    "CardUnit",
    "Drawing",
    "LevelCard",
    "Line",
    "Shape",
    "Word",
    "level_card",
    "plan_of",
]
