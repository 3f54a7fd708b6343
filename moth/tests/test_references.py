"""Whole rigs against committed values of two independent renderers; see docs/accuracy.md."""

import numpy as np
import pytest

from bench.accuracy.compare import FOLDER, ours, rmse
from bench.accuracy.rigs import rigs
from moth.colour import LUMINANCE

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


@pytest.mark.parametrize("name", QUICK)
def test_readings_and_frame_are_those_of_other_renderers(name):
    reference = np.load(FOLDER / f"{list(rigs()).index(name):02d}.npz")
    disc, dome, frame = ours(name)
    # Every mark, those turned away from the light too.
    for mine, theirs in (
        (disc, reference["disc"]),
        (dome, reference["dome"]),
        (disc, reference["radiance"]),
    ):
        np.testing.assert_allclose(mine @ LUMINANCE, theirs @ LUMINANCE, rtol=0.03)
    # A window behind grid cloth stands at 3.1 %: what it sends about the room is told too high.
    picture = reference["picture"].astype(float) * float(reference["scale"])
    assert rmse(frame, picture) < 0.035


def test_there_are_enough_rigs():
    assert len(rigs()) >= 20 and len(list(FOLDER.glob("*.npz"))) == len(rigs())
