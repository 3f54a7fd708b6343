"""Errors as problems: what a person reads when something is not as wanted."""

import json
import logging

import pytest
from asgiref.sync import async_to_sync
from django.db import OperationalError
from django.test import AsyncClient
from ninja.errors import HttpError

from inkwell.config import problems
from inkwell.config.lines import problem_line
from moth.errors import MothError


def body_of(answer):
    assert answer["Content-Type"] == "application/problem+json"
    return json.loads(answer.content)


def test_a_fault_of_ours_tells_nothing_of_the_inside_and_is_logged(
    hand, setup, monkeypatch, caplog
):
    def breaks(*_):
        raise ZeroDivisionError("a secret of the house")

    monkeypatch.setattr("inkwell.rendering.engine.check", breaks)
    with caplog.at_level(logging.ERROR):
        answer = hand.call("POST", f"/api/setups/{setup.pk}/look", {"picture": False})
    said = body_of(answer)
    assert (
        answer.status_code == 500
        and said["detail"] == problems.BROKEN
        and "secret" not in answer.content.decode()
    )
    assert "a secret of the house" in caplog.text


def test_what_the_framework_refuses_is_a_problem_too(hand, setup, monkeypatch):
    def refuses(*_):
        raise HttpError(409, "Somebody holds it.")

    monkeypatch.setattr("inkwell.rendering.engine.check", refuses)
    answer = hand.call("POST", f"/api/setups/{setup.pk}/look", {"picture": False})
    assert answer.status_code == 409 and body_of(answer)["detail"] == "Somebody holds it."


@pytest.mark.parametrize(
    ("error", "told"),
    [
        (
            MothError("A lamp stands in the wall.", "units[0]"),
            (422, "A lamp stands in the wall.", "units[0]"),
        ),
        (KeyError("inside"), (500, problems.BROKEN, "")),
    ],
)
def test_an_error_is_told_alike_before_and_after_an_answer_has_begun(error, told):
    assert problems.status_and_words(error) == told
    assert tuple(problem_line(error)["problem"].values()) == told


def test_while_the_database_is_away_everybody_is_told_at_once(hand, setup, monkeypatch):
    """The first finds it away, the others are told at once; a second later it is asked again."""
    asked = []

    def lost(*_, **__):
        asked.append(1)
        raise OperationalError("server closed the connection unexpectedly")

    monkeypatch.setattr("inkwell.setups.services.setup_for", lost)
    monkeypatch.setattr(problems, "_found_away", [float("-inf")])
    answers = [hand.get(f"/api/setups/{setup.pk}") for _ in range(3)]
    assert [a.status_code for a in answers] == [503] * 3 and len(asked) == 1
    assert all(a["Retry-After"] for a in answers)
    assert "nothing of yours was changed" in body_of(answers[0])["detail"]
    monkeypatch.setattr(problems, "TRY_AGAIN", 0.0)
    assert hand.get(f"/api/setups/{setup.pk}").status_code == 503 and len(asked) == 2
    monkeypatch.undo()
    assert hand.get(f"/api/setups/{setup.pk}").status_code == 200


@pytest.mark.parametrize(
    ("location", "place"),
    [
        (("body", "data", "document", "units", 2, "dimmer"), "units[2].dimmer"),
        (("body", "payload", "title"), "title"),
        (("query", "version"), "query.version"),
        ((), ""),
    ],
)
def test_places_are_named_as_in_the_file(location, place):
    assert problems._place(location) == place


def test_the_real_door_refuses_what_is_too_large_and_says_what_a_page_may_load(db, settings):
    """The same over ASGI, as the server runs it: middlewares have a waiting side there."""
    client = AsyncClient()

    def sent(body):
        return async_to_sync(client.post)(
            "/api/session", data=body, content_type="application/json"
        )

    answer = async_to_sync(client.get)("/api/session")
    assert answer.status_code == 200 and "default-src 'self'" in answer["Content-Security-Policy"]
    large, small = sent(b" " * (settings.LARGEST_BODY + 1)), sent(b"{}")
    assert large.status_code == 413 and "MB" in body_of(large)["detail"]
    assert small.status_code in (403, 422)
