"""Exposure, colour, signal, the mixed frame, the bytes of a layer, readings."""

import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from moth.camera import (
    DOME,
    bt709,
    frame_exposure,
    incident_illuminance,
    incident_stop,
    mix,
    shutter_time,
)
from moth.colour import planckian_uv, unit_gain, white_xyz
from moth.document import Shutter
from moth.metering import read_setup
from moth.photometry import HEADS
from moth.tests.scenes import BLACK_ROOM, data, moved, setup
from moth.transport import Layer, encode_layer, layer_key, sources
from moth.transport.encoding import pack_rgb9e5, unpack_rgb9e5
from moth.units import footcandles
from moth.wording import THIRDS


def test_incident_exposure_follows_iso_2720():
    # N^2 / t = E S / C
    assert incident_stop(1000, 100, 1 / 50, 250) ** 2 * 50 == pytest.approx(1000 * 100 / 250)
    assert incident_stop(
        incident_illuminance(5.6, 800, 0.02, DOME), 800, 0.02, DOME
    ) == pytest.approx(5.6)
    assert shutter_time(Shutter(angle=172.8), 24) == pytest.approx(0.02)
    assert shutter_time(Shutter(time=1 / 48), 24) == pytest.approx(1 / 48)


def test_each_control_of_the_camera_is_worth_its_stops():
    base = setup().cameras[0]
    gain = frame_exposure(base)
    for change, stops in (
        ({"t_stop": base.t_stop * 2**0.5}, -1),
        ({"iso": 1600}, 1),
        ({"nd": 2}, -2),
        ({"fps": 50}, -1),
        ({"shutter": Shutter(angle=90)}, -1),
    ):
        assert np.log2(frame_exposure(base.model_copy(update=change)) / gain) == pytest.approx(
            stops
        )


def test_bt709_reference_values():
    theirs = colour.models.oetf_BT709(np.array([0.0, 0.01, 0.018, 0.1, 0.18, 0.5, 1.0]))
    np.testing.assert_allclose(bt709([0.0, 0.01, 0.018, 0.1, 0.18, 0.5, 1.0]), theirs, atol=1e-4)


@pytest.mark.parametrize("kelvin", [2000, 2856, 3200, 4300, 5600, 6500, 10000])
def test_whites_lie_on_the_planckian_locus(kelvin):
    spectrum = colour.sd_blackbody(kelvin)
    xyz = colour.sd_to_XYZ(spectrum)
    uv = colour.UCS_to_uv(colour.XYZ_to_UCS(xyz))
    np.testing.assert_allclose(planckian_uv(kelvin), uv, atol=4e-4)
    x, y, z = white_xyz(kelvin, 0.5)
    assert colour.UCS_to_uv(colour.XYZ_to_UCS([x, y, z]))[1] > uv[1]  # green lies above


@given(st.floats(2000, 10000), st.floats(-1, 1))
def test_a_unit_in_balance_is_neutral(kelvin, green):
    np.testing.assert_allclose(unit_gain(kelvin, green, kelvin, green), 1, atol=1e-9)


def test_warm_light_is_warm_and_keeps_its_level():
    gain = unit_gain(3200, 0, 5600, 0)
    assert gain[0] > gain[1] > gain[2] > 0
    assert gain @ [0.2126, 0.7152, 0.0722] == pytest.approx(1, abs=1e-3)
    green = unit_gain(5600, 0.5, 5600, 0)
    assert green[1] > green[0] and green[1] > green[2]


@given(st.lists(st.tuples(*[st.floats(0, 60000)] * 3), min_size=1, max_size=30))
def test_shared_exponent_keeps_nine_bits(pixels):
    rgb = np.array(pixels)
    back = unpack_rgb9e5(pack_rgb9e5(rgb))
    assert (np.abs(back - rgb) <= rgb.max(1, keepdims=True) / 511 + 2e-5).all()


def test_a_layer_is_about_four_bytes_a_pixel():
    layer = Layer(
        np.full((36, 64, 3), 5e5, np.float32), np.array([3]), np.array([9.0]), np.array([1.0])
    )
    data_ = encode_layer(layer)
    assert len(data_) == 16 + 64 * 36 * 4 + 12
    scale = np.frombuffer(data_[8:12], "<f4")[0]
    np.testing.assert_allclose(
        unpack_rgb9e5(np.frombuffer(data_[16:20], "<u4")) * scale, 5e5, rtol=0.003
    )


def test_the_mix_is_the_sum_of_layers_times_gains():
    scene = setup(cameras=[{**data()["cameras"][0], "white_balance": 5600}])
    camera = scene.cameras[0]
    empty = np.zeros(0, np.int64), np.zeros(0), np.zeros(0)
    level = 0.18 / frame_exposure(camera)
    # Both heads are bicolour: at 5600 K each gives what that mixture leaves, of the same white as
    # the camera's.
    level /= np.mean([HEADS[u.head].output(5600) for u in scene.units])
    layers = {u.id: Layer(np.full((2, 2, 3), level, np.float32), *empty) for u in scene.units}
    frame = mix(scene, camera, layers)  # two units at half: middle grey
    assert (frame == round(255 * float(bt709(0.18)))).all()
    dark = setup(units=[{**u, "on": False} for u in data()["units"]])
    assert mix(dark, dark.cameras[0], layers).max() == 0


def test_keys_change_with_geometry_only():
    base = data()
    key = lambda document: layer_key(
        s := setup(**document), s.cameras[0], sources(s)[0], (480, 270)
    )
    first = key(base)
    for same in (
        {"dimmer": 0.1},
        {"cct": 3200},
        {"green": 0.5},
        {"on": False},
        {"name": "Sun"},
        {"role": "edge"},
    ):
        assert key(moved(base, "units", 0, **same)) == first
    for other in (
        {"position": [4.4, 4.4, 2.1]},
        {"aim": [3, 3, 1.3]},
        {"head": "tube-2ft"},
        {"roll": 10},
    ):
        assert key(moved(base, "units", 0, **other)) != first
    assert key(moved(base, "cameras", 0, t_stop=8)) == first
    assert key(moved(base, "cameras", 0, focal_length=85)) != first
    assert key(moved(base, "figures", 0, spectacles=True)) != first
    assert key(moved(base, "units", 1, position=[1.8, 4.9, 1.4])) == first


def read(document, **kw):
    reading = read_setup(setup(**document), **kw)
    return reading, {m.id: m for m in reading.marks}


def test_a_stop_on_the_dimmer_is_a_stop_on_the_meter():
    full, marks = read(moved(data(), "units", 1, on=False))
    half, dimmed = read(moved(moved(data(), "units", 1, on=False), "units", 0, dimmer=0.25))
    assert marks["chin"].lux / dimmed["chin"].lux == pytest.approx(2)
    assert marks["chin"].against_camera - dimmed["chin"].against_camera == pytest.approx(1)
    assert marks["chin"].footcandles == pytest.approx(marks["chin"].lux / 10.7639, rel=1e-4)


def test_both_schools_of_ratio_are_what_they_say():
    reading, marks = read(data())
    by_hand = marks["key-side"].lux / marks["fill-shaded"].lux
    assert reading.ratios.combined.ratio == pytest.approx(by_hand)
    key_alone, fill_alone = (
        read(data(), only="key")[1]["key-side"].lux,
        read(data(), only="fill")[1]["fill-toward"].lux,
    )
    assert reading.ratios.single.ratio == pytest.approx(key_alone / fill_alone)
    assert reading.ratios.combined.stops == pytest.approx(np.log2(by_hand))
    assert "(key+fill : fill)" in reading.sentence


def test_a_solo_reads_one_unit_and_tells_no_ratio():
    _, everything = read(data())
    alone, marks = read(moved(data(), "units", 1, on=True), only="fill")
    assert marks["chin"].by_unit["key"] == 0
    assert marks["chin"].lux == pytest.approx(everything["chin"].by_unit["fill"])
    assert all(told.ratio is None for told in vars(alone.ratios).values())


def test_a_white_room_fills_itself():
    alone = moved(data(), "units", 1, on=False)
    ratios = []
    for reflectance in (0.05, 0.8):
        sides = {side: {"reflectance": reflectance} for side in BLACK_ROOM}
        reading, _ = read({**alone, "room": {**alone["room"], **sides}})
        ratios.append(reading.ratios.combined.ratio)
        assert (
            reading.ratios.single.ratio is None
            and "no unit or board is the fill" in reading.ratios.single.words
        )
    assert ratios[0] > 4 * ratios[1] > 4
    dark, _ = read({**alone, "units": [{**u, "on": False} for u in alone["units"]]})
    assert "dark" in dark.sentence


def test_stops_in_words():
    assert [THIRDS.stop(n) for n in (2.83, 3.17, 3.56, 0.3, 200)] == [
        "T2.8",
        "T2.8 + ⅓",
        "T2.8 + ⅔",
        "below T0.5",
        "over T90",
    ]
    assert [THIRDS.difference(d) for d in (-2.34, 0.33, 1, -0.1)] == ["−2⅓", "+⅓", "+1", "0"]
    assert footcandles(107.639104) == pytest.approx(10)
