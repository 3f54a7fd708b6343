import json

import pytest
from asgiref.sync import async_to_sync
from django.test import Client

from inkwell.accounts.models import User
from inkwell.productions.models import Membership
from inkwell.productions.services import create_production
from inkwell.rendering.service import engine
from inkwell.setups.services import create
from moth.tests.scenes import setup as small_setup

PASSWORD = "tide-table-42"


class Hand(Client):
    """A signed-in client that speaks JSON and carries the CSRF token, as the screen does."""

    def __init__(self, user=None):
        super().__init__(enforce_csrf_checks=True)
        self.token = self.get("/api/session").json()["csrf"]
        if user:
            self.force_login(user)
            self.token = self.get("/api/session").json()["csrf"]

    def call(self, method, path, data=None, **kwargs):
        body = (
            data if isinstance(data, (bytes, str)) else json.dumps(data) if data is not None else ""
        )
        return self.generic(
            method,
            path,
            body,
            content_type="application/json",
            headers={"X-CSRFToken": self.token},
            **kwargs,
        )

    def lines(self, pk, data):
        """Lines of a look at a set-up, as they came."""
        answer = self.call("POST", f"/api/setups/{pk}/look", data)
        assert answer.status_code == 200, answer.content

        async def read():
            return [json.loads(line) async for line in answer.streaming_content]

        return async_to_sync(read)()

    def look(self, pk, data):
        """All that a look tells in one: what the frame is mixed from, and what the meter reads."""
        mix, look = self.lines(pk, data)
        return {**mix["mix"], **look["look"]}


@pytest.fixture
def people(db, quick_passwords):
    return {
        name: User.objects.create_user(name, password=PASSWORD)
        for name in ("owner", "editor", "viewer", "stranger")
    }


@pytest.fixture
def production(people):
    production = create_production(people["owner"], "Saltmarsh Signal")
    for role in ("editor", "viewer"):
        Membership.objects.create(production=production, user=people[role], role=role)
    return production


@pytest.fixture
def scene(production):
    return production.scenes.create(title="Instrument room")


@pytest.fixture
def setup(scene, people):
    return create(people["owner"], scene, small_setup())


@pytest.fixture
def hands(people):
    return {**{name: Hand(user) for name, user in people.items()}, "nobody": Hand()}


@pytest.fixture(autouse=True)
def engine_inside(settings):
    """Light is worked out in the tests' own process, where faults can be planted."""
    settings.ENGINE = "inside"
    engine.cache_clear()
    yield
    engine.cache_clear()


@pytest.fixture(autouse=True)
def quick_passwords(settings):
    """Django's hasher is slow on purpose; a hundred tests make four people each."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture
def hand(hands):
    return hands["editor"]
