"""Marks put by pointing lie where the frame shows them."""

import numpy as np
import pytest

from moth.errors import MothError
from moth.inspection.pointing import pointed_at
from moth.metering import OFF_SKIN
from moth.tests.scenes import data, setup
from moth.transport import project
from moth.world import landmarks


@pytest.mark.parametrize("seed", range(6))
def test_what_is_pointed_at_shows_there_and_faces_the_lens(seed):
    draw = np.random.default_rng(seed)
    scene = setup()
    x, y = draw.uniform(0.02, 0.98, 2)
    found = pointed_at(scene, x, y)
    normal = np.array(found.direction)
    surface = np.array(found.position) - OFF_SKIN * normal
    shown = project(scene.cameras[0], [surface])[0]
    assert shown == pytest.approx((x, y), abs=1e-4)
    assert normal @ (np.array(scene.cameras[0].position) - surface) > 0
    assert np.linalg.norm(normal) == pytest.approx(1)


def test_a_face_takes_a_dome_and_a_table_a_disc_by_its_name():
    table = {
        "id": "t",
        "name": "Chart table",
        "position": [3.0, 4.4, 0],
        "size": [1.2, 0.6, 0.75],
    }
    camera = {
        "id": "a",
        "name": "A",
        "position": [3, 6.6, 1.9],
        "aim": [3, 3.2, 0.9],
        "focal_length": 18,
    }
    scene = setup(furniture=[table], cameras=[camera])
    x, y = project(scene.cameras[0], [landmarks(scene.figures[0])["nose_tip"]])[0]
    face = pointed_at(scene, x, y)
    assert (face.name, face.receiver) == (scene.figures[0].name, "dome")
    x, y = project(scene.cameras[0], [(3.0, 4.5, 0.75)])[0]
    top = pointed_at(scene, x, y)
    assert (top.name, top.receiver) == ("'Chart table'", "disc")
    assert top.direction == pytest.approx((0, 0, 1)) and top.position[2] == pytest.approx(
        0.75 + OFF_SKIN, abs=1e-4
    )


def test_the_open_sky_holds_no_meter():
    room = {**data()["room"], "outdoors": True}
    camera = {"id": "a", "name": "A", "position": [3, 6, 1.2], "aim": [3, 3, 2.5]}
    with pytest.raises(MothError, match="only sky"):
        pointed_at(setup(room=room, cameras=[camera]), 0.02, 0.02)
