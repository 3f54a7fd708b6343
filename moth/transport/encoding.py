"""Layers as bytes: about four bytes a pixel, linear, any range."""

import math
import struct

import numpy as np
from numba import njit

MAGIC = b"IML1"
_MANTISSA, _BIAS, _LARGEST = 9, 15, 65408.0


def pack_rgb9e5(rgb):
    """Shared-exponent pixels.

    Parameters
    ----------
    rgb : ndarray, shape (n, 3)
        0..65408; larger values are clipped.

    Returns
    -------
    ndarray of uint32, shape (n,)

    References
    ----------
    Khronos, EXT_texture_shared_exponent.

    Examples
    --------
    >>> unpack_rgb9e5(pack_rgb9e5(np.array([[1.0, 0.5, 0.25]]))).tolist()
    [[1.0, 0.5, 0.25]]
    """
    packed = np.empty(len(rgb), np.uint32)
    _pack(np.asarray(rgb, float), packed)
    return packed


@njit(nogil=True, cache=True)
def _pack(rgb, packed):
    for i in range(len(rgb)):
        r, g, b = (
            min(max(rgb[i, 0], 0.0), _LARGEST),
            min(max(rgb[i, 1], 0.0), _LARGEST),
            min(max(rgb[i, 2], 0.0), _LARGEST),
        )
        largest = max(r, g, b)
        _, exponent = math.frexp(largest)
        shared = max(-_BIAS - 1, exponent - 1) + 1 + _BIAS
        scale = 2.0 ** (shared - _BIAS - _MANTISSA)
        if math.floor(largest / scale + 0.5) == 512:
            shared, scale = shared + 1, scale * 2
        r, g, b = (
            math.floor(r / scale + 0.5),
            math.floor(g / scale + 0.5),
            math.floor(b / scale + 0.5),
        )
        packed[i] = (
            np.uint32(shared) << np.uint32(27)
            | np.uint32(b) << np.uint32(18)
            | np.uint32(g) << np.uint32(9)
            | np.uint32(r)
        )


def unpack_rgb9e5(packed):
    """Inverse of :func:`pack_rgb9e5`; shape (n, 3)."""
    scale = np.exp2((packed >> 27).astype(float) - _BIAS - _MANTISSA)
    return np.stack([(packed >> shift & 511) * scale for shift in (0, 9, 18)], 1)


def encode_layer(layer):
    """Bytes of a layer: header, pixels, then the pixels in which the unit itself is seen.

    Header (little-endian): "IML1", width u16, height u16, scale f32, count u32. Pixels: RGB9E5
    times scale [cd/m^2]. Then count times (pixel u32, glow f32 [cd/m^2], cover f32).

    Parameters
    ----------
    layer : Layer

    Returns
    -------
    bytes

    Examples
    --------
    >>> from moth.transport import Layer
    >>> empty = np.zeros(0)
    >>> len(encode_layer(Layer(np.ones((2, 4, 3)), empty, empty, empty)))
    48
    """
    height, width, _ = layer.surfaces.shape
    scale = max(float(layer.surfaces.max(initial=0)) / 60000, 1 / 256)
    tail = np.empty(
        len(layer.seen), np.dtype([("pixel", "<u4"), ("glow", "<f4"), ("cover", "<f4")])
    )
    tail["pixel"], tail["glow"], tail["cover"] = layer.seen, layer.glow, layer.cover
    header = struct.pack("<4sHHfI", MAGIC, width, height, scale, len(tail))
    return (
        header
        + pack_rgb9e5(layer.surfaces.reshape(-1, 3) / scale).astype("<u4").tobytes()
        + tail.tobytes()
    )


def decode_layer(data):
    """Inverse of :func:`encode_layer`, within the half percent that a pixel keeps.

    Examples
    --------
    >>> from moth.transport import Layer
    >>> empty = np.zeros(0)
    >>> decode_layer(encode_layer(Layer(np.full((2, 4, 3), 0.5), empty, empty,
    ...     empty))).surfaces[1, 3].tolist()
    [0.5, 0.5, 0.5]
    """
    from .layers import Layer

    _, width, height, scale, count = struct.unpack_from("<4sHHfI", data)
    pixels = np.frombuffer(data, "<u4", width * height, 16)
    tail = np.frombuffer(
        data,
        np.dtype([("pixel", "<u4"), ("glow", "<f4"), ("cover", "<f4")]),
        count,
        16 + 4 * width * height,
    )
    surfaces = (unpack_rgb9e5(pixels) * scale).reshape(height, width, 3).astype(np.float32)
    return Layer(
        surfaces, tail["pixel"].astype(np.int64), tail["glow"].copy(), tail["cover"].copy()
    )
