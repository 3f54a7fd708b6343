"""Sentences that must not contradict their own numbers."""

import numpy as np
import pytest

from moth.camera import flicker
from moth.card import level_card
from moth.document import Camera, Shutter, bare
from moth.judging.comparing import _both
from moth.metering import read_setup
from moth.metering.readings import stop_reading
from moth.tests.scenes import data, setup
from moth.units import meant
from moth.wording import THIRDS


def stops_said(words):
    """Stops from T1 that such words as T4 + 2/3 or T4 + 3/10 stand for."""
    full, _, rest = words.removeprefix("T").partition(" + ")
    exact = round(2 * np.log2(float(full)))
    part = {"": 0.0, "⅓": 1 / 3, "⅔": 2 / 3}.get(rest)
    return exact + (float(rest.split("/")[0]) / 10 if part is None else part)


def test_two_stops_side_by_side_differ_as_the_light_does():
    """ "T5.6 for T4 + ⅔, 0.1 stop up" says a third and a tenth of one difference."""
    rng = np.random.default_rng(11)
    for stop, off in zip(rng.uniform(1, 30, 200), rng.uniform(-2, 2, 200), strict=True):
        here, there = _both(stop, stop / 2 ** (off / 2), off, THIRDS).split(" for ")
        assert stops_said(here) - stops_said(there) == pytest.approx(off, abs=0.17)


def test_a_readings_stop_and_its_difference_from_the_camera_say_the_same():
    """ "T2 + ⅔, 0 on the camera" was said at T2.8: 2.8 is engraved where 2.83 is meant."""
    rng = np.random.default_rng(12)
    for lux in 10 ** rng.uniform(1, 4, 300):
        camera = setup().cameras[0].model_copy(update={"t_stop": rng.choice([2.8, 5.6, 11.0, 4.0])})
        _, words, off = stop_reading(lux, "dome", camera, THIRDS)
        said = round(2 * np.log2(meant(camera.t_stop))) + round(3 * off) / 3
        if said > 0:
            assert stops_said(words) == pytest.approx(said, abs=1e-6)


def test_no_shutter_is_offered_that_is_longer_than_its_frame():
    """432 degrees were."""
    at = {"id": "c", "name": "c", "position": (0, 0, 1), "aim": (0, 1, 1)}
    for fps in (24, 25, 50, 60, 96, 120, 200, 240):
        for mains in (50, 60):
            camera = Camera(**at, fps=fps, shutter=Shutter(time=1 / 500))
            found = flicker(camera, mains, "fluorescent, magnetic")
            assert found.nearest is None or found.nearest <= 1 / fps + 1e-9


def test_a_lit_fill_side_is_not_called_dark():
    key = data()["units"][0]
    ratios = read_setup(setup(units=[key])).ratios
    assert ratios.combined.ratio > 1
    assert ratios.single.words == "no unit or board is the fill"
    off = {**data()["units"][1], "on": False}
    assert "no light on" not in read_setup(setup(units=[key, off])).ratios.single.words


def test_a_card_of_a_night_tells_of_no_sky_and_a_blue_lamp_is_no_white_one():
    window = {"id": "w", "name": "w", "wall": "east", "along": 3, "up": 1.5, "size": [1, 1]}
    dark = level_card(setup(openings=[window], sky={"on": False, "level": 8000}))
    assert dark.sky is None
    assert level_card(setup(openings=[{**window, "cover": "blackout"}])).sky is None
    assert "8000" in level_card(setup(openings=[window], sky={"level": 8000})).sky
    blue = {**data()["units"][0], "head": "point-colour", "hue": 220, "saturation": 0.8}
    assert level_card(setup(units=[blue])).units[0].white == "hue 220°, 80 % saturated"
    assert level_card(setup()).units[0].white == "5600 K"
    assert bare().title
