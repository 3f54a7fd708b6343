"""Relief too fine for triangles: pores and lines of skin, the creases of lips, the rows of knitted
wool. It turns the normals that a picture is shaded by, as far as its pixels can show it; what they
cannot is in the roughness of the sheen (:mod:`.gloss`).
"""

import math

import numpy as np
from numba import njit

from ..engine.cores import shared_out, tiles
from ..engine.noise import noise_at
from ..materials import FINISHES
from ..world.grain import LIPS

_SKIN, _WOOL = (
    next(i for i, f in enumerate(FINISHES) if f.name == name) for name in ("skin", "wool")
)
PORES = ((0.0004, 0.09), (0.0008, 0.03))
"""Size of the relief of skin [m], half of what it is from one pore to the next, and its slope,
finer and coarser; typical. Oily skin has the deeper pores, half as much again.
"""
CREASES = (0.0016, 0.008, 0.14)
"""Of lips: across and along [m], and slope."""
ROW, STITCH, SLOPE = 0.0040, 0.0032, 0.34
"""Of knitted wool: from row to row and from stitch to stitch [m], and slope; a middling gauge."""
SHADE = 0.16
"""How much lighter and darker than their mean the rows are, for what they hide from each other."""
NOISE_RMS = 0.37
"""Root mean square of the noise that slopes are made of."""
SHOWN = (2.0, 4.0)
"""Pixels across a feature from which it begins to show, and shows whole."""


def relieve(points, width):
    """Turn the normals of a picture's points by the relief of what they are of, in place.

    Parameters
    ----------
    points : dict
        Columns of a picture: "normal" (n, 3) unit, "toward" (n, 3) unit, "albedo" (n, 3), "finish"
        (n,), "grain" (n, 7) as :func:`moth.world.grain.grain_of` tells it.
    width : ndarray, shape (n,)
        Of a pixel at each [m].

    Returns
    -------
    ndarray, shape (n,)
        Variance of the slopes that the normals show now [1].
    """
    resolved = np.zeros(len(width))
    some = np.flatnonzero(np.isin(points["finish"], (_SKIN, _WOOL)) & (width < ROW / SHOWN[0]))
    normal, toward, albedo = (points[k] for k in ("normal", "toward", "albedo"))
    finish, grain = points["finish"].astype(np.int64), points["grain"]

    def turn(tile):
        _turned(some[tile], normal, toward, albedo, (finish, grain, width), resolved)

    shared_out(turn, tiles(np.arange(len(some)), 4000))
    return resolved


@njit(inline="always")
def _shows(size, pixel):
    """How much of a feature of a size a picture of such pixels shows, 0..1."""
    part = min(max((size / pixel - SHOWN[0]) / (SHOWN[1] - SHOWN[0]), 0.0), 1.0)
    return part * part * (3 - 2 * part)


@njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _turned(chosen, normal, toward, albedo, kind, resolved):
    finish, grain, width = kind
    for i in chosen:
        x, y, z, much = grain[i, 0], grain[i, 1], grain[i, 2], grain[i, 3]
        slant = 0.0
        for k in range(3):
            slant += normal[i, k] * toward[i, k]
        # Turned away, a pixel takes in more of the surface.
        pixel = width[i] / math.sqrt(max(slant, 0.15))
        a, b, c = 0.0, 0.0, 0.0
        variance = 0.0
        if finish[i] == _SKIN and much < (1 + LIPS) / 2:
            for octave in range(2):
                size, slope = PORES[octave]
                slope *= (1 + 0.5 * much) * _shows(size, pixel)
                if slope > 0:
                    s = slope / NOISE_RMS
                    u, v, w = x / size, y / size, z / size
                    a += s * noise_at(u, v, w, 10 + 3 * octave)
                    b += s * noise_at(u, v, w, 11 + 3 * octave)
                    c += s * noise_at(u, v, w, 12 + 3 * octave)
                    variance += slope * slope
        elif finish[i] == _SKIN:
            across, along, slope = CREASES
            slope *= _shows(across, pixel)
            a = slope / NOISE_RMS * noise_at(x / across, y / along, z / along, 20)
            variance = slope * slope / 2
        else:
            slope = SLOPE * _shows(ROW, pixel)
            # No row is quite straight.
            at = much / ROW + 0.5 * noise_at(x / 0.02, y / 0.02, z / 0.02, 30)
            turn = 2 * math.pi * at
            row = math.floor(at)
            s = slope * math.cos(turn)
            a, b, c = s * grain[i, 4], s * grain[i, 5], s * grain[i, 6]
            part = slope * _shows(STITCH, pixel) / NOISE_RMS / 4
            u, v, w = x / STITCH, y / STITCH, z / STITCH
            a += part * noise_at(u, v, w + row, 31)
            b += part * noise_at(u, v, w + row, 32)
            shade = 1 + SHADE * _shows(ROW, pixel) * math.sin(turn)
            for k in range(3):
                albedo[i, k] *= shade
        if variance == 0 and a == 0 and b == 0 and c == 0:
            continue
        resolved[i] = variance
        along = a * normal[i, 0] + b * normal[i, 1] + c * normal[i, 2]
        a, b, c = (
            normal[i, 0] + a - along * normal[i, 0],
            normal[i, 1] + b - along * normal[i, 1],
            normal[i, 2] + c - along * normal[i, 2],
        )
        length = math.sqrt(a * a + b * b + c * c)
        normal[i, 0], normal[i, 1], normal[i, 2] = a / length, b / length, c / length
