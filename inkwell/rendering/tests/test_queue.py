"""The queue of layers: its rule, who is served, what is given up, what goes wrong."""

import logging
import threading
import time

import pytest

from inkwell.rendering import queue as queue_module
from inkwell.rendering.jobs import COARSE, FULL, JobState, orders_of
from inkwell.rendering.queue import WINDOWS, LayerQueue, turn
from moth.engine.caching import STORE
from moth.engine.cancelling import checkpoint
from moth.errors import Cancelled
from moth.tests.scenes import data
from moth.tests.scenes import setup as scene


@pytest.fixture
def quiet(monkeypatch):
    """A queue that nobody works at, with nothing kept: what waits, waits."""
    STORE.clear()
    monkeypatch.setattr(LayerQueue, "_begin", lambda self: None)
    return LayerQueue()


def wish(queue, window, document, person=None, at_hand=True):
    orders = {
        (source, name): order
        for name, size in (("coarse", COARSE), ("full", FULL))
        for source, order in orders_of(document, size).items()
    }
    queue.wish(window, person or window, orders.values(), at_hand)
    return {at: order.key for at, order in orders.items()}


def key_at(x):
    return scene(units=[{**data()["units"][0], "position": [x, 4.4, 2.0]}])


def in_turn(queue):
    """The jobs in the order they would be rendered."""
    with queue._lock:
        taken = []
        while queue._waiting:
            taken.append(queue._next())
        return taken


def person_of(job):
    return next(iter(job.wanted_by.values())).person


def test_coarse_pictures_go_before_whole_ones_and_new_before_old(quiet):
    wish(quiet, "a", scene(), "one")
    later = wish(quiet, "b", key_at(4.0), "one")
    order = in_turn(quiet)
    assert [j.order.size for j in order] == [COARSE] * 3 + [FULL] * 3
    assert order[0].key == later["key", "coarse"]


def test_nobody_is_served_twice_while_another_waits(quiet):
    """One who wishes without end would have stopped everybody else."""
    for k in range(4):
        wish(quiet, f"busy {k}", key_at(4.0 + k / 50), "busy")
    wish(quiet, "idle", key_at(3.5), "idle")
    people = [person_of(j) for j in in_turn(quiet)]
    assert people[:2].count("idle") == 1 and "idle" in people[5:7]


@pytest.mark.parametrize("patience", [0.05, 60])
def test_a_whole_picture_lets_the_meter_go_first_but_not_for_ever(monkeypatch, patience):
    monkeypatch.setattr(LayerQueue, "_begin", lambda self: None)
    monkeypatch.setattr(queue_module, "PATIENCE", patience)
    STORE.clear()
    waits = [True]
    queue = LayerQueue(lambda: waits[0])
    wish(queue, "a", key_at(4.1))
    found = []

    def take():
        with queue._lock:
            found.extend([queue._next(), queue._next()])

    thread = threading.Thread(target=take, daemon=True)
    thread.start()
    thread.join(0.5)
    if patience < 1:
        assert [j.order.size for j in found] == [COARSE, FULL]
        return
    assert not found and thread.is_alive()  # the coarse one is taken, the whole one waits
    waits[0] = False
    queue.wake()
    thread.join(20)
    assert [j.order.size for j in found] == [COARSE, FULL]


def test_two_windows_share_a_job_and_one_may_leave(quiet):
    keys = wish(quiet, "a", scene(), "one")
    wish(quiet, "b", scene(), "two")
    future = quiet.layer(keys["key", "full"])
    quiet.give_up("a")
    quiet.give_up("nobody")
    assert not future.cancelled() and quiet.states()["waiting"] == 4
    quiet.give_up("b")
    assert future.cancelled() and quiet.states()["waiting"] == 0
    assert quiet.layer(keys["key", "full"]) is None


def test_what_is_given_up_and_asked_for_again_is_made_anew(quiet):
    """It was counted twice, and once the count was wrong the only thread died."""
    keys = wish(quiet, "a", key_at(4.2))
    quiet.give_up("a")
    wish(quiet, "a", key_at(4.2))
    job = quiet._waiting[keys["key", "coarse"]]
    assert job.state == JobState.WAITING and not job.unwanted()


def test_a_running_job_given_up_does_not_stand_in_for_a_new_wish(quiet):
    keys = wish(quiet, "a", key_at(4.2))
    with quiet._lock:
        running = quiet._running = quiet._next()
    quiet.give_up("a")
    assert running.unwanted()
    wish(quiet, "b", key_at(4.2))
    assert quiet._waiting[keys["key", "coarse"]] is not running


def test_a_window_not_heard_of_for_long_is_given_up(quiet):
    first = wish(quiet, "first", key_at(4.3))
    for k in range(WINDOWS):
        quiet.wish(f"w{k}", "p", [])
    assert quiet.layer(first["key", "full"]) is None and quiet.states()["waiting"] == 0


def test_layers_are_kept_by_content_and_made_once(monkeypatch):
    STORE.clear()
    made, real = [], queue_module.rendered
    monkeypatch.setattr(
        queue_module, "rendered", lambda order: made.append(order.key) or real(order)
    )
    queue = LayerQueue()
    keys = wish(queue, "a", key_at(4.4137))
    first = queue.layer(keys["key", "coarse"]).result(60)
    assert len(first) > COARSE[0] * COARSE[1] * 4
    again = wish(queue, "b", key_at(4.4137))
    assert again == keys and queue.layer(keys["key", "coarse"]).result(0) is first
    queue.layer(keys["key", "full"]).result(60)
    # Queues of other tests may still be at work in this process, on lamps that stand elsewhere.
    assert sorted(key for key in made if key in keys.values()) == sorted(keys.values())


def test_a_fault_is_told_logged_and_the_thread_lives_on(monkeypatch, caplog):
    """A KeyError of the renderer passed for a layer that nobody asked for."""
    STORE.clear()
    queue = LayerQueue()
    monkeypatch.setattr(queue_module, "rendered", lambda order: {}["a fault of ours"])
    with caplog.at_level(logging.ERROR):
        keys = wish(queue, "a", key_at(4.5))
        future = queue._job(keys["key", "full"]) or queue._running
        with pytest.raises(KeyError):
            (future.future if hasattr(future, "future") else future).result(20)
    assert "a fault of ours" in caplog.text  # though nobody fetched the coarse one
    monkeypatch.undo()
    keys = wish(queue, "a", key_at(4.6))
    assert queue.layer(keys["key", "coarse"]).result(60)


def test_work_under_way_stops_when_nobody_wants_it(monkeypatch):
    STORE.clear()
    queue, begun, stopped = LayerQueue(), threading.Event(), threading.Event()

    def endless(order):
        begun.set()
        try:
            while True:
                checkpoint()
        except Cancelled:
            stopped.set()
            raise

    monkeypatch.setattr(queue_module, "rendered", endless)
    wish(queue, "a", key_at(4.7))
    assert begun.wait(20)
    queue.give_up("a")
    assert stopped.wait(20)


def test_a_persons_shelf_waits_for_that_persons_desk_and_for_nobody_elses(quiet):
    """Opened while the shelf was being drawn, the first set-up's frame came after 20 s."""
    wish(quiet, "desk", scene(), "one")
    shelf = wish(quiet, "shelf", key_at(4.8), "one", at_hand=False)
    assert quiet.at_work("one") and not quiet.at_work("two")
    wish(quiet, "their shelf", key_at(4.9), "two", at_hand=False)
    order = in_turn(quiet)
    assert {j.key for j in order[-2:]} == set(shelf.values())
    assert person_of(order[0]) == "two" and not quiet.at_work("one")


def test_a_picture_under_way_is_put_off_for_the_desk_and_made_after_it(monkeypatch):
    STORE.clear()
    queue, begun, made = LayerQueue(), threading.Event(), []

    def slow_at_first(order):
        first = not begun.is_set()
        begun.set()
        end = time.monotonic() + 20
        while first and time.monotonic() < end:
            checkpoint()
        made.append(order.key)
        return b"a layer"

    monkeypatch.setattr(queue_module, "rendered", slow_at_first)
    shelf = wish(queue, "shelf", key_at(4.11), "one", at_hand=False)
    picture = queue._job(shelf["key", "coarse"]).future
    assert begun.wait(20)
    desk = wish(queue, "desk", key_at(4.12), "one")
    assert picture.result(15) == b"a layer"
    # The whole one of the shelf, which also waited, is the last.
    order = [desk["key", "coarse"], desk["key", "full"], shelf["key", "coarse"]]
    assert made[:3] == order


def test_the_rule_of_no_jobs_is_none():
    assert turn([], {}) is None
