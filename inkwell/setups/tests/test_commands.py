"""Commands with keys, branches, the history, the shelf's order: nothing lost, nothing doubled."""

import threading
import time

import pytest
from django.db import connection, transaction

from inkwell.config.problems import Problem
from inkwell.conftest import small_setup
from inkwell.setups import services
from inkwell.setups.models import Command, Revision, Setup
from moth.document import load
from moth.tests.scenes import data, moved


def put(hand, setup, dimmer, version, key=""):
    body = {
        "document": moved(data(), "units", 0, dimmer=dimmer),
        "base_version": version,
        "gesture": f"dimmer {dimmer}",
        "key": key,
    }
    return hand.call("PUT", f"/api/setups/{setup.pk}", body)


def test_a_command_sent_again_is_recognised_and_stored_once(hand, setup):
    """An answer that was lost came back as a conflict with oneself."""
    first = put(hand, setup, 0.3, 1, "k1").json()
    again = put(hand, setup, 0.3, 1, "k1").json()
    assert again == first and first["version"] == 2
    assert Revision.objects.filter(setup=setup).count() == 2


def test_what_it_came_to_is_answered_though_somebody_went_on_since(hand, hands, setup):
    put(hand, setup, 0.3, 1, "k1")
    assert put(hands["owner"], setup, 0.9, 2).status_code == 200
    again = put(hand, setup, 0.3, 1, "k1")
    assert again.status_code == 200 and again.json()["version"] == 2
    assert again.json()["document"]["units"][0]["dimmer"] == 0.3
    # So the next gesture meets the conflict that there truly is.
    assert put(hand, setup, 0.4, 2, "k2").status_code == 409


@pytest.mark.parametrize("way", ["undo", "redo"])
def test_undo_and_redo_sent_again_step_once(hand, setup, way):
    for k in range(3):
        put(hand, setup, 0.1 * (k + 1), k + 1)
    path, version = f"/api/setups/{setup.pk}", 4
    if way == "redo":
        for _ in range(2):
            version = hand.call("POST", path + "/undo", {"base_version": version}).json()["version"]
    answers = [
        hand.call("POST", f"{path}/{way}", {"base_version": version, "key": "k"}).json()
        for _ in range(2)
    ]
    assert answers[0] == answers[1]
    assert Setup.objects.get(pk=setup.pk).version == version + 1


def test_commands_are_remembered_for_long_but_not_for_ever(hand, setup, monkeypatch):
    monkeypatch.setattr("inkwell.setups.services.REMEMBERED", 5)
    Setup.objects.filter(pk=setup.pk).update(version=95)
    for k in range(95, 101):
        assert put(hand, setup, k / 1000, k, f"k{k}").status_code == 200
    assert Command.objects.filter(setup=setup).count() <= 6


def test_mine_is_kept_beside_theirs_and_can_be_brought_back(hand, hands, setup):
    put(hands["owner"], setup, 0.9, 1)
    path = f"/api/setups/{setup.pk}"
    mine = moved(data(), "units", 0, dimmer=0.2)
    body = {"document": mine, "parent": 1, "gesture": "mine, beside theirs", "key": "b"}
    kept = [hand.call("POST", path + "/branches", body) for _ in range(2)]
    assert [k.status_code for k in kept] == [201, 201] and kept[0].json() == kept[1].json()
    assert kept[0].json()["branch"] and kept[0].json()["parent"] == 1
    # What stands there stays, and so does its version.
    stands = hand.get(path).json()
    assert stands["document"]["units"][0]["dimmer"] == 0.9 and stands["version"] == 2
    listed = hand.get(path + "/revisions").json()
    assert [(r["number"], r["branch"]) for r in listed] == [(3, True), (2, False), (1, False)]
    back = hand.call("POST", path + "/bring-back", {"revision": 3, "base_version": 2}).json()
    assert back["document"]["units"][0]["dimmer"] == 0.2 and back["undo"].startswith("brought back")
    undone = hand.call("POST", path + "/undo", {"base_version": 3}).json()
    assert undone["document"]["units"][0]["dimmer"] == 0.9


def test_the_history_has_pages_and_pictures(hand, setup):
    for k in range(1, 4):
        put(hand, setup, k / 10, k)
    path = f"/api/setups/{setup.pk}/revisions"
    assert [r["number"] for r in hand.get(f"{path}?before=3").json()] == [2, 1]
    picture = hand.get(f"{path}/2/picture.png")
    assert picture.status_code == 200 and picture.content[:4] == b"\x89PNG"
    assert hand.get(f"{path}/9/picture.png").status_code == 404


def test_a_conflict_carries_a_document_of_the_newest_version(hand, hands, setup):
    old = {**data(fixed=[{"thing": "backdrop", "stops": 0}]), "schema_version": 4}
    Revision.objects.filter(pk=setup.current_id).update(document=old)
    Setup.objects.filter(pk=setup.pk).update(version=7)
    stale = put(hand, setup, 0.5, 1).json()
    assert stale["document"]["schema_version"] == 7
    assert stale["document"]["fixed"][0]["thing"] == "@backdrop" and stale["revision"] == 1
    assert load(stale["document"])


def test_a_set_up_is_copied_with_what_stands_there(hand, setup):
    put(hand, setup, 0.35, 1)
    made = hand.call("POST", f"/api/setups/{setup.pk}/duplicate").json()
    assert made["document"]["units"][0]["dimmer"] == 0.35 and made["undo"] is None
    assert (
        made["document"]["title"] == "Test set-up, again" and made["scene"]["id"] == setup.scene_id
    )


def test_a_scene_is_copied_with_its_set_ups(hand, setup, scene):
    hand.call("POST", f"/api/scenes/{scene.pk}/setups", {"title": "Second"})
    made = hand.call("POST", f"/api/scenes/{scene.pk}/duplicate").json()
    shelf = hand.get(f"/api/productions/{scene.production_id}").json()
    assert [s["title"] for s in shelf["scenes"]] == [scene.title, f"{scene.title}, again"]
    copied = shelf["scenes"][1]
    assert copied["id"] == made["id"]
    assert [s["title"] for s in copied["setups"]] == ["Test set-up", "Second"]
    assert [s["units"] for s in copied["setups"]] == [2, 0]


def test_set_ups_and_scenes_are_put_in_order_and_moved(hand, setup, scene, production):
    second = hand.call("POST", f"/api/scenes/{scene.pk}/setups", {"title": "Second"}).json()["id"]
    other = production.scenes.create(title="Other", place=1)
    path = f"/api/setups/{second}/place"

    def order(k=0):
        shelf = hand.get(f"/api/productions/{production.pk}").json()["scenes"]
        return [s["id"] for s in shelf[k]["setups"]]

    assert order() == [setup.pk, second]
    hand.call("PUT", path, {"scene": scene.pk, "before": setup.pk})
    assert order() == [second, setup.pk]
    hand.call("PUT", path, {"scene": other.pk})
    assert order() == [setup.pk] and order(1) == [second]
    hand.call("PUT", f"/api/scenes/{other.pk}/place", {"before": scene.pk})
    assert order() == [second]


def test_a_set_up_moves_only_where_one_may_edit(hand, hands, setup, people):
    from inkwell.productions.services import create_production

    foreign = create_production(people["stranger"], "Other").scenes.create(title="s")
    body = {"scene": foreign.pk}
    assert hand.call("PUT", f"/api/setups/{setup.pk}/place", body).status_code == 404


def test_the_shelf_reads_no_documents(hand, setup, django_assert_max_num_queries):
    with django_assert_max_num_queries(12) as asked:
        assert hand.get("/api/productions").json()[0]["scenes"][0]["setups"][0]["units"] == 2
    assert not any("setups_revision" in q["sql"] for q in asked.captured_queries)


def test_a_set_up_comes_whole_or_not_at_all(hand, scene, monkeypatch):
    """One without a revision made the shelf answer 500."""

    def breaks(*_, **__):
        raise ZeroDivisionError

    monkeypatch.setattr("inkwell.setups.services.Revision.objects.create", breaks)
    answer = hand.call("POST", f"/api/scenes/{scene.pk}/setups", {"title": "Half"})
    assert answer.status_code == 500 and not Setup.objects.exists()
    assert hand.get("/api/productions").status_code == 200


@pytest.mark.parametrize("bad", ["a\x00b", "a\ud800b"])
def test_characters_that_cannot_be_stored_are_refused_wherever_text_is(hands, setup, scene, bad):
    hand = hands["owner"]
    members = f"/api/productions/{scene.production_id}/members"
    for method, path, body in (
        ("PUT", f"/api/setups/{setup.pk}", {"document": data(title=bad), "base_version": 1}),
        ("PUT", f"/api/setups/{setup.pk}", {"document": data(notes=bad), "base_version": 1}),
        ("PUT", f"/api/setups/{setup.pk}", {"document": data(), "base_version": 1, "gesture": bad}),
        ("POST", f"/api/scenes/{scene.pk}/import", data(title=bad)),
        ("POST", f"/api/scenes/{scene.pk}/setups", {"title": bad}),
        ("PATCH", f"/api/scenes/{scene.pk}", {"title": bad}),
        ("POST", "/api/productions", {"title": bad}),
        ("POST", "/api/session", {"username": bad, "password": "x"}),
        ("POST", f"/api/setups/{setup.pk}/look", {"document": data(notes=bad)}),
        ("PUT", members, {"username": bad, "role": "viewer"}),
    ):
        answer = hand.call(method, path, body if "gesture" in body else {**body, "gesture": "g"})
        assert answer.status_code == 422, (path, answer.content)
    assert hand.call("DELETE", f"{members}/a%00b").status_code == 404


@pytest.mark.django_db(transaction=True)
def test_a_hand_that_waited_for_another_reads_what_the_other_left(people, scene):
    """Two at once on one set-up: the second waits for the first's lock, and then finds its work."""
    made = services.create(people["owner"], scene, small_setup())
    held, waiting = threading.Event(), threading.Event()
    found = []

    def second():
        try:
            held.wait(10)
            waiting.set()
            services.undo(people["editor"], made.pk, 1)
        except Exception as error:
            found.append(error)
        finally:
            connection.close()

    hand = threading.Thread(target=second)
    hand.start()
    with transaction.atomic():
        services.revise(people["owner"], made.pk, small_setup(title="Newer"), 1, "renamed")
        held.set()
        waiting.wait(10)
        # Long enough for its query to stand before the lock.
        time.sleep(0.4)
    hand.join(20)
    (error,) = found
    assert isinstance(error, Problem) and error.status == 409
    assert error.extra["document"]["title"] == "Newer" and error.extra["version"] == 2
