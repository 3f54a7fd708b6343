"""Trials: one unit tried in many ways, each cell with its frame and figures."""

from .cell import SIZE, Cell, run_cell, run_document
from .figures import FIGURES, CellFigure, figures_of
from .plan import (
    MOST,
    Axis,
    Change,
    Choice,
    KeyWish,
    Placed,
    TrialPlan,
    cells_of,
    changed_by,
    one_level,
)
from .proposing import CATALOGUE, AtHand, misses, of_kit, propose
from .stages import STAGES, stage
from .walls import wall_map

__all__ = [
    "CATALOGUE",
    "FIGURES",
    "MOST",
    "SIZE",
    "STAGES",
    "AtHand",
    "Axis",
    "Cell",
    "CellFigure",
    "Change",
    "Choice",
    "KeyWish",
    "Placed",
    "TrialPlan",
    "cells_of",
    "changed_by",
    "figures_of",
    "misses",
    "of_kit",
    "one_level",
    "propose",
    "run_cell",
    "run_document",
    "stage",
    "wall_map",
]
