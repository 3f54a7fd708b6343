"""Numbers that are spread evenly: one hash, one sequence, one lobe, for all compiled loops."""

import math

import numpy as np
from numba import njit

R2_U, R2_V = 0.7548776662466927, 0.5698402909980532
"""Steps of the sequence R2: 1 / g and 1 / g^2, g the root of g^3 = g + 1. Roberts (2018)."""
GOLDEN = 0.6180339887498949
"""Step of the golden-ratio sequence, in one dimension."""


@njit(inline="always")
def scrambled(number):
    """A number's lower 32 bits, well mixed.

    Products of unsigned numbers grow to 64 bits in compiled loops: they are cut to 32 at each step.
    O'Neill, "PCG" (2014), the RXS-M-XS step.
    """
    mask = np.uint64(0xFFFFFFFF)
    h = (np.uint64(number) * np.uint64(747796405) + np.uint64(2891336453)) & mask
    h = (((h >> ((h >> np.uint64(28)) + np.uint64(4))) ^ h) * np.uint64(277803737)) & mask
    return ((h >> np.uint64(22)) ^ h) & mask


@njit(inline="always")
def shifts(seed):
    """Two numbers 0..1 of a seed: neighbours begin elsewhere in the sequence."""
    h = scrambled(np.uint64(seed))
    return float(h & np.uint64(0xFFFF)) / 65536.0, float(h >> np.uint64(16)) / 65536.0


@njit(inline="always")
def lobe_density(kappa, cosine):
    """Density of a von Mises-Fisher lobe [1/sr] at an angle off its axis.

    Fisher, "Dispersion on a sphere" (1953).
    """
    return kappa / (2 * math.pi * (1 - math.exp(-2 * kappa))) * math.exp(kappa * (cosine - 1))
