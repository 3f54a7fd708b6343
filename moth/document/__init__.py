"""The set-up as data: one document a set-up, in metres and degrees."""

from .model import Attachment, Camera, Figure, Furniture, Grip, LogCurve, Mark, Material, Measured, Opening, Room, Setup, Shutter, Sky, Sun, Surface, Unit
from .polar import Polar, from_polar, to_polar
from .reading import LARGEST_DOCUMENT, load, parse, schema, upgrade

__all__ = [
    "LARGEST_DOCUMENT",
    "Attachment",
    "Camera",
    "Figure",
    "Furniture",
    "Grip",
    "LogCurve",
    "Mark",
    "Material",
    "Measured",
    "Opening",
    "Polar",
    "Room",
    "Setup",
    "Shutter",
    "Sky",
    "Sun",
    "Surface",
    "Unit",
    "from_polar",
    "load",
    "parse",
    "schema",
    "to_polar",
    "upgrade",
]
