"""Whole rigs against committed values of two independent renderers; see docs/accuracy.md."""

import numpy as np
import pytest

from bench.accuracy.compare import FOLDER, ours, rmse
from bench.accuracy.rigs import rigs
from moth.colour import LUMINANCE
from moth.engine.caching import STORE

QUICK = (
    "bare spot, white room",
    "foam board",
    "frost, then grid",
    "soft silver",
    "mirror and blinds",
    "ceiling bounce",
    "window, overcast",
    "window with grid cloth",
)


@pytest.fixture(autouse=True)
def worlds_of_its_own():
    """A world that another test built before windows were opened keeps its glass, and the other way
    round.
    """
    STORE.clear()
    yield
    STORE.clear()


@pytest.mark.parametrize("name", QUICK)
def test_readings_and_frame_are_those_of_other_renderers(name):
    reference = np.load(FOLDER / f"{list(rigs()).index(name):02d}.npz")
    disc, dome, frame = ours(rigs()[name])
    # Every mark, those turned away from the light too.
    for mine, theirs in (
        (disc, reference["disc"]),
        (dome, reference["dome"]),
        (disc, reference["radiance"]),
    ):
        # The lobe of a cloth that light comes to from all over is told too low: 2.7 % of the light
        # of grid cloth.
        near = 0.035 if name == "window with grid cloth" else 0.03
        np.testing.assert_allclose(mine @ LUMINANCE, theirs @ LUMINANCE, rtol=near)
    picture = reference["picture"].astype(float) * float(reference["scale"])
    assert rmse(frame, picture) < 0.03


def test_there_are_enough_rigs():
    assert len(rigs()) >= 20 and len(list(FOLDER.glob("*.npz"))) == len(rigs())
