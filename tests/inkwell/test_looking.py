"""What the screen asks while a hand moves: looks, layers, the lens; and what becomes of questions nobody waits for."""

import numpy as np
import pytest

from inkwell.setups.rendering import COARSE, FULL, Job, LayerDesk
from inkwell.setups.rendering import desk as the_desk
from moth.errors import Cancelled
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
    look = hand.call("POST", f"{url}/look", {"document": data(), "client": "one"}).json()
    assert set(look["layers"]) == {"key", "fill"} == set(look["colours"]) == set(look["levels"])
    document = scene()
    for source in sources(document):
        keys = look["layers"][source.id]
        assert keys == {"coarse": layer_key(document, document.cameras[0], source, COARSE), "full": layer_key(document, document.cameras[0], source, FULL)}
        response = hand.get(f"{url}/layers/{keys['coarse']}")
        assert response.status_code == 200 and "immutable" in response["Cache-Control"]
        layer = decode_layer(response.content)
        assert layer.surfaces.shape == (COARSE[1], COARSE[0], 3) and layer.surfaces.max() > 0
    # Readings alone ask for no picture.
    assert hand.call("POST", f"{url}/look", {"document": data(), "picture": False}).json()["layers"] == {}


def test_a_dimmer_and_a_colour_are_no_new_layer(hand, setup):
    url = f"/api/setups/{setup.pk}/look"
    first = hand.call("POST", url, {"document": data(), "client": "one"}).json()["layers"]
    other = moved(moved(data(), "units", 0, dimmer=0.1, cct=3200), "cameras", 0, iso=1600)
    assert hand.call("POST", url, {"document": other, "client": "one"}).json()["layers"] == first
    turned = hand.call("POST", url, {"document": moved(data(), "units", 0, aim=[3, 3, 1.3]), "client": "one"}).json()["layers"]
    assert turned["key"] != first["key"] and turned["fill"] == first["fill"]


def test_a_layer_nobody_asked_for_is_not_there(hand, hands, setup):
    assert hand.get(f"/api/setups/{setup.pk}/layers/0123").status_code == 404
    look = hand.call("POST", f"/api/setups/{setup.pk}/look", {"document": data(), "client": "one"}).json()
    # Nor for people outside, who may not learn that it exists.
    assert hands["stranger"].get(f"/api/setups/{setup.pk}/layers/{look['layers']['key']['coarse']}").status_code == 404


def test_what_was_stopped_is_gone(hand, setup, quiet, monkeypatch):
    for module in ("api", "light"):
        monkeypatch.setattr(f"inkwell.setups.{module}.desk", quiet)
    url = f"/api/setups/{setup.pk}"
    look = hand.call("POST", f"{url}/look", {"document": data(), "client": "stopping"}).json()
    assert len(quiet._waiting) == 4
    assert hand.call("POST", f"{url}/stop", {"client": "never here"}).status_code == 204 and len(quiet._waiting) == 4
    assert hand.call("POST", f"{url}/stop", {"client": "stopping"}).status_code == 204 and not quiet._waiting
    gone = hand.get(f"{url}/layers/{look['layers']['key']['full']}")
    assert gone.status_code == 410 and "given up" in gone.json()["detail"]


def test_the_lens_is_sharp_at_the_focus_and_softer_wide_open(hand, setup):
    url = f"/api/setups/{setup.pk}/lens"
    at = {t: halves(hand.call("POST", url, {"document": moved(data(), "cameras", 0, t_stop=t, focal_length=85)})) for t in (2.0, 4.0)}
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
    second = wish(quiet, "a", scene(units=[{**data()["units"][0], "aim": [3, 3, 1.4]}, data()["units"][1]]))
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
    look = hand.call("POST", f"/api/setups/{setup.pk}/look", {"document": data(), "client": "one"}).json()
    shown = decode_layer(hand.get(f"/api/setups/{setup.pk}/layers/{look['layers']['key']['coarse']}").content)
    judged = the_desk.coarse(scene())
    assert set(judged) == {"key", "fill"}
    np.testing.assert_allclose(judged["key"].surfaces, shown.surfaces, rtol=0.01, atol=1e-3)
