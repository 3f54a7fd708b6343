"""Trials: one unit tried in many ways, each cell with its frame and figures."""

from .cell import SIZE, Cell, run_cell, run_document
from .figures import FIGURES, CellFigure, figures_of
from .plan import MOST, Axis, Change, Choice, Placed, TrialPlan, cells_of, changed_by, one_level
from .stages import STAGES, stage

__all__ = [
    "FIGURES",
    "MOST",
    "SIZE",
    "STAGES",
    "Axis",
    "Cell",
    "CellFigure",
    "Change",
    "Choice",
    "Placed",
    "TrialPlan",
    "cells_of",
    "changed_by",
    "figures_of",
    "one_level",
    "run_cell",
    "run_document",
    "stage",
]
