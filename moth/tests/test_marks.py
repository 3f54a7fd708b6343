"""Where the meter is held, and what it says there."""

import numpy as np
import pytest

from moth.metering import lay_out, read_setup
from moth.photometry import HEADS
from moth.tests.scenes import BLACK_ROOM, data, moved, setup
from moth.wording import TENTHS, THIRDS
from moth.world import build_world, landmarks


def places(document):
    scene = setup(**document)
    return dict(lay_out(scene).marks), scene


def test_standard_marks_are_just_off_the_skin_and_point_where_they_say():
    marks, scene = places(data())
    body = build_world(scene).mesh.vertices[slice(*build_world(scene).mesh.figures[0][:2])]
    for name in ("key-side", "chin", "fill-side"):
        assert 0.008 < np.linalg.norm(body - marks[name].position, axis=1).min() < 0.03, name
    lens, key = np.array(scene.cameras[0].position), np.array(scene.units[0].position)
    for name, target in (("chin", lens), ("fill-side", lens), ("key-side", key)):
        toward = target - marks[name].position
        assert marks[name].direction @ toward / np.linalg.norm(toward) == pytest.approx(1)
    assert marks["backdrop"].position[1] == pytest.approx(0.005, abs=1e-5) and marks[
        "backdrop"
    ].direction == pytest.approx((0, 1, 0))


def test_the_key_side_follows_the_key():
    left, scene = places(data())
    right, _ = places(moved(data(), "units", 0, position=[1.6, 4.4, 2.0]))
    face = landmarks(scene.figures[0])
    # The lens looks south: camera left is east, the person's own left hand.
    by = lambda mark, cheek: np.linalg.norm(np.array(mark.position) - face[cheek])
    assert by(left["key-side"], "cheek_right") < by(left["key-side"], "cheek_left")
    assert by(right["key-side"], "cheek_left") < by(right["key-side"], "cheek_right")
    np.testing.assert_allclose(left["key-side"].position, right["fill-side"].position)


def test_the_key_is_the_one_that_is_called_so_or_the_strongest():
    document = data()
    assert lay_out(setup(**document)).key == "key"
    for unit in document["units"]:
        unit["role"] = "other"
    assert lay_out(setup(**document)).key == "key"
    document["units"][0]["on"] = False
    assert lay_out(setup(**document)).key == "fill"


def test_a_mark_of_ones_own_reads_the_square_law():
    lamp = {
        **data()["units"][0],
        "head": "point-60",
        "position": [3, 6.5, 1.5],
        "aim": [3, 0, 1.5],
        "dimmer": 1,
    }
    spots = [
        {
            "id": f"m{d}",
            "name": f"{d} m",
            "position": [3, 6.5 - d, 1.5],
            "direction": [0, 1, 0],
            "receiver": "disc",
        }
        for d in (1, 2)
    ]
    document = data(
        units=[lamp],
        marks=spots,
        figures=[{"id": "s", "name": "s", "position": [0.6, 0.6]}],
        cameras=[{"id": "a", "name": "A", "position": [5.5, 5.5, 1.5], "aim": [1, 1, 1.2]}],
        room={"width": 6, "depth": 7, "height": 3, **BLACK_ROOM},
    )
    reading = {m.id: m for m in read_setup(setup(**document)).marks}
    assert reading["mark:m1"].lux / reading["mark:m2"].lux == pytest.approx(4, rel=0.01)
    off = reading["mark:m1"].against_camera - reading["mark:m2"].against_camera
    assert off == pytest.approx(2, abs=0.01)
    assert reading["mark:m1"].lux == pytest.approx(9500 * HEADS["point-60"].output(5600), rel=0.01)


def test_a_second_figure_has_marks_of_its_own():
    document = data()
    document["figures"].append(
        {"id": "pilot", "name": "Pilot", "position": [1.2, 3], "pose": "standing"}
    )
    reading = {m.id: m for m in read_setup(setup(**document)).marks}
    assert {"chin", "pilot-chin", "pilot-key-side"} <= set(reading) and reading[
        "pilot-chin"
    ].name.startswith("Pilot: ")


def test_a_hand_keeps_only_the_key_off():
    reading = {m.id: m for m in read_setup(setup()).marks}
    assert (
        0
        < reading["fill-shaded"].by_unit["key"]
        <= reading["fill-toward"].by_unit["key"]
        < reading["fill-side"].by_unit["key"]
    )  # what the room sends of it stays
    assert reading["fill-shaded"].by_unit["fill"] == reading["fill-toward"].by_unit["fill"]


def test_tenths_and_thirds_say_the_same_light():
    thirds, tenths = (read_setup(setup(), say=s).marks[1] for s in (THIRDS, TENTHS))
    assert thirds.stop == tenths.stop and (
        "/10" in tenths.stop_words or tenths.stop_words.count(" ") == 0
    )
