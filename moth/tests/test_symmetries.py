"""Photometric files of every symmetry, against an independent parser; numbers no lamp can have."""

import numpy as np
import pytest
from pyldt import LdtReader

from moth.errors import PhotometryError
from moth.photometry import read_photometry
from moth.tests.test_photometry import ies

STORED = {0: 8, 1: 1, 2: 5, 3: 5, 4: 3}
GAMMA = [0, 30, 60, 90]


def ldt(symmetry, rows, planes=8):
    """Text of an EULUMDAT file whose lamp gives 1000 lm."""
    head = ["Saltmarsh lamp works", "3", symmetry, planes, 360 / planes, len(GAMMA), 30]
    head += ["report", "lamp", "1", "file", "date", 100, 100, 50, 100, 100, 0, 0, 0, 0]
    head += [100, 100, 1, 0, 1, 1, "LED", 1000, "3000 K", "90", 20, *[0] * 10]
    turns = [360 / planes * k for k in range(planes)]
    numbers = [*turns, *GAMMA, *np.ravel(rows).tolist()]
    return "\n".join(str(line) for line in [*head, *numbers]) + "\n"


@pytest.mark.parametrize("symmetry", range(5))
def test_every_symmetry_is_unfolded_as_an_independent_parser_does(symmetry, tmp_path):
    rows = np.random.default_rng(symmetry).uniform(1, 500, (STORED[symmetry], len(GAMMA))).round(3)
    path = tmp_path / "lamp.ldt"
    path.write_text(ldt(symmetry, rows))
    theirs = np.asarray(LdtReader.read(str(path)).intensities, float)
    ours = read_photometry(path.read_text()).distribution
    for k, row in enumerate(theirs[:8]):
        here = ours.intensity(np.array(GAMMA, float), np.full(len(GAMMA), 45.0 * k))
        np.testing.assert_allclose(here, row, rtol=1e-6)


def test_symmetry_three_is_not_upside_down():
    rows = [[c] * len(GAMMA) for c in (10, 50, 200)]  # C270, C0, C90
    lamp = read_photometry(ldt(3, rows, planes=4)).distribution
    levels = [float(lamp.intensity(30.0, c)) for c in (0.0, 90.0, 180.0, 270.0)]
    assert levels == pytest.approx([50, 200, 50, 10])


@pytest.mark.parametrize("edition", ["IESNA:LM-63-1995", "IESNA:LM-63-2002"])
def test_a_lamp_symmetric_about_90_and_270_is_read(edition):
    text = ies([edition], [0, 90], [90, 135, 180, 225, 270], [[c, c] for c in (9, 7, 5, 3, 1)])
    lamp = read_photometry(text).distribution
    at = lambda turn: float(lamp.intensity(45.0, turn))
    assert [at(t) for t in (90.0, 135.0, 180.0, 225.0, 270.0)] == pytest.approx([9, 7, 5, 3, 1])
    # Alike on both sides of the line from 90 to 270: h and 180 - h.
    assert [at(t) for t in (45.0, 0.0, 360.0, 315.0)] == pytest.approx([7, 5, 5, 3])
    assert at(22.5) == pytest.approx(6)


def test_its_angles_need_not_hold_the_horizon():
    text = ies(["IESNA:LM-63-2002"], [0, 90], [90, 150, 270], [[6, 6], [3, 3], [1, 1]])
    lamp = read_photometry(text).distribution
    for turn in np.random.default_rng(3).uniform(0, 360, 40):
        mirrored = (180 - turn) % 360
        assert float(lamp.intensity(45.0, turn)) == pytest.approx(
            float(lamp.intensity(45.0, mirrored)), rel=1e-9
        )


@pytest.mark.parametrize(
    "numbers",
    [{"multiplier": 1e308}, {"multiplier": 1e5, "ballast": "1e5 1 90"}, {"ballast": "1e308 1 90"}],
)
def test_numbers_whose_product_no_lamp_can_have_are_refused(numbers):
    text = ies(
        ["IESNA:LM-63-2002"], [0, 90], [0], [[1e300 if numbers == {} else 5e3, 10]], **numbers
    )
    with pytest.raises(PhotometryError, match="no lamp is so bright"):
        read_photometry(text)


def test_an_intensity_of_1e308_is_refused_and_so_is_a_flux():
    with pytest.raises(PhotometryError, match="no lamp is so bright"):
        read_photometry(ies(["IESNA:LM-63-2002"], [0, 90], [0], [[1e308, 1e308]]))
    bright = ldt(1, [[1e11] * len(GAMMA)])
    with pytest.raises(PhotometryError, match="no lamp is so bright"):
        read_photometry(bright)


def test_other_beginnings_are_refused_with_a_true_sentence():
    with pytest.raises(PhotometryError, match="begin at 45"):
        read_photometry(ies(["IESNA:LM-63-2002"], [0, 90], [45, 270], [[1, 1], [1, 1]]))
