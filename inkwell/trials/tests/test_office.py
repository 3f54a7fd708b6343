"""Trials at work, as the records office shows them."""

import json
import time

import pytest
from django.test import Client

from inkwell.trials import office
from inkwell.trials.models import Cell, Trial


@pytest.fixture
def chief(people):
    people["owner"].is_staff = people["owner"].is_superuser = True
    people["owner"].save()
    client = Client()
    client.force_login(people["owner"])
    return client


def test_workers_queue_and_failures_are_shown(chief, production, settings, tmp_path):
    settings.LOCAL_DIR = tmp_path
    trial = Trial.objects.create(production=production, title="Heads side by side", plan={})
    cell = {"trial": trial, "column": 0, "key": "k"}
    Cell.objects.create(row=0, state="waiting", **cell)
    Cell.objects.create(row=1, state="failed", fault="the lamp is in the wall", **cell)
    nobody = chief.get("/admin/trials-at-work/").content.decode()
    assert "Nobody is at work" in nobody and "the lamp is in the wall" in nobody
    worker = {"name": "tls://10.0.0.7:4001", "memory": 321e6, "limit": 2e9, "seen": 0}
    told = {"at": time.time(), "under_way": 3, "workers": [worker]}
    (tmp_path / office.WORKERS).write_text(json.dumps(told))
    page = chief.get("/admin/trials-at-work/").content.decode()
    assert "3 under way" in page and "tls://10.0.0.7:4001" in page and "321" in page
    # What was told long ago is not told as now; half a note is none.
    (tmp_path / office.WORKERS).write_text(json.dumps({**told, "at": time.time() - 600}))
    assert office.at_work() is None
    (tmp_path / office.WORKERS).write_text('{"at": 17')
    assert office.at_work() is None


def test_it_is_for_the_office_alone(hands):
    answer = hands["editor"].get("/admin/trials-at-work/")
    assert answer.status_code == 302 and "login" in answer["Location"]
