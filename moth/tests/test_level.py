"""A unit brought to a level: proved by metering it again."""

import numpy as np
import pytest

from moth.camera import key_level
from moth.errors import DocumentError
from moth.metering import read_setup
from moth.solving import with_level
from moth.tests.scenes import BLACK_ROOM, data, setup


def brought(scene, unit):
    return next(r.face_lux for r in read_setup(scene).units if r.id == unit)


@pytest.mark.parametrize(("unit", "stops"), [("key", 0), ("fill", -2)])
def test_a_unit_comes_in_at_the_cameras_stop(unit, stops):
    scene = with_level(setup(), unit).setup
    assert brought(scene, unit) == pytest.approx(key_level(scene.cameras[0]) * 2**stops, rel=1e-3)
    others = [u for u in scene.units if u.id != unit]
    assert others == [u for u in setup().units if u.id != unit]


def test_levels_drawn_at_random_are_reached_or_the_rest_is_told():
    rng = np.random.default_rng(7)
    for lux in 10 ** rng.uniform(0, 5, 12):
        found = with_level(setup(), "key", float(lux))
        got = brought(found.setup, "key")
        assert np.log2(got / lux) == pytest.approx(found.off, abs=0.01)
        assert ("cannot go further" in found.words) == (abs(found.off) >= 0.05)


def test_a_background_unit_is_metered_on_the_backdrop():
    wash = {
        **data()["units"][0],
        "id": "wash",
        "name": "Wash",
        "role": "background",
        "head": "panel-2x1",
        "position": [5.2, 2.0, 2.2],
        "aim": [3, 0, 1.2],
    }
    scene = with_level(setup(units=[*data()["units"], wash]), "wash").setup
    mark = next(m for m in read_setup(scene).marks if m.id == "backdrop")
    assert mark.by_unit["wash"] == pytest.approx(key_level(scene.cameras[0]) / 2, rel=1e-3)


def test_a_unit_that_lights_nothing_there_and_one_that_is_not_there():
    away = {**data()["units"][0], "aim": [6, 7, 2.0], "head": "point-60"}
    found = with_level(setup(units=[away], room={**data()["room"], **BLACK_ROOM}), "key")
    assert "lights nothing" in found.words or found.off <= 0
    with pytest.raises(DocumentError):
        with_level(setup(), "nobody")
