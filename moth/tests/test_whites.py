"""Whites on the face against the camera's: arithmetic in mired, set-ups made at odds and at one."""

import pytest

from moth.judging import picture_of, read_picture
from moth.judging.whites import mired_off
from moth.tests.scenes import BLACK_ROOM, data, setup


def told(key=5600, fill=5600, balance=5600, sideways=False, **more):
    units = data()["units"]
    if sideways:
        # From either side, so that neither reaches the other's cheek.
        units[0] |= {"position": [4.9, 3.1, 1.4]}
        units[1] |= {"position": [1.1, 3.1, 1.4], "dimmer": 1.0}
    units[0] |= {"cct": key, "head": "softbox-small", **more}
    units[1] |= {"cct": fill, "head": "panel-small"}
    camera = {**data()["cameras"][0], "white_balance": balance}
    made = setup(
        units=units, cameras=[camera], room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}
    )
    found = read_picture(made, picture_of(made))
    return {r.key.split()[2]: r for r in found if r.kind == "whites"}


@pytest.mark.parametrize(
    ("lamps", "balance", "word"),
    [
        (5600, 5600, "agrees"),
        (3200, 3200, "agrees"),
        (4300, 4700, "agrees"),
        (5600, 3200, "blue"),
        (3200, 5600, "amber"),
        (2700, 5600, "amber"),
        (4000, 5600, "amber"),
    ],
)
def test_lamps_and_camera_at_odds_are_told_in_mired(lamps, balance, word):
    found = told(lamps, lamps, balance)
    key = found["key-side"]
    assert key.word == word
    assert key.figure == pytest.approx(mired_off(lamps, balance), abs=6)
    assert (key.verdict == "well") == (word == "agrees")
    assert "apart" not in found


def test_two_whites_on_one_face_are_told_and_one_is_not():
    found = told(key=3000, fill=6500, balance=4000, sideways=True)
    assert found["apart"].figure == pytest.approx(abs(mired_off(3000, 6500)), rel=0.25)
    assert found["key-side"].word == "amber" and found["fill-side"].word == "blue"
    assert "apart" not in told(key=5200, fill=6000, sideways=True)


def test_a_green_lamp_is_green():
    assert told(green=0.9)["key-side"].word == "green"
    assert told(green=-0.9)["key-side"].word == "magenta"
