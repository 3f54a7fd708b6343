"""White of sources and cameras."""

from .white import GREEN_DUV, LUMINANCE, mired_gain, planckian_uv, unit_gain, white_of, white_xyz

__all__ = [
    "GREEN_DUV",
    "LUMINANCE",
    "mired_gain",
    "planckian_uv",
    "unit_gain",
    "white_of",
    "white_xyz",
]
