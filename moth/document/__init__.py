"""The set-up as data: one document a set-up, in metres and degrees."""

from .model import Camera, Figure, Furniture, Mark, Room, Setup, Shutter, Surface, Unit
from .polar import Polar, from_polar, to_polar
from .reading import LARGEST_DOCUMENT, load, parse, schema

__all__ = [
           "LARGEST_DOCUMENT",
           "Camera",
           "Figure",
           "Furniture",
           "Mark",
           "Polar",
           "Room",
           "Setup",
           "Shutter",
           "Surface",
           "Unit",
           "from_polar",
           "load",
           "parse",
           "schema",
           "to_polar",
]
