"""Stills from a file to a set-up."""

import io

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from inkwell.stills import services
from inkwell.stills.models import Still
from moth.stills.marks import MarkedLight, Marks, Record
from moth.tests.known_stills import drawn

SEED = 38
"""Of a still whose key is told by both eyes and the nose, and whose shadow is on the wall."""


def png(size=(64, 36), colour=(200, 120, 60)):
    file = io.BytesIO()
    Image.new("RGB", size, colour).save(file, "PNG")
    return file.getvalue()


def sent(hand, production, data, title="Lamp room", name="still.png"):
    return hand.post(
        f"/api/productions/{production.pk}/stills",
        {"title": title, "file": SimpleUploadedFile(name, data)},
        headers={"X-CSRFToken": hand.token},
    )


@pytest.fixture(scope="module")
def known():
    return drawn(SEED, (960, 540))


@pytest.fixture
def still(hand, production, known):
    """The known still, brought in, its marks stored."""
    made = sent(hand, production, known.file).json()
    body = {
        "title": made["title"],
        "version": made["version"],
        "record": known.record.model_dump(mode="json"),
        "marks": known.marks.model_dump(mode="json"),
    }
    answer = hand.call("PUT", f"/api/stills/{made['id']}", body)
    assert answer.status_code == 200, answer.content
    return answer.json()


def asked(known):
    return {
        "record": known.record.model_dump(mode="json"),
        "marks": known.marks.model_dump(mode="json"),
    }


def test_a_still_is_kept_seen_by_members_only_and_gone_for_good(hands, hand, production):
    made = sent(hand, production, png())
    assert made.status_code == 201, made.content
    pk = made.json()["id"]
    assert (made.json()["width"], made.json()["height"]) == (64, 36)
    picture = f"/api/stills/{pk}/picture.jpg"
    shown = Image.open(io.BytesIO(hands["viewer"].get(picture).content)).convert("RGB")
    assert all(
        abs(a - b) < 6 for a, b in zip(shown.getpixel((30, 18)), (200, 120, 60), strict=True)
    )
    assert hands["stranger"].get(picture).status_code == 404
    assert sent(hands["viewer"], production, png()).status_code == 403
    assert hands["viewer"].call("DELETE", f"/api/stills/{pk}").status_code == 403
    assert hand.call("DELETE", f"/api/stills/{pk}").status_code == 204
    assert not Still.objects.exists() and hand.get(picture).status_code == 404


@pytest.mark.parametrize(
    "data, says",
    [
        (b"", "cannot be read"),
        (b"no picture at all", "cannot be read"),
        (png()[:60], "cannot be read"),
        (png((8, 8)), "smaller than 16"),
    ],
)
def test_what_is_no_picture_is_refused_with_a_sentence(hand, production, data, says):
    answer = sent(hand, production, data)
    assert answer.status_code == 422 and says in answer.json()["detail"], answer.content
    assert not Still.objects.exists()


def test_a_shelf_of_stills_is_bounded(hand, production, monkeypatch):
    monkeypatch.setattr(services, "KEPT", 1)
    assert sent(hand, production, png()).status_code == 201
    assert "delete one first" in sent(hand, production, png()).json()["detail"]


def test_marks_are_read_as_they_were_made(hands, still, known):
    read = hands["viewer"].call("POST", f"/api/stills/{still['id']}/read", asked(known))
    assert read.status_code == 200, read.content
    told = read.json()
    key = told["lights"][0]
    assert abs(key["angle"]["value"] - known.truth["angle"]) < 10
    assert abs(key["height"]["value"] - known.truth["height"]) < 10
    assert abs(told["sides"]["stops"] - known.truth["ratio"]) < 0.25
    assert abs(told["framing"]["distance"]["value"] / known.truth["distance"] - 1) < 0.1
    assert len(told["outline"]) > 30


def test_two_hands_do_not_undo_each_other(hands, hand, still):
    body = {k: still[k] for k in ("title", "version", "record", "marks")}
    first = hand.call("PUT", f"/api/stills/{still['id']}", {**body, "title": "Mine"})
    second = hands["owner"].call("PUT", f"/api/stills/{still['id']}", {**body, "title": "Theirs"})
    assert first.status_code == 200 and second.status_code == 409
    assert Still.objects.get().title == "Mine"


def test_a_still_is_shown_by_its_curve(hand, still):
    before = hand.get(f"/api/stills/{still['id']}/picture.jpg").content
    body = {k: still[k] for k in ("title", "version", "record", "marks")}
    body["record"] = {**body["record"], "curve": "linear"}
    hand.call("PUT", f"/api/stills/{still['id']}", body)
    assert hand.get(f"/api/stills/{still['id']}/picture.jpg").content != before


def test_its_light_is_built_and_what_differs_is_told_and_mended(hand, still, scene, known):
    path = f"/api/stills/{still['id']}"
    built = hand.call("POST", f"{path}/build", {"scene": scene.pk, "title": "As in the still"})
    assert built.status_code == 201, built.content
    pk = built.json()["setup"]
    made = hand.get(f"/api/setups/{pk}").json()
    assert [u["role"] for u in made["document"]["units"]] == ["key"]
    told = hand.call("POST", f"{path}/differences", {"setup": pk})
    assert told.status_code == 200, told.content
    # Built from it, it comes from where the still's light came from.
    assert not [d for d in told.json() if d["kind"] in ("direction", "camera")], told.json()
    # On the other side it comes from elsewhere and lights the other cheek: both are told, and it is
    # carried back by its own words.
    document = made["document"]
    unit = document["units"][0]
    x, y, z = unit["position"]
    wide = document["room"]["width"]
    unit["position"] = [wide - x, y, z]
    # A draft is held against it as well as what is stored.
    kept = hand.call("POST", f"{path}/differences", {"setup": pk}).json()
    asked = {"setup": pk, "document": document}
    drafted = hand.call("POST", f"{path}/differences", asked).json()
    assert drafted != kept and "direction" in {d["kind"] for d in drafted}
    body = {"document": document, "base_version": made["version"], "gesture": "moved"}
    moved = hand.call("PUT", f"/api/setups/{pk}", body).json()
    told = hand.call("POST", f"{path}/differences", {"setup": pk}).json()
    assert [d["what"] for d in told if d["kind"] == "level"] == ["Shade side"], told
    patches = next(d["patches"] for d in told if d["kind"] == "direction")
    mend = {"setup": pk, "version": moved["version"], "patches": patches, "gesture": "as"}
    assert hand.call("POST", f"{path}/mend", mend).status_code == 200
    told = hand.call("POST", f"{path}/differences", {"setup": pk}).json()
    assert not [d for d in told if d["kind"] == "direction"], told


def test_without_a_key_nothing_is_built_and_it_is_said(hand, production, scene):
    made = sent(hand, production, png((640, 360))).json()
    path = f"/api/stills/{made['id']}"
    body = {"scene": scene.pk, "title": "Nothing"}
    assert "both eyes" in hand.call("POST", f"{path}/build", body).json()["detail"]
    read = {"record": Record().model_dump(mode="json"), "marks": Marks().model_dump(mode="json")}
    told = hand.call("POST", f"{path}/read", read).json()
    assert told["framing"] is None and "both eyes" in told["framing_words"]


def test_marks_outside_reason_are_refused(hand, still):
    light = MarkedLight(id="key", name="Key").model_dump(mode="json")
    for marks in (
        {"sources": [light, light]},
        {"spots": [{"at": [7, 7]}]},
        {"edges": [{"kind": "upright", "a": [0.5, 0.5], "b": [0.5, 0.5]}]},
        {"head": {"eye_left": [float("nan"), 0]}},
    ):
        body = {"record": {}, "marks": marks}
        answer = hand.call("POST", f"/api/stills/{still['id']}/read", body)
        assert answer.status_code == 422, (marks, answer.content)
