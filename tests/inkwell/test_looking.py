"""What the screen asks while a hand moves: looks, layers, the lens; and what becomes of questions
nobody waits for.
"""

import json
import threading

import numpy as np
import pytest
from asgiref.sync import async_to_sync

from inkwell.setups.rendering import COARSE, FULL, Job, LayerDesk
from inkwell.setups.rendering import desk as the_desk
from moth.errors import Cancelled, MothError
from moth.metering import read_setup
from moth.transport import decode_layer, layer_key, sources
from tests.scenes import data, moved
from tests.scenes import setup as scene


def halves(response):
    return np.frombuffer(response.content, "<f2").astype(float).reshape(FULL[1], FULL[0])


@pytest.fixture
def quiet():
    """A desk that nobody works at: what waits, waits."""
    desk = LayerDesk()
    desk._thread = "nobody"
    return desk


def test_a_look_names_the_layers_that_then_come(hand, setup):
    url = f"/api/setups/{setup.pk}"
    look = hand.look(setup.pk, {"document": data(), "client": "one"})
    assert set(look["layers"]) == {"key", "fill"} == set(look["colours"]) == set(look["levels"])
    document = scene()
    for source in sources(document):
        keys = look["layers"][source.id]
        assert keys == {
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

    monkeypatch.setattr("inkwell.setups.api.read_setup", slow)
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
            and read == [("key", "third")]
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

    monkeypatch.setattr("inkwell.setups.api.read_setup", fails)
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


def test_what_was_stopped_is_gone(hand, setup, quiet, monkeypatch):
    for module in ("api", "light"):
        monkeypatch.setattr(f"inkwell.setups.{module}.desk", quiet)
    url = f"/api/setups/{setup.pk}"
    look = hand.look(setup.pk, {"document": data(), "client": "stopping"})
    assert len(quiet._waiting) == 4
    assert (
        hand.call("POST", f"{url}/stop", {"client": "never here"}).status_code == 204
        and len(quiet._waiting) == 4
    )
    assert (
        hand.call("POST", f"{url}/stop", {"client": "stopping"}).status_code == 204
        and not quiet._waiting
    )
    gone = hand.get(f"{url}/layers/{look['layers']['key']['full']}")
    assert gone.status_code == 410 and "given up" in gone.json()["detail"]


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


def wish(desk, client, document, pk=1):
    return desk.wish(client, pk, document, document.cameras[0])


def test_coarse_pictures_wait_before_whole_ones_and_new_before_old(quiet):
    wish(quiet, "a", scene())
    later = wish(quiet, "b", scene(units=[{**data()["units"][0], "position": [4.0, 4.4, 2.0]}]))
    order = [job.key for job in sorted(quiet._waiting.values(), key=lambda j: j.order)]
    assert order[0] == later["key"]["coarse"]
    sizes = [quiet._waiting[key].size for key in order]
    assert sizes == [COARSE] * 3 + [FULL] * 3


def test_the_meter_lets_coarse_pictures_go_first(quiet):
    keys = wish(quiet, "a", scene())
    coarse = [pair["coarse"] for pair in keys.values()]
    turns = []

    def meter():
        with quiet.meter_turn(coarse):
            turns.append("meter")

    thread = threading.Thread(target=meter)
    thread.start()
    jobs = [quiet._waiting[key] for key in coarse]
    for job in jobs:
        assert not turns
        job.future.set_result(b"")
    thread.join(20)
    assert turns == ["meter"] and quiet._meters == 0


def test_a_whole_picture_lets_the_meter_finish_but_not_for_ever(quiet, monkeypatch):
    keys = wish(quiet, "a", scene())
    coarse = {pair["coarse"] for pair in keys.values()}
    monkeypatch.setattr("inkwell.setups.rendering.PATIENCE", 60)
    with quiet.meter_turn([]):
        with quiet._lock:
            # What is coarse waits for no meter.
            assert {quiet._next().key, quiet._next().key} == coarse
        found = []

        def take():
            with quiet._lock:
                found.append(quiet._next().size)

        thread = threading.Thread(target=take)
        thread.start()
        thread.join(0.2)
        assert not found and thread.is_alive()
    thread.join(20)
    assert found == [FULL]
    monkeypatch.setattr("inkwell.setups.rendering.PATIENCE", 0.05)
    with quiet.meter_turn([]), quiet._lock:
        assert quiet._next().size == FULL


def test_a_meter_waits_for_nothing_that_was_given_up(quiet, monkeypatch):
    waited = []
    monkeypatch.setattr(
        "inkwell.setups.rendering.wait", lambda futures, patience: waited.append(len(futures))
    )
    coarse = [pair["coarse"] for pair in wish(quiet, "a", scene()).values()]
    with quiet.meter_turn(coarse):
        quiet.drop("a")
    with quiet.meter_turn(coarse):
        pass
    assert waited == [2, 0]


def test_two_windows_share_a_job_and_one_may_leave(quiet):
    keys = wish(quiet, "a", scene())
    assert wish(quiet, "b", scene()) == keys and len(quiet._waiting) == 4
    quiet.drop("a")
    assert len(quiet._waiting) == 4
    job = quiet._waiting[keys["key"]["full"]]
    quiet.drop("b")
    assert not quiet._waiting and job.cancelled() and job.future.cancelled()


def test_a_newer_wish_gives_up_what_it_does_not_need(quiet):
    first = wish(quiet, "a", scene())
    second = wish(
        quiet, "a", scene(units=[{**data()["units"][0], "aim": [3, 3, 1.4]}, data()["units"][1]])
    )
    assert second["fill"] == first["fill"] and second["key"] != first["key"]
    assert set(quiet._waiting) == {key for pair in second.values() for key in pair.values()}
    with pytest.raises(Cancelled):
        quiet.fetch(1, first["key"]["coarse"])
    with pytest.raises(KeyError):
        quiet.fetch(2, second["key"]["coarse"])  # asked for through another set-up


def test_a_job_that_fails_tells_who_waits():
    document = scene()
    job = Job("key", document, document.cameras[0], sources(document)[0], COARSE)
    assert job.cancelled()
    job.wanted_by.add("a")
    assert not job.cancelled()
    job.future.set_exception(Cancelled())
    with pytest.raises(Cancelled):
        job.future.result()


def test_small_pictures_to_judge_by_are_those_of_the_frame(hand, setup):
    look = hand.look(setup.pk, {"document": data(), "client": "one"})
    shown = decode_layer(
        hand.get(f"/api/setups/{setup.pk}/layers/{look['layers']['key']['coarse']}").content
    )
    judged = the_desk.coarse(scene())
    assert set(judged) == {"key", "fill"}
    np.testing.assert_allclose(judged["key"].surfaces, shown.surfaces, rtol=0.01, atol=1e-3)
