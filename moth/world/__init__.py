"""Triangles, people, rays. The only room that knows the ray library."""

from .figures import landmarks
from .geometry import anchor, build_world, world_key
from .outside import Outside, outside_of, stands_outside
from .placement import check_placement, windows_before
from .rays import RayScene
from .sheets import (
    PANE_OFF,
    Pane,
    Sheet,
    axes,
    material_of,
    opening_corners,
    opening_of,
    opening_place,
    pane,
    pieces,
    sheets_of,
    triple,
)
from .world import Mesh, World

__all__ = [
    "PANE_OFF",
    "Mesh",
    "Outside",
    "Pane",
    "RayScene",
    "Sheet",
    "World",
    "anchor",
    "axes",
    "build_world",
    "check_placement",
    "landmarks",
    "material_of",
    "opening_corners",
    "opening_of",
    "opening_place",
    "outside_of",
    "pane",
    "pieces",
    "sheets_of",
    "stands_outside",
    "triple",
    "windows_before",
    "world_key",
]
