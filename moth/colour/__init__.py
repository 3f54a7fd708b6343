"""Colour temperature, white balance and the gains they give."""

from .white import planckian_uv, unit_gain, white_xyz

__all__ = ["planckian_uv", "unit_gain", "white_xyz"]
