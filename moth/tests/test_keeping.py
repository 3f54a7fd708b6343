"""Results kept by content, and work shared out: the same answers, each worked out once, whoever
asks.
"""

import ctypes
import threading
import time
from dataclasses import dataclass

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis.strategies import integers, lists, tuples

from moth.engine.caching import Keyed, Store, cached, content_hash, size_of
from moth.engine.cores import shared_out
from moth.errors import Cancelled
from moth.world import embree
from moth.world.rays import RayScene


def counted(budget=1_000_000, work=lambda value: value * 2):
    calls, store = [], Store(budget)

    def ask(keyed):
        def once():
            calls.append(keyed.key)
            return work(keyed.value)

        return store.get("test", keyed.key, once)

    return ask, calls


def test_keys_are_of_content_and_not_of_order():
    assert content_hash({"b": [1, 2], "a": None}) == content_hash({"a": None, "b": [1, 2]})
    assert content_hash([1, 2]) != content_hash([2, 1])
    assert content_hash("12") != content_hash(12) and content_hash("a", "b") != content_hash("ab")
    assert content_hash(0.1 + 0.2) != content_hash(
        0.3
    )  # the last bit counts: light is cached by it


def test_a_result_is_worked_out_once_though_eight_ask_at_once():
    ask, calls = counted(work=lambda value: time.sleep(0.05) or value)
    found = []
    threads = [threading.Thread(target=lambda: found.append(ask(Keyed("a", 7)))) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert found == [7] * 8 and calls == ["a"]


def test_functions_that_share_a_kind_and_what_they_are_asked_ask_each_other():
    @cached("shared kind")
    def whole(name, pose):
        return ("whole", *part(name, pose))

    @cached("shared kind")
    def part(name, pose):
        return (name, pose)

    for _ in range(2):
        assert whole("a", "b") == ("whole", "a", "b") and part("a", "b") == ("a", "b")


def test_the_longest_unused_goes_first_whatever_its_kind():
    store, made = Store(25_000), []

    def ask(kind, key):
        def work():
            made.append(kind + key)
            return np.zeros(1000)

        return store.get(kind, key, work)

    for kind, key in ("xa", "yb", "zc", "xa", "xd", "xa", "yb"):
        ask(kind, key)
    assert made == ["xa", "yb", "zc", "xd", "yb"]
    assert store.size <= store.budget
    assert sum(h.size for h in store.holdings()) == store.size
    assert {h.kind: (h.entries, h.hits) for h in store.holdings()} == {"x": (2, 2), "y": (1, 0)}


def test_what_is_larger_than_the_budget_is_given_out_and_not_kept():
    store = Store(1000)
    assert len(store.get("a", 1, lambda: np.zeros(1000))) == 1000
    assert store.size == 0 and store.peek("a", 1) is None


@settings(max_examples=50)
@given(lists(tuples(integers(0, 9), integers(0, 400)), max_size=60))
def test_the_bytes_counted_are_those_that_are_kept(puts):
    """Putting one key again, larger or smaller, must not count it twice."""
    store = Store(5000)
    for key, length in puts:
        store.put("k", key, np.zeros(length, np.uint8))
        assert store.size == sum(h.size for h in store.holdings()) <= store.budget


def test_a_view_counts_as_what_it_holds_alive_at_most():
    whole = np.zeros((1000, 8))
    assert size_of(whole[:10]) == 640
    assert size_of(np.broadcast_to(np.zeros(3), (10_000, 3))) == 24


@pytest.mark.parametrize("count", [2_000, 60_000])
def test_a_scene_of_rays_counts_what_its_library_holds(count):
    """By the library's own account of its memory."""
    held = []
    account = ctypes.CFUNCTYPE(ctypes.c_bool, ctypes.c_void_p, ctypes.c_ssize_t, ctypes.c_bool)(
        lambda _, more, __: held.append(more) or True
    )
    watch = embree._rtc.rtcSetDeviceMemoryMonitorFunction
    watch.argtypes, watch.restype = [ctypes.c_void_p, type(account), ctypes.c_void_p], None
    places = np.cumsum(np.random.default_rng(count).normal(0, 0.01, (count // 2, 3)), 0)
    watch(embree._device, account, None)
    try:
        scene = RayScene(places, np.arange(count)[:, None] // 2 % (count // 2 - 3) + [0, 1, 2])
    finally:
        watch(embree._device, type(account)(), None)
    # Its trees are as wide as the processor: what they hold differs by a sixth between two.
    assert scene.nbytes == pytest.approx(sum(held), rel=0.25)

    @dataclass
    class Place:
        rays: RayScene
        solid: RayScene

    # Where no cloth hangs the two scenes of a place are one.
    assert scene.nbytes < size_of(Place(scene, scene)) < 1.1 * scene.nbytes


def test_a_failure_is_not_kept_and_stands_in_nobodys_way():
    tries = []

    def work(value):
        tries.append(value)
        if len(tries) == 1:
            raise Cancelled
        return "whole"

    ask, _ = counted(work=work)
    with pytest.raises(Cancelled):
        ask(Keyed("a", 1))
    assert ask(Keyed("a", 2)) == "whole" and ask(Keyed("a", 3)) == "whole" and tries == [1, 2]


def test_different_keys_do_not_wait_for_each_other():
    gate = threading.Event()
    ask, _ = counted(work=lambda value: gate.wait(5) if value == "slow" else True)
    slow = threading.Thread(target=ask, args=(Keyed("slow", "slow"),))
    slow.start()
    assert ask(Keyed("quick", "quick")) is True
    gate.set()
    slow.join(5)
    assert not slow.is_alive()


def test_work_is_shared_out_in_order_on_more_than_one_thread():
    seen = set()

    def work(part):
        seen.add(threading.get_ident())
        time.sleep(0.01)
        return part * part

    assert shared_out(work, list(range(20))) == [k * k for k in range(20)]
    assert threading.get_ident() not in seen and len(seen) > 1
    assert shared_out(work, []) == [] and shared_out(lambda _: threading.get_ident(), [1]) == [
        threading.get_ident()
    ]


def test_shared_work_may_share_out_again():
    # Helpers that waited for helpers would wait for ever: the test's own patience is the clock.
    assert shared_out(
        lambda row: sum(shared_out(lambda k: k + row, list(range(6)))), list(range(12))
    ) == [15 + 6 * row for row in range(12)]


def test_what_goes_wrong_in_a_part_is_told():
    def work(part):
        if part == 3:
            raise Cancelled
        return part

    with pytest.raises(Cancelled):
        shared_out(work, list(range(8)))
    assert shared_out(lambda k: k, [1, 2]) == [1, 2]
