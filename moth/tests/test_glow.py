"""A lit cell near a place, or cut by its horizon, against the integral over its face."""

import numpy as np
import pytest

from moth.transport.glow import glow_rays, matte, shine
from moth.transport.operands import Cells, room_for
from moth.transport.patterns import no_pattern

SIDE, RADIOSITY = 0.3, 1.0
CELL = Cells(
    np.zeros((1, 3)),
    np.array([[0, 0, 1.0]]),
    np.array([[SIDE / 2, 0, 0]]),
    np.array([[0, SIDE / 2, 0]]),
    np.full((1, 3), RADIOSITY * SIDE**2 / np.pi),
    np.zeros((1, 3)),
    np.zeros(1),
    np.zeros((1, 3)),
    np.ones(1),
    np.zeros(1, bool),
    no_pattern(1),
)


def ours(place, normal, dome):
    out, sheen = np.zeros((1, 3)), np.zeros((1, 3))
    shine(matte(*(np.array([k], float) for k in (place, normal))), dome, CELL, out, sheen)
    return out[0, 0]


def summed(place, normal, dome, steps=900):
    """The same by a fine sum over the cell's face."""
    k = ((np.arange(steps) + 0.5) / steps - 0.5) * SIDE
    u, v = (m.ravel() for m in np.meshgrid(k, k))
    to = np.stack([u, v, 0 * u], 1) - place
    d = np.linalg.norm(to, axis=1)
    cosine, leaving = to @ normal / d, -to[:, 2] / d
    response = np.where(cosine > 0, 0.5 * (1 + cosine), 0) if dome else np.maximum(cosine, 0)
    return float((RADIOSITY / np.pi * np.maximum(leaving, 0) * response / d**2).mean() * SIDE**2)


@pytest.mark.parametrize("dome", [False, True])
@pytest.mark.parametrize(
    "place, normal",
    [
        ((0, 0, 0.1), (0, 0, -1)),
        ((0.1, -0.2, 0.15), (0.3, 0.2, -0.9)),
        ((0.3, 0.0, 0.05), (-1, 0, 0)),  # a wall beside it: the horizon does not cut it
        ((0.05, 0.0, 0.2), (1, 0, -0.1)),  # cut by the horizon
        ((1.5, 0.4, 0.6), (0.35, 1.0, 0.2)),  # cut, and far
        ((0.6, 0.5, 0.7), (-0.5, -0.4, -0.8)),
        ((0.2, 0.9, 2.4), (0.0, -0.1, -1.0)),
    ],
)
def test_a_cell_is_what_the_integral_says(place, normal, dome):
    normal = np.array(normal) / np.linalg.norm(normal)
    place = np.array(place, float)
    assert ours(place, normal, dome) == pytest.approx(
        summed(place, normal, dome), rel=0.012, abs=2e-5
    )


def test_nothing_comes_from_behind_or_to_the_back():
    assert ours((0, 0, -0.2), (0, 0, 1), False) == 0
    assert ours((0, 0, 0.5), (0, 0, 1), False) == 0
    assert ours((0, 0, 0.5), (0, 0, 1), True) == 0


@pytest.mark.parametrize("dome", [False, True])
@pytest.mark.parametrize("off", [0.0, 1e-9, 1e-7, 2e-5, -1e-7])
@pytest.mark.parametrize("normal", [(0, 0, 1), (0, 0, -1), (1e-8, 0, -1)])
def test_a_cell_lights_neither_itself_nor_its_own_back(off, normal, dome):
    """The underside of a slat lies in the plane of its lit top: a rounding before it, it would have
    taken all its light.
    """
    assert ours(np.array([0.03, 0.02, off]), np.array(normal, float), dome) == 0
    rays = room_for(8)
    spots = np.array([[0.03, 0.02, off]]), np.array([normal], float)
    glow_rays(spots, dome, CELL, 8, 1, rays)
    assert not rays.weights.any()
