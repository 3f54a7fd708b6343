"""Ids are the user's own: none changes the light or is taken for a thing of the program's."""

import dataclasses

import pytest

from moth.document import load
from moth.inspection import inspect_unit
from moth.judging import can_be_fixed, picture_of, read_order
from moth.metering import lay_out, read_setup
from moth.solving import make
from moth.tests.scenes import data
from moth.transport import sources

BOARD = {
    "id": "board",
    "name": "Board",
    "kind": "board",
    "material": "foam-white",
    "position": [1.6, 3.4, 1.3],
    "aim": [3, 3, 1.2],
    "size": [1.2, 1.2],
}
HOT = {
    "id": "hot",
    "name": "Hot head",
    "head": "fresnel-650",
    "position": [1.9, 3.5, 1.3],
    "aim": [1.6, 3.4, 1.3],
}


def renamed(document, kind, before, after):
    return {
        **document,
        kind: [{**k, "id": after if k["id"] == before else k["id"]} for k in document[kind]],
    }


def levels(document):
    found = read_setup(load(document))
    return [m.lux for m in found.marks], found.ratios.combined.ratio


@pytest.mark.parametrize("name", ["room", "lamp", "mirror", "sky", "key"])
def test_a_board_may_be_called_anything(name):
    document = data(grip=[BOARD])
    assert levels(renamed(document, "grip", "board", name)) == levels(document)


@pytest.mark.parametrize("name", ["sky", "sun", "backdrop", "skin"])
def test_a_unit_may_be_called_anything(name):
    document = data(openings=[WINDOW], sky={"sun": {"azimuth": 90, "elevation": 30}})
    called = load(renamed(document, "units", "fill", name))
    assert len({s.id for s in sources(called)}) == 4
    assert read_setup(called).ratios == read_setup(load(document)).ratios
    held = called.model_copy(update={"fixed": load({**document, "fixed": HELD}).fixed})
    picture = picture_of(held)
    assert picture.signal("skin") == picture_of(load(document)).signal("skin")
    assert read_order(held, picture)


WINDOW = {
    "id": "key",
    "name": "Window",
    "wall": "east",
    "along": 3,
    "up": 1.5,
    "size": [1.2, 1.2],
}
HELD = [{"thing": "window:key", "stops": 1}, {"thing": "key", "stops": 0}, {"thing": "@sun"}]


def test_a_window_a_unit_and_the_sun_are_held_apart():
    scene = load(data(openings=[WINDOW], sky={"sun": {}}, fixed=HELD))
    offered = dict(can_be_fixed(scene))
    assert {"window:key": "Window", "key": "Key", "@sun": "the sun"}.items() <= offered.items()


@pytest.mark.parametrize("name", ["key-side", "chin", "fill-shaded"])
def test_a_mark_of_ones_own_stands_beside_the_standard_ones(name):
    mark = {"id": name, "name": "Door", "position": [0.5, 0.5, 1], "direction": [0, 0, 1]}
    plain, marked = lay_out(load(data())).marks, lay_out(load(data(marks=[mark]))).marks
    assert len(marked) == len(plain) + 1
    for key, place in plain.items():
        assert marked[key].position == place.position
    assert marked[f"mark:{name}"].name == "Door"


def test_the_same_geometry_under_other_ids_is_read_and_warned_of_alike():
    """The world of the first is kept and used for the second: what it says must be the second's."""
    first = data(grip=[BOARD])
    first["units"] = [*first["units"], HOT]
    second = renamed(renamed(first, "grip", "board", "wing"), "units", "hot", "boiler")
    second["grip"][0]["name"] = "Wing"
    one, other = inspect_unit(load(first), "hot"), inspect_unit(load(second), "boiler")
    assert any("Board is" in f and "keep at least" in f for f in one.faults)
    assert any("Wing is" in f and "keep at least" in f for f in other.faults)
    assert [w.share for w in one.ways] == [w.share for w in other.ways]
    assert "Wing" in [w.name for w in other.ways] + [
        s.name.removeprefix("On ") for s in other.stages
    ]


def test_the_grip_on_a_lights_way_is_found_by_the_light_and_not_by_its_name():
    scene = make(load(data()), "key", "book")
    renamed_grip = [g.model_copy(update={"name": f"Piece {k}"}) for k, g in enumerate(scene.grip)]
    scene = scene.model_copy(update={"grip": tuple(renamed_grip)})
    assert inspect_unit(scene, "key").grip == tuple(g.id for g in scene.grip)
    # What spills on a cloth in passing goes by it too; the board behind it is the key's alone.
    board = next(g.id for g in scene.grip if g.kind == "board")
    assert board not in inspect_unit(scene, "fill").grip
    thrown = make(load(data()), "key", "mirror")
    assert inspect_unit(thrown, "key").grip == (thrown.grip[0].id,)


def test_a_mirror_of_the_programs_own_move_credits_its_own_unit():
    scene = make(load(data()), "key", "mirror")
    by_name = {w.name: w.share for w in inspect_unit(scene, "fill").ways}
    glass = scene.grip[0]
    assert by_name.get(glass.name, 0) < 0.05
    assert by_name["straight from the lamp"] > 0.5
    assert dataclasses.is_dataclass(lay_out(scene))
