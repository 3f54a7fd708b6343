"""Guessing is slowed at every door, and nobody is shut out for long; invitations let people in."""

from datetime import timedelta

import pytest
from django.test import Client, RequestFactory
from django.utils.timezone import now

from inkwell.accounts.doors import OF_A_CALLER, OF_AN_ACCOUNT, WINDOW, caller_of
from inkwell.accounts.models import User, WrongPassword
from inkwell.conftest import PASSWORD, Hand
from inkwell.productions.models import Invitation


def sign_in(hand, password, username="owner"):
    return hand.call("POST", "/api/session", {"username": username, "password": password})


def test_too_many_guesses_at_one_account_wait_a_minute(people, hands):
    hand = hands["nobody"]
    answers = [sign_in(hand, "not it").status_code for _ in range(OF_AN_ACCOUNT + 1)]
    assert set(answers[:-1]) == {401} and answers[-1] == 429
    # The right password waits too, or guessing would be told from it; others do not.
    assert sign_in(hand, PASSWORD).status_code == 429
    assert sign_in(Hand(), PASSWORD, "editor").status_code == 200
    WrongPassword.objects.update(at=now() - WINDOW - timedelta(seconds=1))
    assert sign_in(hand, PASSWORD).status_code == 200


def test_one_address_may_not_try_everybody(people, hands):
    for k in range(OF_A_CALLER):
        assert sign_in(hands["nobody"], "not it", f"guess-{k}").status_code == 401
    assert sign_in(hands["nobody"], "not it", "one more").status_code == 429


def test_a_claimed_address_is_not_believed(people, hands):
    """X-Forwarded-For made every try one of a new caller's."""
    hand = hands["nobody"]
    for k in range(OF_A_CALLER):
        hand.generic(
            "POST",
            "/api/session",
            f'{{"username": "n{k}", "password": "x"}}',
            content_type="application/json",
            headers={"X-CSRFToken": hand.token, "X-Forwarded-For": f"10.0.0.{k}"},
        )
    assert sign_in(hand, "not it", "more").status_code == 429


@pytest.mark.parametrize(
    ("proxies", "claimed", "believed"),
    [
        (0, "6.6.6.6", "127.0.0.1"),
        (1, "6.6.6.6, 10.1.1.1", "10.1.1.1"),
        (2, "6.6.6.6, 10.1.1.1, 10.2.2.2", "10.1.1.1"),
        (2, "10.2.2.2", "127.0.0.1"),
    ],
)
def test_only_the_proxies_we_are_told_of_are_believed(settings, proxies, claimed, believed):
    settings.TRUSTED_PROXIES = proxies
    request = RequestFactory().get("/", headers={"X-Forwarded-For": claimed})
    assert caller_of(request) == believed


def test_the_other_doors_count_too(people, hands):
    hand = hands["owner"]
    for _ in range(OF_AN_ACCOUNT):
        body = {"old": "not it", "new": "flood-gauge-9x"}
        assert hand.call("POST", "/api/session/password", body).status_code == 422
    right = {"old": PASSWORD, "new": "flood-gauge-9x"}
    assert hand.call("POST", "/api/session/password", right).status_code == 429
    office = Client()
    answer = office.post("/admin/login/", {"username": "owner", "password": PASSWORD})
    assert answer.status_code == 200 and b"errornote" in answer.content


def test_a_page_of_one_person_sends_nothing_under_anothers_name(hands, setup):
    """Unsent edits went out under the name of who signed in next at the same browser."""
    hand = hands["editor"]
    for named, status in (("editor", 200), ("owner", 401), ("K%C3%A4the", 401)):
        headers = {"X-CSRFToken": hand.token, "X-Person": named}
        answer = hand.post(
            f"/api/setups/{setup.pk}/look",
            "{}",
            content_type="application/json",
            headers=headers,
        )
        assert answer.status_code == status


def test_signing_out_holds_in_every_process(people, hands):
    """Sessions were read from each process's own memory: a stolen cookie went on working."""
    hand = hands["editor"]
    stolen = hand.cookies["sessionid"].value
    hand.call("DELETE", "/api/session")
    thief = Client()
    thief.cookies["sessionid"] = stolen
    assert thief.get("/api/productions").status_code == 401


def invited(hands, production, role):
    """Address of an invitation."""
    path = f"/api/productions/{production.pk}/invitations"
    token = hands["owner"].call("POST", path, {"role": role}).json()["token"]
    return f"/api/invitations/{token}"


def test_an_invitation_makes_a_new_person_a_member(hands, production):
    path = invited(hands, production, "editor")
    stranger = Hand()
    assert stranger.get(path).json() == {
        "production": "Saltmarsh Signal",
        "role": "editor",
        "by": "owner",
    }
    taken = stranger.call("POST", path, {"username": "Owner", "password": "flood-gauge-9x"})
    assert taken.status_code == 422 and taken.json()["path"] == "username"
    weak = stranger.call("POST", path, {"username": "grip", "password": "12345"})
    assert weak.json()["path"] == "password" and not User.objects.filter(username="grip").exists()
    assert stranger.call("POST", path, {}).json()["path"] == "username"
    joined = stranger.call("POST", path, {"username": "grip", "password": "flood-gauge-9x"})
    assert joined.json()["username"] == "grip"
    assert stranger.get("/api/productions").json()[0]["role"] == "editor"
    # Once: a second to follow it finds it used.
    assert Hand().get(path).status_code == 404


def test_an_invitation_serves_somebody_who_is_there_already(hands, production):
    path = invited(hands, production, "viewer")
    assert hands["stranger"].call("POST", path, {}).json()["username"] == "stranger"
    assert hands["stranger"].get("/api/productions").json()[0]["role"] == "viewer"


def test_an_old_invitation_and_one_made_up_are_none(hands, production):
    path = invited(hands, production, "viewer")
    Invitation.objects.update(created=now() - timedelta(days=15))
    assert Hand().get(path).status_code == 404
    assert Hand().get("/api/invitations/guess").status_code == 404
