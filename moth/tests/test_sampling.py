"""The numbers that rays are drawn by: even, and unlike for neighbours."""

import numpy as np
import pytest
from numba import njit

from moth.engine.sampling import lobe_density, scrambled, shifts
from moth.transport.walks import hemisphere


@njit
def _drawn(seeds, out):
    for k in range(len(seeds)):
        out[k, 0], out[k, 1] = shifts(seeds[k])


@njit
def _hashed(numbers, out):
    for k in range(len(numbers)):
        out[k] = scrambled(numbers[k])


def reference(number):
    """The same 32-bit step in Python's own whole numbers."""
    mask = 0xFFFFFFFF
    h = (number * 747796405 + 2891336453) & mask
    h = (((h >> ((h >> 28) + 4)) ^ h) * 277803737) & mask
    return ((h >> 22) ^ h) & mask


def test_the_hash_is_that_of_32_bits_also_when_compiled():
    numbers = np.r_[np.arange(2000), np.random.default_rng(5).integers(0, 2**31, 2000)]
    out = np.empty(len(numbers), np.int64)
    _hashed(numbers, out)
    assert out.tolist() == [reference(int(n)) for n in numbers]


@pytest.mark.parametrize("start", [0, 977, 31 * 64, 192 * 108])
def test_shifts_of_neighbours_fill_the_square_evenly(start):
    """Pearson's chi squared over 16 x 16 cells: about one a degree of freedom, not 57."""
    n = 100_000
    out = np.empty((n, 2))
    _drawn(np.arange(start, start + n), out)
    assert out.min() >= 0 and out.max() < 1
    counts, _, _ = np.histogram2d(*out.T, bins=16, range=[[0, 1], [0, 1]])
    a_degree = ((counts - n / 256) ** 2 / (n / 256)).sum() / 255
    assert 0.75 < a_degree < 1.25
    # And a point's draw says nothing of its neighbour's.
    assert abs(np.corrcoef(out[1:, 0], out[:-1, 0])[0, 1]) < 0.02


def test_a_lobe_holds_all_its_light():
    cosine = np.linspace(-1, 1, 200_001)
    for kappa in (0.1, 1.0, 12.0, 300.0):
        whole = np.trapezoid([lobe_density(kappa, c) for c in cosine[::20]], cosine[::20])
        assert 2 * np.pi * whole == pytest.approx(1, rel=2e-3)


def test_directions_over_the_half_sphere_have_the_moments_they_should():
    normals = np.tile([0.0, 0.6, 0.8], (500, 1))
    for even, mean, square in ((True, 1 / 2, 1 / 3), (False, 2 / 3, 1 / 2)):
        directions = np.empty((500 * 64, 3))
        hemisphere(normals, 64, even, 0, directions)
        cosine = directions @ normals[0]
        assert cosine.min() >= 0
        assert cosine.mean() == pytest.approx(mean, abs=2e-3)
        assert (cosine**2).mean() == pytest.approx(square, abs=2e-3)
