"""Curves, sensors, depth, timing: against published values and definitions."""

import colour
import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from moth.camera import (
    ANGLES,
    HIGHEST,
    INDEXES,
    LAMPS,
    LOWEST,
    PLAIN,
    SPEEDS,
    STEPS,
    T_STOPS,
    bands_of,
    blur,
    curve_of,
    density,
    depth_of_field,
    equivalent_angle,
    flicker,
    frame_exposure,
    log_curve,
    noise,
    octave_table,
    sensor_of,
    set_for,
    stops_under,
)
from moth.document import Camera, LogCurve, Shutter
from moth.errors import MothError


def camera(**more):
    return Camera(**{"id": "c", "name": "c", "position": (0, 0, 1), "aim": (0, 1, 1), **more})


SIGNALS = np.array([0.0, 0.001, 0.0078, 0.01, 0.018, 0.05, 0.18, 0.5, 0.9, 1.0])


def test_bt709_is_the_recommendations():
    np.testing.assert_allclose(
        PLAIN["bt709"].encode(SIGNALS), colour.models.oetf_BT709(SIGNALS), atol=1e-4
    )
    assert PLAIN["bt709"].grey == pytest.approx(0.409, abs=5e-4)


def test_hlg_is_the_recommendations():
    scene = np.array([0, 0.01, 1 / 12, 0.26496256, 0.5, 1.0])
    hlg = PLAIN["hlg"]
    np.testing.assert_allclose(
        hlg.encode(scene * hlg.clip), colour.models.oetf_BT2100_HLG(scene), atol=1e-6
    )
    # ITU-R BT.2408-7, table 1: an 18 % card at 38 %, a 100 % white at 75 %.
    assert hlg.grey == pytest.approx(0.38, abs=0.005) and hlg.encode(1.0) == pytest.approx(0.75)


def test_acescct_is_the_academys():
    linear = np.array([0.0, 0.0078125, 0.18, 1.0, 10.0, 200.0])
    np.testing.assert_allclose(
        PLAIN["acescct"].encode(linear), colour.models.log_encoding_ACEScct(linear), atol=1e-9
    )
    # S-2016-001, table: 18 % grey is 0.4135884.
    assert PLAIN["acescct"].grey == pytest.approx(0.4135884, abs=1e-6)


@pytest.mark.parametrize("key", PLAIN)
def test_decoding_undoes_encoding(key):
    curve = PLAIN[key]
    linear = np.geomspace(1e-4, curve.clip, 60)
    np.testing.assert_allclose(curve.decode(curve.encode(linear)), linear, rtol=2e-3)
    code = curve.encode(np.linspace(0, 2 * curve.clip, 500))
    assert (np.diff(code) >= 0).all() and code[-1] == pytest.approx(1)


@given(st.floats(0.15, 0.6), st.floats(2, 10), st.floats(4, 14))
def test_a_log_curve_goes_through_its_three_facts(grey, over, under):
    try:
        curve = log_curve(grey, over, under)
    except MothError:
        assume(False)
    ends = 0.18 * 2.0 ** np.array([-under, 0, over])
    np.testing.assert_allclose(curve.encode(ends), [0, grey, 1], atol=1e-6)
    np.testing.assert_allclose(curve.decode([0, grey, 1]), ends, rtol=1e-5)
    assert curve.over == pytest.approx(over)


@pytest.mark.parametrize(
    "figures", [(0.05, 6, 8), (0.4, 0.5, 8), (0.4, 6, 40), (float("nan"), 6, 8)]
)
def test_a_log_curve_that_cannot_be_is_refused(figures):
    with pytest.raises(MothError):
        log_curve(*figures)


def test_a_camera_knows_its_curve():
    assert curve_of(
        camera(curve="log", log=LogCurve(grey=0.35, over=7, under=9))
    ).grey == pytest.approx(0.35)
    assert curve_of(camera(curve="hlg")).name == "BT.2100 HLG"


@given(st.floats(2.0**LOWEST * 1.01, 2.0**HIGHEST * 0.99))
def test_a_table_by_octaves_is_looked_up_by_the_bits_of_a_float(x):
    table = octave_table(np.log2)
    index = (int(np.float32(x).view(np.int32)) >> (23 - 8)) - ((127 + LOWEST) << 8)
    assert 0 <= index < len(table) == (HIGHEST - LOWEST) * STEPS
    if index:
        assert table[index] == pytest.approx(np.log2(x), abs=0.0029)


def test_noise_is_photons_and_reading():
    c = camera(sensor="super-35", iso=800, native_iso=800)
    s = sensor_of(c)
    # Middle grey frees so many electrons: their root and the reading's add in squares.
    assert noise(c, 0.18) / 0.18 == pytest.approx(
        np.sqrt(s.electrons + s.read_noise**2) / s.electrons
    )
    rng = np.random.default_rng(4)
    drawn = (
        (rng.poisson(s.electrons / 4, 200_000) + rng.normal(0, s.read_noise, 200_000))
        / s.electrons
        * 0.18
    )
    assert drawn.std() == pytest.approx(noise(c, 0.045), rel=0.01)
    # Two stops more of index, a quarter of the light for the same signal.
    assert stops_under(camera(iso=3200)) == pytest.approx(stops_under(c) - 2)


def test_bands_rise_from_the_floor_to_the_clip():
    for key in PLAIN:
        bands = bands_of(camera(curve=key))
        lows = [b.low for b in bands]
        assert (
            lows == sorted(lows)
            and bands[-1].key == "clipped"
            and bands[-1].low == pytest.approx(curve_of(camera(curve=key)).over)
        )


def test_depth_of_field_by_the_textbook():
    # 50 mm at T2.8 on full frame, circle diagonal / 1500: hyperfocal 32.5 m; set there, sharp from
    # half of it to infinity.
    c = camera(sensor="full-frame", focal_length=50, t_stop=2.8)
    d = depth_of_field(c, 3.0)
    circle = 0.036 * np.hypot(1, 9 / 16) / 1500
    assert d.hyperfocal == pytest.approx(0.05**2 / (2.8 * circle) + 0.05)
    at = depth_of_field(c, d.hyperfocal)
    assert np.isinf(at.far) and at.near == pytest.approx(d.hyperfocal / 2, rel=0.01)
    # At both ends of what is sharp the spot is as wide as the circle.
    for end in (d.near, d.far):
        assert blur(c, 3.0, end) * 0.036 == pytest.approx(circle, rel=1e-6)
    assert blur(camera(sensor="full-frame", focal_length=50, t_stop=5.6), 3, 6) == pytest.approx(
        blur(c, 3, 6) / 2
    )


def test_density_and_shutter_angle():
    assert [round(density(k), 1) for k in (1, 2, 3)] == [0.3, 0.6, 0.9]
    assert equivalent_angle(1 / 50, 24) == pytest.approx(172.8)
    assert equivalent_angle(1 / 48, 24) == pytest.approx(180)


@pytest.mark.parametrize(
    "fps, angle, mains, safe",
    [
        (24, 172.8, 50, True),
        (24, 180, 50, False),
        (25, 180, 50, True),
        (24, 144, 60, True),
        (23.976, 180, 60, False),
        (30, 180, 60, True),
    ],
)
def test_flicker_by_the_usual_table(fps, angle, mains, safe):
    assert (
        flicker(camera(fps=fps, shutter=Shutter(angle=angle)), mains, "led, dimmed by pulses").safe
        is safe
    )


@given(
    st.sampled_from([8, 23.976, 24, 25, 29.97, 48, 59.94, 96, 128]),
    st.floats(20, 360),
    st.sampled_from([50, 60]),
    st.sampled_from(sorted(LAMPS)),
)
def test_flicker_is_what_frames_see(fps, angle, mains, lamp):
    # By adding up the lamp's light over many frames at the times they are open.
    c = camera(fps=fps, shutter=Shutter(angle=angle))
    found = flicker(c, mains, lamp)
    time, w = angle / 360 / fps, 2 * np.pi * 2 * mains
    start = np.arange(400) / fps
    frames = 1 + LAMPS[lamp] * (np.sin(w * (start + time)) - np.sin(w * start)) / (w * time)
    # Frames that beat slowly may not show their whole range in 400; none shows more.
    assert frames.max() - frames.min() <= found.change + 1e-6
    if found.nearest is not None:
        again = flicker(camera(fps=fps, shutter=Shutter(time=found.nearest)), mains, lamp)
        # Slower than the lamp pulses, no shutter of a whole pulse fits into a frame.
        assert again.safe or fps > 2 * mains


@given(st.floats(-6, 6))
def test_every_way_to_set_for_a_difference_is_worth_it(over):
    c = camera(t_stop=4.0, iso=800, nd=3)
    base = frame_exposure(c)
    for answer in set_for(c, over):
        field = {"stop": "t_stop", "index": "iso", "angle": "shutter", "nd": "nd"}[answer.what]
        value = Shutter(angle=answer.value) if field == "shutter" else answer.value
        change = {field: value}
        taken = np.log2(base / frame_exposure(c.model_copy(update=change)))
        assert taken + answer.left == pytest.approx(over, abs=2e-3)


@given(st.floats(-2.5, 2.5), st.sampled_from([None, 50, 60]))
def test_a_setting_is_one_that_the_camera_has(over, speed):
    """Thirds of a stop leave a sixth, and what an engraved number is off; the filter is one of the
    bag.
    """
    shutter = Shutter(time=1 / speed) if speed else Shutter(angle=180)
    bag = (1, 2, 3, 6)
    c = camera(t_stop=5.6, iso=800, nd=3, fps=24, shutter=shutter, filters=bag)
    found = {a.what: a for a in set_for(c, over)}
    assert found["stop"].value in T_STOPS and abs(found["stop"].left) < 0.25
    assert found["index"].value in INDEXES and abs(found["index"].left) < 0.2
    assert found["nd"].value in (0, *bag)
    assert abs(3 + over - found["nd"].value) <= min(abs(3 + over - k) for k in (0, *bag)) + 1e-9
    if speed:
        time = found["time"].value
        assert round(1 / time) in SPEEDS and time <= 1 / 24
    else:
        assert found["angle"].value in ANGLES
