"""Distributions and photometric files."""

import warnings

import numpy as np
import pytest
from eulumdat_ies import ies_to_ldt
from hypothesis import given, settings
from hypothesis import strategies as st

from moth.errors import PhotometryError
from moth.photometry import ATTACHMENTS, HEADS, from_angles, from_function, read_ies


def ies(
    header,
    vertical,
    horizontal,
    rows,
    lumens=1000,
    multiplier=1,
    lamps=1,
    kind=1,
    unit=2,
    size="0 0 0",
    ballast="1 1 90",
    tilt="TILT=NONE",
):
    """Text of an LM-63 file."""
    lines = [
        *header,
        tilt,
        f"{lamps} {lumens} {multiplier} {len(vertical)} {len(horizontal)} {kind} {unit} {size}",
        ballast,
    ]
    lines += [" ".join(map(str, vertical)), " ".join(map(str, horizontal))]
    lines += [" ".join(map(str, row)) for row in rows]
    return "\n".join(lines) + "\n"


KEYS = ["[TEST] A1", "[MANUFAC] Saltmarsh lamp works", "[LUMCAT] TIDE-1"]
SHAPES = {
    "round, 1995": (
        ["IESNA:LM-63-1995", *KEYS],
        [0, 15, 30, 60, 90],
        [0],
        [[900, 800, 500, 100, 0]],
    ),
    "quadrant, 2002": (
        ["IESNA:LM-63-2002", *KEYS],
        [0, 30, 60, 90],
        [0, 45, 90],
        [[500, 400, 200, 0], [500, 350, 150, 0], [500, 300, 80, 0]],
    ),
    "one side, 1991": (
        ["IESNA91", *KEYS],
        [0, 45, 90],
        [0, 90, 180],
        [[300, 200, 0], [300, 150, 0], [300, 80, 0]],
    ),
    "whole circle, 2019": (
        ["IES:LM-63-2019", *KEYS],
        [0, 45, 90],
        [0, 90, 180, 270, 360],
        [[100, 80, 5], [100, 70, 4], [100, 60, 3], [100, 50, 2], [100, 80, 5]],
    ),
    "no header, 1986": (["MADE AT THE OBSERVATORY"], [0, 20, 40, 90], [0], [[1000, 600, 100, 0]]),
}


@pytest.mark.parametrize("name", SHAPES)
def test_same_candela_as_an_independent_parser(name, tmp_path):
    header, vertical, horizontal, rows = SHAPES[name]
    text = ies(header, vertical, horizontal, rows, lumens=2500, multiplier=1.5)
    ours = read_ies(text)
    assert ours.year == int(name[-4:])
    path = tmp_path / "lamp.ies"
    path.write_text(text)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        theirs = ies_to_ldt(str(path))
    for turn, row in zip(theirs.header.c_angles, theirs.intensities, strict=True):
        expected = np.array(row) * 2.5  # stored per 1000 lm
        np.testing.assert_allclose(
            ours.distribution.intensity(np.array(theirs.header.g_angles), turn), expected, rtol=1e-9
        )


def test_symmetry_is_unfolded():
    header, vertical, horizontal, rows = SHAPES["quadrant, 2002"]
    d = read_ies(ies(header, vertical, horizontal, rows)).distribution
    for turn in (30.0, 150.0, 210.0, 330.0):
        assert d.intensity(60, turn) == pytest.approx(d.intensity(60, 30.0))
    one_side = read_ies(ies(*SHAPES["one side, 1991"])).distribution
    assert one_side.intensity(45, 270) == pytest.approx(one_side.intensity(45, 90))


def test_absolute_files_ballast_and_included_tilt():
    header, vertical, horizontal, rows = SHAPES["round, 1995"]
    tilt = "TILT=INCLUDE\n1\n3\n0 45 90\n0.9 0.8 0.7"
    lamp = read_ies(
        ies(
            header,
            vertical,
            horizontal,
            rows,
            lumens=-1,
            ballast="0.5 1 90",
            tilt=tilt,
            unit=1,
            size="-1 0 0",
        )
    )
    assert lamp.lamp_lumens == -1
    assert lamp.distribution.peak == pytest.approx(900 * 0.5 * 0.9)
    assert lamp.size[0] == pytest.approx(-0.3048)


def test_lumens_of_known_shapes():
    cosine = from_function(lambda c, g: 1000 * np.cos(np.radians(g)) * (g <= 90))
    assert cosine.lumens == pytest.approx(1000 * np.pi, rel=1e-4)
    assert cosine.beam_angle == pytest.approx(120, abs=0.2)
    assert cosine.field_angle == pytest.approx(2 * np.degrees(np.arccos(0.1)), abs=0.2)
    everywhere = from_function(lambda c, g: 0 * g * c + 10.0, reach=180, symmetric=False)
    assert everywhere.lumens == pytest.approx(40 * np.pi, rel=1e-6)
    text = ies(["IESNA91"], [0, 90, 180], [0], [[10, 10, 10]])
    assert read_ies(text).distribution.lumens == pytest.approx(40 * np.pi, rel=1e-6)


@settings(max_examples=50)
@given(st.floats(5, 100), st.floats(1.2, 2.5), st.floats(10, 1e6))
def test_a_beam_has_the_angles_it_was_made_from(beam, ratio, peak):
    field = min(beam * ratio, 170)
    d = from_angles(peak, beam, field)
    assert d.peak == pytest.approx(peak)
    assert d.beam_angle == pytest.approx(beam, rel=0.01)
    assert d.field_angle == pytest.approx(field, rel=0.01)


def test_the_catalogue_is_plausible():
    assert len(HEADS) + len(ATTACHMENTS) >= 40
    for head in HEADS.values():
        # Tungsten gives 5 to 15 lm a watt at the lens, emitters of today 20 to 130; of a screen's
        # light its filters swallow nine tenths.
        low = 3 if head.of_place else 4 if head.dial > 2.5 else 20
        assert low < head.distribution.lumens / head.watts < 130, head.key
        assert (
            head.weight > 0
            and head.distance > 0
            and head.noise in (0, 1, 2)
            and 0 <= head.price < 4
        )
        assert head.source == "typical" and head.caution


GOOD = ies(*SHAPES["round, 1995"])
BROKEN = {
    "empty": ("", "no TILT"),
    "not text": ("\0\1\2TILT=NONE", "binary"),
    "cut short": (GOOD[: GOOD.rindex("500")], "cut short|ends in"),
    "not a number": (GOOD.replace("800", "8x0"), "'8x0'"),
    "NaN": (GOOD.replace("800", "nan"), "not a number"),
    "infinite": (GOOD.replace("800", "1e999"), "not a number"),
    "below zero": (GOOD.replace("800", "-800"), "below zero"),
    "huge claim": (GOOD.replace(" 5 1 1 2 ", " 100000 100000 1 2 "), "more than any lamp"),
    "negative count": (GOOD.replace(" 5 1 1 2 ", " -5 1 1 2 "), "whole number"),
    "type B": (ies(*SHAPES["round, 1995"], kind=2), "type B"),
    "type A": (ies(*SHAPES["round, 1995"], kind=3), "type A"),
    "tilt in another file": (GOOD.replace("TILT=NONE", "TILT=LAMP.TLT"), "another file"),
    "angles that fall": (GOOD.replace("0 15 30 60 90", "0 30 15 60 90"), "rise"),
    "all dark": (GOOD.replace("900 800 500 100 0", "0 0 0 0 0"), "no light"),
    "too large": ("x" * 500_000, "larger than"),
}


@pytest.mark.parametrize("name", BROKEN)
def test_a_file_that_cannot_be_read_says_why(name):
    text, words = BROKEN[name]
    with pytest.raises(PhotometryError, match=words):
        read_ies(text)


@settings(max_examples=200)
@given(st.binary(max_size=400), st.integers(0, len(GOOD)))
def test_no_bytes_break_the_reader(noise, at):
    for content in (noise, GOOD[:at].encode() + noise):
        try:
            read_ies(content)
        except PhotometryError as error:
            assert error.sentence
