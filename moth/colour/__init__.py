"""White of sources and cameras."""

from .white import GREEN_DUV, mired_gain, planckian_uv, unit_gain, white_of, white_xyz

__all__ = ["GREEN_DUV", "mired_gain", "planckian_uv", "unit_gain", "white_of", "white_xyz"]
