"""Revisions, undo and redo, looking, files, and everything that must be refused."""

import io
import json
import struct

import pytest
from PIL import Image

from inkwell.rendering.jobs import COARSE, FULL
from inkwell.setups.models import Revision, Setup
from moth.tests.scenes import data, moved


def edit(hand, setup, document, version, gesture="moved"):
    return hand.call(
        "PUT",
        f"/api/setups/{setup.pk}",
        {"document": document, "base_version": version, "gesture": gesture},
    )


def test_each_gesture_is_a_revision_and_undo_walks_over_them(hand, setup):
    for k in range(1, 4):
        stored = edit(hand, setup, moved(data(), "units", 0, dimmer=k / 10), k, f"dimmer {k}")
        assert stored.json()["version"] == k + 1
    path = f"/api/setups/{setup.pk}"
    undone = hand.call("POST", path + "/undo", {"base_version": 4}).json()
    assert undone["document"]["units"][0]["dimmer"] == 0.2 and undone["redo"] == "dimmer 3"
    undone = hand.call("POST", path + "/undo", {"base_version": 5}).json()
    redone = hand.call("POST", path + "/redo", {"base_version": 6}).json()
    assert redone["document"]["units"][0]["dimmer"] == 0.2 and redone["version"] == 7
    # A new gesture after an undo drops the redo, not the revision.
    fresh = edit(hand, setup, moved(data(), "units", 0, dimmer=0.9), 7, "brighter").json()
    assert fresh["redo"] is None and Revision.objects.filter(setup=setup).count() == 5
    listed = hand.get(path + "/revisions").json()
    assert [r["gesture"] for r in listed][:2] == ["brighter", "dimmer 3"] and listed[0][
        "parent"
    ] == 3
    assert hand.call("POST", path + "/redo", {"base_version": 8}).status_code == 422


def test_revisions_are_never_changed(setup):
    with pytest.raises(TypeError):
        setup.current.save()


def test_a_stale_write_gets_the_newer_document_and_loses_nothing(hand, hands, setup):
    newer = moved(data(), "units", 0, dimmer=0.33)
    assert edit(hands["owner"], setup, newer, 1).status_code == 200
    stale = edit(hand, setup, moved(data(), "units", 0, dimmer=0.77), 1)
    assert stale.status_code == 409
    assert stale.json()["document"]["units"][0]["dimmer"] == 0.33 and stale.json()["version"] == 2
    assert Setup.objects.get(pk=setup.pk).version == 2
    assert hand.call("POST", f"/api/setups/{setup.pk}/undo", {"base_version": 1}).status_code == 409


REFUSED = [
    (moved(data(), "units", 1, dimmer=3), "units[1].dimmer"),
    (moved(data(), "units", 0, position=[9, 3, 1]), "units[0].position"),
    (moved(data(), "units", 0, position=[3.0, 3.1, 1.2]), "units[0].position"),
    (moved(data(), "units", 0, head="moonbeam"), "units[0].head"),
    (moved(data(), "units", 0, ies="TILT=NONE\n1 nan"), "units[0].ies"),
    (moved(data(), "units", 0, aim=[4.4, 4.4, 2.0]), "units[0]"),
    (
        data(
            furniture=[{"id": "b", "name": "Cabinet", "position": [3, 5.5, 0], "size": [1, 1, 2]}]
        ),
        "cameras[0].position",
    ),
    (
        data(
            furniture=[{"id": "b", "name": "Cabinet", "position": [3, 5.5, 0], "size": [0, 1, 2]}]
        ),
        "furniture[0].size[0]",
    ),
    (data(figures=[]), "figures"),
    (data(schema_version=9), "schema_version"),
]


@pytest.mark.parametrize("document,path", REFUSED, ids=[p for _, p in REFUSED])
def test_a_document_that_cannot_be_is_refused_and_nothing_changes(document, path, hand, setup):
    for answer in (
        edit(hand, setup, document, 1),
        hand.call("POST", f"/api/setups/{setup.pk}/look", {"document": document}),
    ):
        assert answer.status_code == 422
        assert answer.json()["path"] == path and len(answer.json()["detail"]) > 10
    assert Revision.objects.filter(setup=setup).count() == 1


@pytest.mark.parametrize(
    "body",
    [
        b"",
        b"{",
        b"\xff\xfe",
        b"[]",
        b"null",
        b'{"schema_version": NaN}',
        b"[" * 50_000,
        b'{"schema_version": 1}',
    ],
)
def test_a_broken_file_is_refused_with_words(body, hand, scene):
    answer = hand.call("POST", f"/api/scenes/{scene.pk}/import", body)
    assert answer.status_code == 422 and answer.json()["detail"]
    assert not scene.setups.exists()


@pytest.mark.parametrize(
    "body",
    [b"{", b"\xff\xfe\x00", b"[]", b'"x"', b'{"document": {"units": [[[]]]}, "base_version": "x"}'],
)
def test_a_broken_request_is_no_500(body, hand, setup):
    answer = hand.call("PUT", f"/api/setups/{setup.pk}", body)
    assert 400 <= answer.status_code < 500 and answer["Content-Type"] == "application/problem+json"


def test_bodies_over_the_limit_are_refused(hand, scene, setup):
    for path, method in (
        (f"/api/scenes/{scene.pk}/import", "POST"),
        (f"/api/setups/{setup.pk}", "PUT"),
    ):
        assert hand.call(method, path, b" " * 2_600_000).status_code == 413
        # A claim alone is enough: nothing of a gigabyte is read.
        assert hand.call(method, path, b"{}", CONTENT_LENGTH="1000000000").status_code == 413


def test_a_file_goes_out_and_comes_back(hand, setup, scene):
    out = hand.get(f"/api/setups/{setup.pk}/export")
    assert out["Content-Disposition"] == 'attachment; filename="test-set-up.setup.json"'
    back = hand.call("POST", f"/api/scenes/{scene.pk}/import", out.content)
    assert back.status_code == 201 and back.json()["document"] == json.loads(out.content)


def test_a_new_set_up_is_a_dark_stage_with_a_person(hand, scene):
    made = hand.call("POST", f"/api/scenes/{scene.pk}/setups", {"title": "Chart store"}).json()
    assert made["document"]["units"] == [] and made["document"]["title"] == "Chart store"
    look = hand.look(made["id"], {})
    # It is framed by a work light, by which nothing is metered.
    assert look["readings"]["sentence"] == "No units yet: the stage is dark."
    assert list(look["layers"]) == list(look["levels"]) == ["@work"]


def test_a_look_has_readings_gains_and_layers(hand, setup):
    look = hand.look(setup.pk, {"client": "t1"})
    assert set(look["layers"]) == set(look["colours"]) == {"key", "fill"}
    assert look["readings"]["key"] == "key" and look["exposure"] > 0
    dimmed = hand.look(
        setup.pk, {"client": "t1", "document": moved(data(), "units", 0, dimmer=0.1)}
    )
    assert dimmed["layers"] == look["layers"]  # a dimmer never causes a render
    for name, size in (("coarse", COARSE), ("full", FULL)):
        layer = hand.get(f"/api/setups/{setup.pk}/layers/{look['layers']['key'][name]}").content
        magic, width, height, _, count = struct.unpack("<4sHHfI", layer[:16])
        assert (magic, width, height) == (b"IML1", *size) and len(
            layer
        ) == 16 + 4 * width * height + 12 * count
    solo = hand.call("POST", f"/api/setups/{setup.pk}/look", {"only": "ghost"})
    assert solo.status_code == 422


def test_the_thumbnail_is_lit(hand, setup):
    answer = hand.get(f"/api/setups/{setup.pk}/thumbnail.png?version=1")
    image = Image.open(io.BytesIO(answer.content))
    assert image.size == COARSE and max(high for _, high in image.getextrema()) > 60


def test_unknown_addresses_are_problems(hand):
    assert hand.get("/api/nothing").status_code == 404
    assert hand.get("/api/setups/99999999").json()["title"] == "Not found"
    assert hand.get("/api/setups/x").status_code == 404


def test_the_demo_loads_twice_without_harm(db):
    from django.core.management import call_command

    for _ in range(2):
        call_command("load_demo", stdout=io.StringIO())
    assert Setup.objects.filter(title="Keeper, instrument room").count() == 1
