"""A ceiling that is partly missing: dark over it, lamps in it, and nothing else changed."""

import io

import numpy as np
import pytest
import trimesh

from moth.card.drawing import Line, plan_of
from moth.document import load
from moth.errors import DocumentError, MothError, PlacementError
from moth.glb import to_glb
from moth.metering import read_setup
from moth.solving import make
from moth.tests.scenes import BLACK_ROOM, data
from moth.world import build_world, check_placement

ALL = {"low": [-1, -1], "high": [20, 20]}


def room_with(gaps, **more):
    return {**data()["room"], **more, "gaps": gaps}


def levels(scene):
    return {m.id: m.lux for m in read_setup(scene).marks}


@pytest.mark.parametrize("seed", range(4))
def test_a_ceiling_that_is_missing_is_a_ceiling_that_sends_nothing_back(seed):
    """Over rooms drawn at random, plain ones and L-shaped, level and sloped."""
    draw = np.random.default_rng(seed)
    paint = {
        k: {"reflectance": float(draw.uniform(0.1, 0.8))}
        for k in ("floor", "north", "south", "east", "west")
    }
    more = {**paint, "height": float(draw.uniform(2.4, 4)), "rise": float(draw.choice([0, 1.2]))}
    if seed % 2:
        corners = [(0, 0), (6, 0), (6, 7), (2, 7), (2, 5), (0, 5)]
        more["outline"] = [{"at": list(c)} for c in corners]
    black = load(data(room={**data()["room"], **more, "ceiling": {"reflectance": 0.0}}))
    none = load(data(room=room_with([ALL], **more)))
    one, other = levels(black), levels(none)
    assert one == pytest.approx(other, rel=0.015)
    # And half of it missing lies between.
    half = levels(load(data(room=room_with([{"low": [0, 0], "high": [6, 3.5]}], **more))))
    whole = levels(load(data(room={**data()["room"], **more})))
    mean = [np.mean(list(found.values())) for found in (other, half, whole)]
    assert mean[0] < mean[1] < mean[2]


def hung(place, gap):
    lamp = {
        "id": "k",
        "name": "Top",
        "head": "point-150",
        "position": place,
        "aim": [3, 3.2, 1.2],
        "held": "hung",
    }
    room = {**data()["room"], **BLACK_ROOM, "gaps": [gap]}
    return load(data(room=room, units=[lamp]))


def test_a_lamp_in_the_loft_shines_through_the_gap_and_not_through_the_ceiling():
    """Alone in the black, by the inverse square of the way through the gap."""
    place = [3, 4.2, 5.5]
    gap = {"low": [2, 3], "high": [4, 5]}
    scene = hung(place, gap)
    check_placement(scene)
    point, way = np.array([3, 3.6, 1.6]), np.array([0, 0.3, 2])
    mark = {
        "id": "m",
        "name": "M",
        "position": point.tolist(),
        "direction": way.tolist(),
        "receiver": "disc",
    }
    # What a meter said of it on its axis: 4,000 cd.
    lamp = {
        **scene.units[0].model_dump(),
        "aim": point.tolist(),
        "measured": {"lux": 1000, "distance": 2},
    }
    through = load({**scene.model_dump(), "marks": [mark], "units": [lamp]})
    level = next(m.lux for m in read_setup(through).marks if m.id == "mark:m")
    to = np.array(place) - point
    far = np.linalg.norm(to)
    facing = (to / far) @ way / np.linalg.norm(way)
    assert level == pytest.approx(4000 * facing / far**2, rel=0.01)
    shut = load({**through.model_dump(), "room": {**scene.room.model_dump(), "gaps": []}})
    with pytest.raises(PlacementError, match="in the ceiling"):
        check_placement(shut)
    gaps = [{"low": [0, 0], "high": [1, 1]}]
    beside = load({**through.model_dump(), "room": {**scene.room.model_dump(), "gaps": gaps}})
    assert next(m.lux for m in read_setup(beside).marks if m.id == "mark:m") < 1e-3 * level


@pytest.mark.parametrize(
    "place, words",
    [([3, 4, 3.005], ""), ([5, 6, 2.995], "in the ceiling"), ([3, 4, 9.5], "over the loft")],
)
def test_where_lamps_can_hang(place, words):
    scene = hung(place, {"low": [2, 3], "high": [4, 5]})
    if not words:
        return check_placement(scene)
    with pytest.raises(PlacementError, match=words):
        check_placement(scene)


def test_a_gap_needs_its_corners_in_order():
    with pytest.raises(DocumentError, match="south-west"):
        load(data(room=room_with([{"low": [3, 3], "high": [2, 5]}])))


def test_nothing_is_bounced_off_a_ceiling_that_is_missing():
    with pytest.raises(MothError, match="missing there"):
        make(load(data(room=room_with([ALL]))), "key", "bounce-ceiling")


def test_the_plan_on_paper_tells_where_the_ceiling_is_missing():
    parts = plan_of(load(data(room=room_with([{"low": [1, -9], "high": [3, 3]}])))).parts
    dashed = [p.ends for p in parts if isinstance(p, Line) and p.layer == "walls" and p.dashed]
    assert len(dashed) == 4
    assert {c for ends in dashed for c in ends} == {(1, 0), (3, 0), (3, 3), (1, 3)}


def test_the_dark_over_a_set_is_no_thing_of_its_model():
    scene = load(data(room=room_with([{"low": [1, 1], "high": [3, 3]}])))
    model = trimesh.load(io.BytesIO(to_glb(scene)), file_type="glb")
    room = next(g for name, g in model.geometry.items() if name.startswith("Room"))
    assert np.ptp(room.vertices, axis=0).max() < 7.1
    assert build_world(scene).mesh.vertices[:, 2].max() == pytest.approx(9.0)
