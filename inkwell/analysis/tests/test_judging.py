"""Judging, walking, comparing and matching over the API."""

import io
import math

import numpy as np
import pytest
from PIL import Image

from moth.document import load
from moth.judging import picture_of
from moth.metering import read_ratios
from moth.tests.scenes import data, moved


def test_a_draft_is_judged_and_nothing_is_stored(hand, setup):
    url = f"/api/setups/{setup.pk}"
    document = data(
        order={
            "plan": "natural",
            "steps": [{"key": "key"}, {"key": "fill", "state": "skipped", "reason": "no room"}],
        },
        fixed=[{"thing": "@backdrop", "stops": 0}],
        profile={"name": "Own", "targets": [{"what": "skin", "stops": 0}]},
    )
    told = hand.call("POST", f"{url}/judge", {"document": document, "step": "tenth"}).json()
    assert [s["key"] for s in told["order"]] == ["key", "fill"] and told["order"][1][
        "reason"
    ] == "no room"
    assert (
        told["targets"][0]["off"] == pytest.approx(told["targets"][0]["sits"])
        and told["fixed"][0]["name"] == "the backdrop"
    )
    assert {r["key"] for r in told["ratios"]} == {"fill", "backdrop"}
    # The key side's step and the look's reading are one reading.
    look = hand.look(setup.pk, {"document": document, "picture": False, "step": "tenth"})
    mark = next(m for m in look["readings"]["marks"] if m["id"] == "key-side")
    assert mark["stop_words"] in told["order"][0]["words"] and told["order"][0]["met"] == (
        abs(mark["against_camera"]) <= 0.34
    )
    assert hand.get(url).json()["version"] == 1


def test_layers_the_frame_has_are_those_that_are_judged(hand, setup):
    url = f"/api/setups/{setup.pk}"
    look = hand.look(setup.pk, {"client": "t"})
    for keys in look["layers"].values():
        assert hand.get(f"{url}/layers/{keys['coarse']}").status_code == 200
    document = load(data())
    for told, own in zip(
        hand.call("POST", f"{url}/judge", {}).json()["ratios"],
        read_ratios(document, picture_of(document)),
        strict=True,
    ):
        assert told["linear"] == pytest.approx(own.linear, rel=0.01)


def test_a_walk_and_what_stops_it(hand, setup):
    url = f"/api/setups/{setup.pk}/walk"
    told = hand.call("POST", url, {"angle": 90, "distance": 1.0}).json()
    assert (
        told["path"][0]["stops"] == 0
        and len(told["acting"]["stops"]) == told["acting"]["cells"] ** 2
    )
    dark = hand.call("POST", url, {"document": data(units=[])})
    assert dark.status_code == 422 and "dark at the mark" in dark.json()["detail"]
    assert hand.call("POST", url, {"distance": 99}).status_code == 422


def test_against_a_document_a_setup_a_revision(hand, setup):
    url = f"/api/setups/{setup.pk}"
    changed = moved(data(title="Second"), "units", 0, dimmer=0.25)
    other = hand.call("POST", f"/api/scenes/{setup.scene_id}/import", changed).json()
    hand.call(
        "PUT",
        url,
        {
            "document": moved(data(), "units", 1, dimmer=0.9),
            "base_version": 1,
            "gesture": "fill up",
        },
    )
    by_document = hand.call("POST", f"{url}/compare", {"other": changed}).json()
    by_setup = hand.call("POST", f"{url}/compare", {"setup": other["id"]}).json()
    assert by_document["rows"] == by_setup["rows"] and by_setup["title"] == "Second"
    assert any(r["what"] == "Key" and r["stops"] == pytest.approx(1) for r in by_setup["rows"])
    first = hand.call("POST", f"{url}/compare", {"revision": 1}).json()
    assert "revision 1" in first["title"] and [
        r["what"] for r in first["rows"] if r["kind"] == "unit"
    ] == ["Fill"]
    for wrong, status in (
        ({}, 422),
        ({"revision": 1, "setup": other["id"]}, 422),
        ({"revision": 77}, 404),
        ({"setup": 999999}, 404),
    ):
        assert hand.call("POST", f"{url}/compare", wrong).status_code == status


def test_against_another_state_of_the_place(hand, setup):
    """The draft itself with what that state has kept; its picture is of that light too."""
    url = f"/api/setups/{setup.pk}"
    now = data()
    dials = ("id", "on", "dimmer", "cct")
    kept = [{k: v for k, v in u.items() if k in dials} for u in now["units"]]
    states = [
        {"id": "day", "name": "Day", "units": kept},
        {"id": "night", "name": "Night", "units": [{**kept[0], "dimmer": 0.125}]},
    ]
    now |= {"states": states, "state": "day"}
    sent = {"document": now, "base_version": 1, "gesture": "night"}
    version = hand.call("PUT", url, sent).json()["version"]
    night = hand.call("POST", f"{url}/compare", {"state": "night"}).json()
    assert night["title"] == "Night"
    unit = {r["what"]: r for r in night["rows"] if r["kind"] == "unit"}
    key = now["units"][0]
    assert unit["Key"]["stops"] == pytest.approx(math.log2(key.get("dimmer", 1) / 0.125), abs=0.01)
    # What the state has not kept was brought in since, and is off there.
    assert "on, there off" in unit["Fill"]["words"]
    assert hand.call("POST", f"{url}/compare", {"state": "day"}).json()["rows"] == []
    assert hand.call("POST", f"{url}/compare", {"state": "dusk"}).status_code == 422
    matched = hand.call("POST", f"{url}/match", {"state": "night"}).json()["document"]
    assert matched["units"][0]["dimmer"] < 0.6 * key.get("dimmer", 1)
    bright, dim = (
        np.asarray(
            Image.open(
                io.BytesIO(hand.get(f"{url}/thumbnail.png?version={version}{state}").content)
            ),
            float,
        ).mean()
        for state in ("", "&state=night")
    )
    assert dim < 0.7 * bright
    assert hand.get(f"{url}/thumbnail.png?version={version}&state=dusk").status_code == 422


def test_a_strangers_setup_is_no_reference(hands, setup):
    scene = hands["stranger"].call("POST", "/api/productions", {"title": "Elsewhere"}).json()
    made = (
        hands["stranger"]
        .call("POST", f"/api/productions/{scene['id']}/scenes", {"title": "Yard"})
        .json()
    )
    theirs = hands["stranger"].call("POST", f"/api/scenes/{made['id']}/import", data()).json()
    for way in ("compare", "match"):
        assert (
            hands["owner"]
            .call("POST", f"/api/setups/{setup.pk}/{way}", {"setup": theirs["id"]})
            .status_code
            == 404
        )


def test_matched_dimmers_read_as_the_other_did(hand, setup):
    url = f"/api/setups/{setup.pk}"
    away = moved(moved(data(), "units", 0, dimmer=0.08), "units", 1, dimmer=0.9)
    found = hand.call("POST", f"{url}/match", {"document": away, "revision": 1}).json()
    looks = [
        hand.look(setup.pk, {"document": d, "picture": False})["readings"]["marks"]
        for d in (found["document"], data())
    ]
    for a, b in zip(*looks, strict=True):
        assert abs(np.log2(a["lux"] / b["lux"])) < 0.1, found["words"]
    assert hand.get(url).json()["version"] == 1


@pytest.mark.parametrize(
    "change",
    [
        {"fixed": [{"thing": "UPPER"}]},
        {"fixed": [{"thing": "key"}, {"thing": "key"}]},
        {"order": {"plan": "natural", "steps": []}},
        {"profile": {"name": "x", "targets": [{"what": "skin"}]}},
    ],
)
def test_what_cannot_be_kept_is_refused_and_loses_nothing(hand, setup, change):
    response = hand.call(
        "PUT",
        f"/api/setups/{setup.pk}",
        {"document": data(**change), "base_version": 1, "gesture": "x"},
    )
    assert (
        response.status_code == 422
        and response.json()["detail"]
        and hand.get(f"/api/setups/{setup.pk}").json()["version"] == 1
    )
