"""Scans and models of places and pieces, brought in from files."""

from .apart import model_apart
from .results import Brought
from .views import VIEWS, outline, shown, view_png

__all__ = ["VIEWS", "Brought", "model_apart", "outline", "shown", "view_png"]
