"""Questions by rank and by turns; the engine inside and apart."""

import threading
import time
from concurrent.futures import Future

import pytest

from inkwell.rendering.answers import AnswerDesk, Question, Rank, turn
from inkwell.rendering.apart import RemoteEngine, socket_of
from inkwell.rendering.away import EngineAway
from inkwell.rendering.engine import Engine
from inkwell.rendering.questions import reading
from moth.document import bare
from moth.errors import MothError
from moth.tests.scenes import data
from moth.tests.scenes import setup as scene
from moth.wording import THIRDS


def ranked(person, rank, number, **more):
    return Question(person, rank, None, number=number, **more)


def test_the_quicker_rank_goes_first_and_then_whoever_was_served_longest_ago():
    questions = [
        ranked("busy", Rank.ANALYSIS, 1),
        ranked("busy", Rank.READING, 2),
        ranked("busy", Rank.READING, 3),
        ranked("idle", Rank.READING, 4),
    ]
    first = turn(questions, {}, Rank.PICTURE, 0.0)
    assert first.number == 2
    assert turn(questions[2:], {"busy": 7}, Rank.PICTURE, 0.0).person == "idle"
    assert turn(questions[:1], {}, Rank.READING, 0.0) is None


def test_a_question_waits_for_others_but_not_for_ever():
    waiting = ranked("a", Rank.READING, 1, after={Future()}, latest=5.0)
    assert turn([waiting], {}, Rank.READING, 4.9) is None
    assert turn([waiting], {}, Rank.READING, 5.0) is waiting


def test_a_check_is_answered_while_everything_slow_is_under_way():
    desk, gate = AnswerDesk(), threading.Event()
    slow = [desk.ask("a", Rank.ANALYSIS, lambda: gate.wait(20)) for _ in range(4)]
    slow += [desk.ask("a", Rank.READING, lambda: gate.wait(20)) for _ in range(4)]
    assert desk.ask("b", Rank.CHECK, lambda: "checked").result(5) == "checked"
    assert not any(f.done() for f in slow) and desk.readings()
    gate.set()
    assert all(f.result(20) for f in slow)


def test_a_reading_comes_after_the_coarse_layers_or_when_it_has_waited_enough():
    desk, coarse, order = AnswerDesk(), Future(), []
    first = desk.ask("a", Rank.READING, lambda: order.append("read"), [coarse], 60)
    time.sleep(0.05)
    assert not first.done()
    order.append("coarse")
    coarse.set_result(b"")
    first.result(5)
    assert order == ["coarse", "read"]
    began = time.monotonic()
    desk.ask("a", Rank.READING, lambda: None, [Future()], 0.1).result(5)
    assert 0.09 < time.monotonic() - began < 3


def test_pictures_of_somebody_whose_desk_waits_come_after_it():
    busy = {"a"}
    desk, order = AnswerDesk(), []
    desk.at_work = busy.__contains__
    own = desk.ask("a", Rank.PICTURE, lambda: order.append("own"))
    desk.ask("b", Rank.PICTURE, lambda: order.append("another's")).result(5)
    desk.ask("a", Rank.ANALYSIS, lambda: order.append("no picture")).result(5)
    assert not own.done()
    busy.clear()
    desk.wake()
    own.result(5)
    assert order == ["another's", "no picture", "own"]


def test_what_goes_wrong_in_an_answer_is_the_askers():
    desk = AnswerDesk()
    with pytest.raises(ZeroDivisionError):
        desk.ask("a", Rank.ANALYSIS, lambda: 1 / 0).result(5)
    assert desk.ask("a", Rank.ANALYSIS, lambda: 1).result(5) == 1


@pytest.fixture(scope="module")
def apart(tmp_path_factory):
    """An engine in a process of its own."""
    return RemoteEngine(tmp_path_factory.mktemp("e"), b"a secret between us")


def test_an_engine_apart_answers_as_one_inside(apart):
    document = scene()
    inside = Engine()
    here = inside.read("a", [], reading, document, None, THIRDS).result(60)
    there = apart.read("a", [], reading, document, None, THIRDS).result(60)
    assert here == there
    mix = apart.look("a", "w", document, True).result(60)
    data = apart.layer(mix["layers"]["key"]["coarse"]).result(60)
    inside.look("a", "w", document, True).result(60)
    assert data == inside.layer(mix["layers"]["key"]["coarse"]).result(60)
    assert apart.state().result(10)["bytes"] > len(data)


def test_a_refusal_keeps_its_place_over_the_border(apart):
    nowhere = {**data()["units"][0], "position": [99, 1, 1]}
    with pytest.raises(MothError) as refused:
        apart.check("a", scene(units=[nowhere])).result(60)
    assert refused.value.path == "units[0].position" and "outside" in refused.value.sentence


def test_two_processes_share_one_engine_and_its_layers(apart):
    """Of two server processes, 9 of 24 layers were answered 404."""
    other = RemoteEngine(apart._folder, b"a secret between us")
    mix = other.look("b", "w2", scene(), True).result(60)
    key = mix["layers"]["fill"]["coarse"]
    assert apart.layer(key).result(60) == other.layer(key).result(60)


def test_who_does_not_know_the_secret_is_not_answered(apart):
    apart.check("a", bare()).result(60)
    assert RemoteEngine(apart._folder, b"a guess")._try(socket_of(apart._folder)) is None
    assert apart.check("a", bare()).result(60) is None


def test_an_engine_of_another_frame_is_not_asked(tmp_path, monkeypatch):
    """A server of half the frame asked the engine that a whole one had left: its blur was strewn
    over the wrong pixels.
    """
    mine = socket_of(tmp_path)
    monkeypatch.setattr("inkwell.rendering.apart.FULL", (320, 180))
    assert socket_of(tmp_path) != mine


def test_an_engine_that_dies_is_told_and_begun_again(tmp_path):
    engine = RemoteEngine(tmp_path, b"s")
    engine.check("a", bare()).result(60)
    engine._connection.close()  # as if it had been killed
    with pytest.raises((EngineAway, OSError)):
        engine.check("a", bare()).result(10)
    assert engine.check("a", bare()).result(60) is None
