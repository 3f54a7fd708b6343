"""Triangles, people, rays. The only room that knows the ray library."""

from .figures import landmarks
from .geometry import Mesh, World, anchor, build_world, world_key
from .placement import check_placement
from .rays import RayScene

__all__ = ["Mesh", "RayScene", "World", "anchor", "build_world", "check_placement", "landmarks", "world_key"]
