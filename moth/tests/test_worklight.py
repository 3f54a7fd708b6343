"""The light that an unlit set-up is framed by."""

import numpy as np
import pytest

import moth
from moth.camera import WORK, by_work_light, key_level
from moth.document import load
from moth.metering import read_setup
from moth.tests.scenes import data

WALLS = ("floor", "ceiling", "north", "south", "east", "west")


@pytest.mark.parametrize("seed", range(6))
def test_by_it_a_face_is_neither_black_nor_blown_in_any_room(seed):
    draw = np.random.default_rng(seed)
    room = {
        "width": float(draw.uniform(4, 14)),
        "depth": float(draw.uniform(6.5, 16)),
        "height": float(draw.uniform(2.4, 6)),
        **{wall: {"reflectance": float(draw.uniform(0.05, 0.9))} for wall in WALLS},
    }
    camera = {
        "id": "a",
        "name": "A",
        "position": [3, 5.5, 1.25],
        "aim": [3, 3, 1.2],
        "t_stop": float(draw.choice([1.4, 2.8, 8])),
        "iso": int(draw.choice([100, 800, 3200])),
        "white_balance": float(draw.uniform(3000, 6500)),
    }
    bare = load(data(units=[], room=room, cameras=[camera]))
    framed = by_work_light(bare)
    chin = next(m for m in read_setup(framed).marks if m.id == "chin")
    # Straight it brings 0.6 of what the camera asks for; the brightest room adds over a stop.
    assert 0.45 < chin.lux / key_level(bare.cameras[0]) < 2.2
    frame = moth.render(framed, (96, 54))
    middle = frame[14:34, 38:58].astype(float)
    assert 45 < middle.mean() < 215
    # White to the camera, whatever it is balanced for.
    red, _, blue = (middle.reshape(-1, 3).mean(0)[k] for k in range(3))
    assert blue > 0.55 * red


def test_it_is_no_part_of_the_set_up():
    bare = load(data(units=[]))
    assert [u.id for u in by_work_light(bare).units] == [WORK] and bare.units == ()
    assert read_setup(bare).key is None and not read_setup(bare).units
    lit = load(data())
    assert by_work_light(lit) is lit
    # What is only switched off is seen as it is.
    off = load(data(units=[{**data()["units"][0], "on": False}]))
    assert by_work_light(off) is off
    window = {"id": "w", "name": "W", "wall": "east", "along": 3, "up": 1.5, "size": [1, 1]}
    day = load(data(units=[], openings=[window]))
    assert by_work_light(day) is day
    # By a window that is blacked out nothing comes in, and the frame would be black.
    shut = load(data(units=[], openings=[{**window, "cover": "blackout"}]))
    assert [u.id for u in by_work_light(shut).units] == [WORK]
