"""Looking into a unit, mapping levels, rigging in one move, over HTTP."""

import pytest

from moth.photometry import read_photometry
from moth.solving import MOVES
from moth.tests.scenes import data, moved

BOARD = {
    "id": "b",
    "name": "Board",
    "kind": "board",
    "material": "foam-white",
    "position": [4.6, 4.2, 1.6],
    "aim": [3.2, 4.0, 1.4],
    "size": [1.2, 1.2],
}
WINDOW = {"id": "w", "name": "Window", "wall": "east", "along": 3.5, "up": 1.5, "size": [1.2, 1.0]}


def test_the_catalogue_is_whole(hand):
    found = hand.get("/api/constants").json()
    assert (
        len(found["heads"]) + len(found["attachments"]) >= 40
        and len(found["materials"]) > 30
        and len(found["moves"]) == len(MOVES)
    )
    assert all(
        a["settings"] == [] or {"key", "low", "high", "default"} <= set(a["settings"][0])
        for a in found["attachments"]
    )


def test_the_model_is_saved_by_members_only(hands, setup):
    url = f"/api/setups/{setup.pk}/model"
    found = hands["viewer"].get(url)
    assert found.status_code == 200 and found.content[:4] == b"glTF"
    assert found.headers["Content-Type"] == "model/gltf-binary"
    assert ".glb" in found.headers["Content-Disposition"]
    assert hands["stranger"].get(url).status_code == 404


def test_one_unit_under_the_glass(hand, setup):
    url = f"/api/setups/{setup.pk}/inspect"
    found = hand.call("POST", url, {"unit": "key"}).json()
    assert (
        found["origin"] == "lamp"
        and found["stages"][-1]["name"] == "On the face"
        and found["lux"] > 0
        and found["faults"] == []
    )
    assert sum(w["share"] for w in found["ways"]) == pytest.approx(1, abs=0.01)
    assert hand.call("POST", url, {"unit": "ghost"}).status_code == 422
    tenths = hand.call("POST", url, {"unit": "key", "step": "tenth"}).json()
    assert tenths["lux"] == pytest.approx(found["lux"])


def test_levels_are_mapped(hand, setup):
    url = f"/api/setups/{setup.pk}/map"
    found = hand.call("POST", url, {"plane": "east"}).json()
    assert len(found["lux"]) == found["columns"] * found["rows"] and max(found["lux"]) > 0
    assert hand.call("POST", url, {"plane": "moon"}).status_code == 422
    assert hand.call("POST", url, {"plane": "floor", "only": "ghost"}).status_code == 422


def test_a_rig_is_made_and_nothing_is_stored(hand, setup):
    url = f"/api/setups/{setup.pk}/rig"
    made = hand.call("POST", url, {"document": data(), "unit": "key", "move": "book"}).json()
    assert (
        [g["kind"] for g in made["document"]["grip"]] == ["board", "frame"]
        and "book light" in made["gesture"]
        and "Local codes" in made["caution"]
    )
    assert hand.get(f"/api/setups/{setup.pk}").json()["document"]["grip"] == []
    for wrong, path in (
        ({"move": "levitate"}, "move"),
        ({"unit": "ghost"}, "unit"),
        ({"material": "cheese"}, "material"),
    ):
        answer = hand.call(
            "POST", url, {"document": data(), "unit": "key", "move": "book", **wrong}
        )
        assert answer.status_code == 422 and answer.json()["path"] == path
    out = hand.call(
        "POST",
        url,
        {
            "document": {**data(), "room": {**data()["room"], "outdoors": True}},
            "unit": "key",
            "move": "bounce-wall",
        },
    )
    assert out.status_code == 422 and "outdoors" in out.json()["detail"]


def test_a_flag_is_found_and_nothing_is_stored(hand, setup):
    url = f"/api/setups/{setup.pk}/flag"
    asked = {"document": data(), "unit": "key", "thing": "@backdrop"}
    found = hand.call("POST", url, asked)
    assert found.status_code == 200, found.content
    made = found.json()
    assert made["document"]["grip"][-1]["kind"] == "flag"
    assert "the backdrop loses" in made["gesture"] and "licensed people decide" in made["caution"]
    assert hand.get(f"/api/setups/{setup.pk}").json()["version"] == 1
    for wrong, word in ({"unit": "x"}, "no unit"), ({"thing": "furniture:x"}, "nothing called"):
        refused = hand.call("POST", url, {**asked, **wrong})
        assert refused.status_code == 422 and word in refused.json()["detail"]


def test_boards_are_tried_one_by_one_for_a_ratio(hand, setup):
    url = f"/api/setups/{setup.pk}/board"
    asked = {"document": data(), "target": 1.1, "side": "left", "at": 0}
    found = hand.call("POST", url, asked)
    assert found.status_code == 200, found.content
    tried = found.json()
    assert tried["of"] == 12 and tried["words"]
    if tried["document"]:
        assert tried["document"]["grip"][-1]["id"] == "board-1"
    else:
        assert tried["off"] is None or abs(tried["off"]) > 0.09
    assert hand.call("POST", url, {**asked, "at": 12}).status_code == 422
    assert hand.call("POST", url, {**asked, "target": 99}).status_code == 422


def test_a_sheet_is_stood_up_and_what_is_to_be_minded_is_told(hand, setup):
    document = data(grip=[BOARD])
    asked = {"document": document, "grip": "b"}
    made = hand.call("POST", f"/api/setups/{setup.pk}/stand", {**asked, "by": "boom"}).json()
    (board,) = made["document"]["grip"]
    assert board["held"] == "boom" and board["foot"] and "boomed" in made["gesture"]
    held = {"document": made["document"], "grip": "b"}
    told = hand.call("POST", f"/api/setups/{setup.pk}/holding", held).json()
    assert told["fault"] == "" and "a leg under the load" in told["words"][0]
    for path in ("stand", "holding"):
        url = f"/api/setups/{setup.pk}/{path}"
        refused = hand.call("POST", url, {**asked, "grip": "none"})
        assert refused.status_code == 422 and "no piece of grip" in refused.json()["detail"]


def test_a_cloth_of_ones_own(hand):
    body = {"material": "silk", "id": "own-silk", "name": "Our silk", "with_it": 30, "without": 100}
    made = hand.call("POST", "/api/materials/calibrate", body).json()
    assert made["straight"] + made["forward"] + made["through"] == pytest.approx(0.3)
    for wrong in ({"with_it": 120}, {"material": "cheese"}, {"material": "foam-white"}):
        assert hand.call("POST", "/api/materials/calibrate", {**body, **wrong}).status_code == 422


@pytest.mark.parametrize("kind", ["ies", "ldt"])
def test_a_units_light_goes_out_as_a_file(hand, setup, kind):
    text = hand.get(f"/api/setups/{setup.pk}/units/key/photometry.{kind}").content.decode("latin-1")
    lamp = read_photometry(text)
    look = hand.look(setup.pk, {"picture": False})
    assert lamp.distribution.lumens == pytest.approx(
        look["readings"]["units"][0]["lumens"], rel=0.01
    )
    assert hand.get(f"/api/setups/{setup.pk}/units/ghost/photometry.{kind}").status_code == 404


def test_grip_and_windows_go_through_the_whole_way(hand, setup):
    document = data(
        grip=[BOARD], openings=[WINDOW], sky={"sun": {"azimuth": 90, "elevation": 30}}, haze=0.02
    )
    stored = hand.call(
        "PUT",
        f"/api/setups/{setup.pk}",
        {"document": document, "base_version": setup.version, "gesture": "grip in"},
    )
    assert stored.status_code == 200
    look = hand.look(setup.pk, {"client": "t"})
    assert (
        set(look["layers"])
        == {"key", "fill", "@sky", "@sun"}
        == set(look["levels"])
        == set(look["colours"])
    )
    brighter = hand.look(
        setup.pk,
        {"client": "t", "document": {**document, "sky": {**document["sky"], "level": 20_000}}},
    )
    assert (
        brighter["layers"] == look["layers"]
        and brighter["levels"]["@sky"] == 2 * look["levels"]["@sky"]
    )  # a level never causes a render
    turned = hand.look(
        setup.pk, {"client": "t", "document": moved(document, "grip", 0, aim=[3.2, 4.4, 1.4])}
    )
    assert turned["layers"]["key"] != look["layers"]["key"]
    assert (
        len(hand.get(f"/api/setups/{setup.pk}/layers/{turned['layers']['@sun']['coarse']}").content)
        > 192 * 108 * 4
    )


@pytest.mark.parametrize(
    "fault, path",
    [
        ({"grip": [{**BOARD, "material": "cheese"}]}, "grip[0].material"),
        ({"grip": [{**BOARD, "position": [9, 1, 1]}]}, "grip[0].position"),
        ({"grip": [{**BOARD, "aim": BOARD["position"]}]}, "grip[0]"),
        ({"grip": [{**BOARD, "size": [0, 1]}]}, "grip[0].size[0]"),
        ({"openings": [{**WINDOW, "along": 0.1}]}, "openings[0]"),
        ({"openings": [{**WINDOW, "cover": "cheese"}]}, "openings[0].cover"),
        ({"haze": 3}, "haze"),
        (
            {"materials": [{"id": "m", "name": "m", "reflectance": 0.9, "through": 0.9}]},
            "materials[0]",
        ),
        (
            {"units": [{**data()["units"][0], "attachments": [{"key": "moon"}]}]},
            "units[0].attachments[0].key",
        ),
    ],
)
def test_what_cannot_be_is_said_with_its_place(hand, setup, fault, path):
    answer = hand.call(
        "POST", f"/api/setups/{setup.pk}/look", {"document": data(**fault), "picture": False}
    )
    assert (
        answer.status_code == 422
        and path in answer.json()["path"]
        and len(answer.json()["detail"]) > 15
    )
