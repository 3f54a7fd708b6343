"""What the screen asks while a hand moves: looks, layers, the lens; and what becomes of questions
nobody waits for.
"""

import json
import threading

import numpy as np
import pytest
from asgiref.sync import async_to_sync

from inkwell.rendering.jobs import COARSE, FULL
from inkwell.rendering.service import engine
from inkwell.setups.services import create
from moth.errors import MothError
from moth.metering import read_setup
from moth.tests.scenes import data, moved
from moth.tests.scenes import setup as small_scene
from moth.transport import decode_layer, layer_key, sources
from moth.wording import THIRDS


def halves(response):
    return np.frombuffer(response.content, "<f2").astype(float).reshape(FULL[1], FULL[0])


@pytest.fixture
def quiet(monkeypatch):
    """A queue that nobody works at: what waits, waits."""
    queue = engine().queue
    monkeypatch.setattr(queue, "_begin", lambda: None)
    return queue


def test_a_look_names_the_layers_that_then_come(hand, setup):
    url = f"/api/setups/{setup.pk}"
    look = hand.look(setup.pk, {"document": data(), "client": "one"})
    assert set(look["layers"]) == {"key", "fill"} == set(look["colours"]) == set(look["levels"])
    document = small_scene()
    for source in sources(document):
        keys = look["layers"][source.id]
        assert {size: key.partition("-")[0] for size, key in keys.items()} == {
            "coarse": layer_key(document, document.cameras[0], source, COARSE),
            "full": layer_key(document, document.cameras[0], source, FULL),
        }
        response = hand.get(f"{url}/layers/{keys['coarse']}")
        assert response.status_code == 200 and "immutable" in response["Cache-Control"]
        layer = decode_layer(response.content)
        assert layer.surfaces.shape == (COARSE[1], COARSE[0], 3) and layer.surfaces.max() > 0
    # Readings alone ask for no picture.
    assert hand.look(setup.pk, {"document": data(), "picture": False})["layers"] == {}


def test_a_dimmer_and_a_colour_are_no_new_layer(hand, setup):
    first = hand.look(setup.pk, {"document": data(), "client": "one"})["layers"]
    other = moved(moved(data(), "units", 0, dimmer=0.1, cct=3200), "cameras", 0, iso=1600)
    assert hand.look(setup.pk, {"document": other, "client": "one"})["layers"] == first
    turned = hand.look(
        setup.pk, {"document": moved(data(), "units", 0, aim=[3, 3, 1.3]), "client": "one"}
    )["layers"]
    assert turned["key"] != first["key"] and turned["fill"] == first["fill"]


def test_what_the_frame_is_mixed_from_does_not_wait_for_the_meter(hand, setup, monkeypatch):
    """The first line comes while the meter has not been read, and the second when it has."""
    read, go = [], threading.Event()

    def slow(*asked):
        assert go.wait(20)
        read.append(asked[1:])
        return read_setup(*asked)

    monkeypatch.setattr("inkwell.rendering.questions.read_setup", slow)
    answer = hand.call(
        "POST", f"/api/setups/{setup.pk}/look", {"document": data(), "client": "one", "only": "key"}
    )

    async def follow():
        lines = aiter(answer.streaming_content)
        mix = json.loads(await anext(lines))
        assert list(mix) == ["mix"] and set(mix["mix"]["layers"]) == {"key", "fill"} and not read
        go.set()
        look = json.loads(await anext(lines))
        assert (
            list(look) == ["look"]
            and look["look"]["readings"]["marks"]
            and read == [("key", THIRDS)]
        )
        assert [line async for line in lines] == []

    async_to_sync(follow)()


@pytest.mark.parametrize(
    ("broken", "status", "detail"),
    [
        (MothError("A lamp stands in the wall.", "units[0]"), 422, "A lamp stands in the wall."),
        (
            ZeroDivisionError("secret"),
            500,
            "Something broke on the server; nothing of yours was changed.",
        ),
    ],
)
def test_an_error_that_comes_late_is_a_line_too(hand, setup, monkeypatch, broken, status, detail):
    def fails(*_):
        raise broken

    monkeypatch.setattr("inkwell.rendering.questions.read_setup", fails)
    mix, said = hand.lines(setup.pk, {"document": data(), "picture": False})
    assert (
        list(mix) == ["mix"]
        and said["problem"]["status"] == status
        and said["problem"]["detail"] == detail
    )
    assert said["problem"].get("path", "") == ("units[0]" if status == 422 else "")


def test_a_layer_nobody_asked_for_is_not_there(hand, hands, setup):
    assert hand.get(f"/api/setups/{setup.pk}/layers/0123").status_code == 404
    look = hand.look(setup.pk, {"document": data(), "client": "one"})
    # Nor for people outside, who may not learn that it exists.
    assert (
        hands["stranger"]
        .get(f"/api/setups/{setup.pk}/layers/{look['layers']['key']['coarse']}")
        .status_code
        == 404
    )


def test_what_was_stopped_is_gone(hand, setup, quiet):
    url = f"/api/setups/{setup.pk}"
    unseen = data(title="Never rendered", figures=[{**data()["figures"][0], "facing": 7.5}])
    look = hand.look(setup.pk, {"document": unseen, "client": "stopping"})
    assert quiet.states()["waiting"] == 4
    assert hand.call("POST", f"{url}/stop", {"client": "never here"}).status_code == 204
    assert quiet.states()["waiting"] == 4
    assert hand.call("POST", f"{url}/stop", {"client": "stopping"}).status_code == 204
    assert quiet.states()["waiting"] == 0
    gone = hand.get(f"{url}/layers/{look['layers']['key']['full']}")
    assert gone.status_code == 204 and not gone.content


def test_a_key_of_one_set_up_opens_no_other_and_none_can_be_made_up(hand, setup, scene, people):
    """Signed keys need no memory: any process can tell whose they are."""
    other = create(people["owner"], scene, small_scene(title="Other"))
    key = hand.look(setup.pk, {"client": "one"})["layers"]["key"]["coarse"]
    assert hand.get(f"/api/setups/{setup.pk}/layers/{key}").status_code == 200
    assert hand.get(f"/api/setups/{other.pk}/layers/{key}").status_code == 404
    assert hand.get(f"/api/setups/{setup.pk}/layers/{key[:-1]}x").status_code == 404


def test_waiting_for_a_layer_holds_no_connection(hand, setup, monkeypatch):
    """14 fetches that waited held all 12 connections, and everybody else got 500."""
    freed = []
    monkeypatch.setattr("inkwell.rendering.service.free_connection", lambda: freed.append(1))
    key = hand.look(setup.pk, {"client": "one"})["layers"]["key"]["coarse"]
    before = len(freed)
    assert hand.get(f"/api/setups/{setup.pk}/layers/{key}").status_code == 200
    assert len(freed) == before + 1


def test_what_takes_long_is_told_before_it_is_read(hand, setup, monkeypatch):
    monkeypatch.setattr("inkwell.rendering.api.SLOW", 0.0)
    lines = hand.lines(setup.pk, {"picture": False})
    assert [next(iter(line)) for line in lines] == ["mix", "wait", "look"]
    assert "2 units × 0 pieces" in lines[1]["wait"]["words"] and lines[1]["wait"]["seconds"] > 0


def test_a_viewers_document_is_not_worked_out_by_comparing(hands, setup):
    url = f"/api/setups/{setup.pk}/compare"
    assert hands["viewer"].call("POST", url, {"other": data()}).status_code == 403
    assert hands["viewer"].call("POST", url, {"revision": 1}).status_code == 200


def test_the_lens_is_sharp_at_the_focus_and_softer_wide_open(hand, setup):
    url = f"/api/setups/{setup.pk}/lens"
    at = {
        t: halves(
            hand.call(
                "POST", url, {"document": moved(data(), "cameras", 0, t_stop=t, focal_length=85)}
            )
        )
        for t in (2.0, 4.0)
    }
    face = at[2.0][100:140, 300:340]
    corner = at[2.0][:30, :60]
    assert face.min() < 1 < corner.mean()
    # A circle of confusion goes with the opening: two stops, half as wide.
    assert corner.mean() / at[4.0][:30, :60].mean() == pytest.approx(2, rel=0.05)
    assert np.isfinite(at[2.0]).all() and (at[2.0] >= 0).all()


def test_the_lens_of_a_viewer_is_of_what_is_stored(hands, setup):
    url = f"/api/setups/{setup.pk}/lens"
    assert hands["viewer"].call("POST", url, {}).status_code == 200
    assert hands["viewer"].call("POST", url, {"document": data()}).status_code == 403
    assert hands["stranger"].call("POST", url, {}).status_code == 404
