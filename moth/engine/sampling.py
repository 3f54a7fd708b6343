"""Numbers that are spread evenly: one hash, one sequence, one lobe, for all compiled loops."""

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


def lobe_densities(kappa, cosine):
    """Density of von Mises-Fisher lobes [1/sr] at angles off their axes, for arrays that broadcast.

    Fisher, "Dispersion on a sphere" (1953).

    Examples
    --------
    >>> float(lobe_densities(1e-6, 0.3) * 4 * np.pi).__round__(3)
    1.0
    """
    return kappa / (2 * np.pi * (1 - np.exp(-2 * kappa))) * np.exp(kappa * (cosine - 1))


lobe_density = njit(lobe_densities, inline="always")
"""The same for single numbers, in compiled loops."""
