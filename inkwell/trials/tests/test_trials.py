"""Trials from a plan to paper, run by Dask's own workers."""

import csv
import io
import os
import subprocess
import threading
import time
import zipfile
from unittest import mock

import numpy as np
import OpenEXR
import pytest
from django.db import connection
from PIL import Image

from inkwell.productions.models import Membership
from inkwell.productions.services import create_production
from inkwell.trials import runner
from inkwell.trials.models import Cell, State, Trial
from moth.camera import bt709
from moth.tests.scenes import data
from moth.trials import run_cell, stage


def text_of(pdf):
    """What is written on the pages of a PDF."""
    found = subprocess.run(["pdftotext", "-", "-"], input=pdf, capture_output=True, check=True)
    return found.stdout.decode()


def axis(**steps):
    return {"choices": [{"name": name, "steps": given} for name, given in steps.items()]}


def head(key):
    return [{"kind": "head", "key": key}]


BARE_AND_CLOTH = axis(bare=[], cloth=[{"kind": "move", "key": "cloth"}])
PLAN = {
    "stage": "face",
    "rows": axis(bulb=head("bulb"), box=head("softbox-small")),
    "columns": BARE_AND_CLOTH,
}


def made(hand, production, title="Heads and cloth", **plan):
    path = f"/api/productions/{production.pk}/trials"
    answer = hand.call("POST", path, {"title": title, "plan": {**PLAN, **plan}})
    assert answer.status_code == 201, answer.content
    return answer.json()


@pytest.fixture(scope="module")
def cluster():
    """Workers that the tests share: each takes seconds to start."""
    # Dask leaves the workers' number of arithmetic threads in this process's environment, and an
    # engine that another test starts would round otherwise than the one in here.
    with mock.patch.dict(os.environ), runner._cluster() as client:
        yield client


def run(client):
    runner._Runner(client).go(0)


@pytest.mark.django_db(transaction=True)
def test_a_trial_is_run_told_printed_and_rigged(production, scene, hands, cluster):
    hand = hands["editor"]
    trial = made(hand, production)
    assert {c["state"] for c in trial["sheet"]} == {"waiting"} and trial["left"] > 0
    path = f"/api/trials/{trial['id']}"
    assert hand.get(f"{path}/cells/0/0.png").status_code == 404
    run(cluster)
    trial = hand.get(path).json()
    assert [c["state"] for c in trial["sheet"]] == ["done"] * 4
    assert trial["done"] == 4 and trial["left"] == 0
    soft = {(c["row"], c["column"]): c["figures"]["soft"] for c in trial["sheet"]}
    # A cloth makes a bulb larger, and a box is larger than a bulb.
    assert soft[0, 0] < soft[1, 0] and soft[0, 0] < soft[0, 1]
    picture = hand.get(f"{path}/cells/1/0.png")
    assert Image.open(io.BytesIO(picture.content)).size == (320, 180)

    rows = list(csv.reader(io.StringIO(hand.get(f"{path}/sheet.csv").content.decode())))
    assert len(rows) == 5 and rows[1][:3] == ["bulb", "bare", "done"]
    assert float(rows[1][rows[0].index("softness, half of the light [°]")]) == round(soft[0, 0], 1)
    printed = text_of(hand.get(f"{path}/sheet.pdf").content)
    assert "The wall behind" in printed and "stops under its brightest" in printed
    # Every crossing of a wall that is lit, as the screen has it.
    wall = hand.get(f"{path}/cells/0/0/wall").json()["stops"]
    lit = [f"{s:.1f}".replace("-", "−") for row in wall for s in row if s is not None and s < -0.05]
    assert len(lit) > 20 and all(printed.count(words) >= lit.count(words) for words in set(lit))
    packed = zipfile.ZipFile(io.BytesIO(hand.get(f"{path}/sheet.zip").content))
    assert len(packed.namelist()) == 5
    assert packed.read("001-001 bulb bare.exr")[:4].hex() == "762f3101"

    body = {"row": 0, "column": 1, "scene": scene.pk}
    rigged = hand.call("POST", f"{path}/rig", body)
    assert rigged.status_code == 201
    assert any("Local codes" in words for words in rigged.json()["cautions"])
    document = hand.get(f"/api/setups/{rigged.json()['setup']}").json()["document"]
    assert document["units"][0]["head"] == "bulb" and len(document["grip"]) == 1
    assert document["units"][0]["measured"] is None

    mark = hand.call("PUT", f"{path}/cells/0/1", {"favourite": True})
    assert mark.status_code == 204 and hand.get(path).json()["sheet"][1]["favourite"]
    hand.call("PATCH", path, {"notes": "the cloth"})
    assert hand.get(path).json()["notes"] == "the cloth"
    assert hand.call("DELETE", path).status_code == 204
    assert hand.get(f"/api/productions/{production.pk}/trials").json() == []


@pytest.mark.django_db(transaction=True)
def test_what_was_found_once_is_not_worked_out_again(production, hands, cluster, monkeypatch):
    first = made(hands["editor"], production)
    run(cluster)
    again = made(hands["owner"], production, "The same", columns=axis(bare=[]))
    submitted = []
    submit = cluster.submit
    monkeypatch.setattr(
        cluster, "submit", lambda *a, **k: (submitted.append(k), submit(*a, **k))[1]
    )
    run(cluster)
    assert not submitted
    mine, theirs = (
        Trial.objects.get(pk=t["id"]).cells.get(row=1, column=0) for t in (again, first)
    )
    assert mine.state == State.DONE and mine.figures == theirs.figures
    assert bytes(mine.png) == bytes(theirs.png)
    assert mine.wall is not None and mine.wall == theirs.wall
    path = f"/api/trials/{again['id']}/cells/1/0/wall"
    assert hands["viewer"].get(path).json() == {"stops": mine.wall}


@pytest.mark.django_db(transaction=True)
def test_a_runner_takes_up_what_another_left_and_stops_when_told(
    production, hands, cluster, monkeypatch
):
    # Nothing is done as soon as that: it looks again, and goes on.
    monkeypatch.setattr(runner, "LOOK", 0.01)
    trial = Trial.objects.get(pk=made(hands["editor"], production)["id"])
    trial.cells.filter(row=0).update(state=State.RUNNING)
    stopped = hands["editor"].call("POST", f"/api/trials/{trial.pk}/stop")
    assert stopped.json()["stopped"]
    run(cluster)
    assert set(trial.cells.values_list("state", flat=True)) == {State.WAITING}
    hands["editor"].call("POST", f"/api/trials/{trial.pk}/run")
    run(cluster)
    assert set(trial.cells.values_list("state", flat=True)) == {State.DONE}


@pytest.mark.django_db(transaction=True)
def test_a_trial_of_older_figures_is_run_anew_and_keeps_what_was_kept_in_mind(
    production, hands, cluster
):
    trial = Trial.objects.get(pk=made(hands["editor"], production, columns=axis(bare=[]))["id"])
    run(cluster)
    trial.cells.filter(row=1).update(favourite=True)
    path = f"/api/trials/{trial.pk}"
    assert not hands["editor"].get(path).json()["outdated"]
    # As if code or catalogue had been others: keys and model are theirs.
    Trial.objects.update(model="older")
    for cell in trial.cells.all():
        Cell.objects.filter(pk=cell.pk).update(key=f"older-{cell.row}", figures={"soft": 99})
    assert hands["editor"].get(path).json()["outdated"]
    hands["editor"].call("POST", f"{path}/run")
    assert set(trial.cells.values_list("state", flat=True)) == {State.WAITING}
    run(cluster)
    told = hands["editor"].get(path).json()
    assert not told["outdated"] and [c["favourite"] for c in told["sheet"]] == [False, True]
    assert all(c["figures"]["soft"] < 99 for c in told["sheet"])


def test_a_sweep_tells_the_number_of_each_row_and_a_huge_set_up_is_refused(production, hands):
    steps = {str(v): [{"kind": "angle", "value": v}] for v in (-60, -30)}
    trial = made(hands["editor"], production, rows=axis(**steps))
    assert [c["figures"]["at"] for c in trial["sheet"]] == [-60, -60, -30, -30]
    assert all("at" not in c["figures"] for c in made(hands["editor"], production)["sheet"])
    unit = {**data()["units"][0], "ies": "IESNA:LM-63-1995\n" + "x" * 390_000}
    path = f"/api/productions/{production.pk}/trials"
    rows = axis(**{str(k): [] for k in range(90)})
    plan = {"document": {**data(), "units": [unit]}, "rows": rows}
    refused = hands["editor"].call("POST", path, {"title": "Huge", "plan": plan})
    assert refused.status_code == 422 and "too large for so many cells" in refused.json()["detail"]


@pytest.mark.django_db(transaction=True)
def test_a_killed_worker_costs_no_cell(production, hands, cluster):
    trial = Trial.objects.get(pk=made(hands["editor"], production)["id"])
    killed = []

    def kill():
        while not Cell.objects.filter(state=State.RUNNING).exists():
            time.sleep(0.02)
        pids = cluster.run(os.getpid)
        killed.append(next(iter(pids.values())))
        os.kill(killed[0], 9)
        connection.close()

    hand = threading.Thread(target=kill)
    hand.start()
    run(cluster)
    hand.join()
    assert killed and set(trial.cells.values_list("state", flat=True)) == {State.DONE}


@pytest.mark.django_db(transaction=True)
def test_a_cell_that_breaks_is_told_and_can_be_tried_again(production, hands, cluster):
    trial = Trial.objects.get(pk=made(hands["editor"], production, columns=axis(bare=[]))["id"])
    good = trial.cells.get(row=0).document
    broken = {**good, "units": [{**good["units"][0], "head": "no such head"}]}
    trial.cells.filter(row=0).update(document=broken)
    run(cluster)
    cell = trial.cells.get(row=0)
    assert cell.state == State.FAILED and "no such head" in cell.fault
    assert trial.cells.get(row=1).state == State.DONE
    pdf = hands["viewer"].get(f"/api/trials/{trial.pk}/sheet.pdf")
    assert pdf.status_code == 200
    trial.cells.filter(row=0).update(document=good)
    hands["editor"].call("POST", f"/api/trials/{trial.pk}/run")
    run(cluster)
    assert trial.cells.get(row=0).state == State.DONE


@pytest.mark.django_db(transaction=True)
def test_two_people_are_served_in_turn(production, hands):
    many = {str(k): [{"kind": "distance", "value": 1.2 + 0.01 * k}] for k in range(20)}
    few = {str(k): [{"kind": "distance", "value": 1.6 + 0.01 * k}] for k in range(3)}
    made(hands["editor"], production, "Many", rows=axis(**many), columns=axis(a=[]))
    made(hands["owner"], production, "Few", rows=axis(**few), columns=axis(a=[]))
    served = runner._Runner(None)
    order = []
    while cell := served._next():
        order.append(cell.trial.title)
        Cell.objects.filter(pk=cell.pk).update(state=State.DONE)
    assert len(order) == 23
    assert order[:6].count("Few") == 3


@pytest.mark.django_db(transaction=True)
def test_only_one_runner_works_on_a_database(production, hands):
    held, go = threading.Event(), threading.Event()

    def other():
        with runner._alone() as mine:
            assert mine
            held.set()
            go.wait(20)
        connection.close()

    hand = threading.Thread(target=other)
    hand.start()
    held.wait(20)
    with runner._alone() as mine:
        assert not mine
    go.set()
    hand.join()
    with runner._alone() as mine:
        assert mine


def test_bad_plans_are_refused_in_sentences_and_effort_is_told(production, hands):
    hand, path = hands["editor"], f"/api/productions/{production.pk}/trials"
    many = axis(**{str(k): [] for k in range(300)})

    def refused(**plan):
        answer = hand.call("POST", path, {"title": "Bad", "plan": {**PLAN, **plan}})
        assert answer.status_code == 422, answer.content
        return answer.json()["detail"]

    assert "600 cells are asked; a trial has 300 at most" in refused(rows=many)
    assert "There is no unit 'moon'" in refused(unit="moon")
    assert "There is no head 'moon'" in refused(rows=axis(a=head("moon")))
    assert "Name a set-up or a ready arrangement" in refused(document=data())
    assert Trial.objects.count() == 0
    far = axis(near=[], far=[{"kind": "distance", "value": 60}])
    told = hand.call("POST", f"{path}/effort", {**PLAN, "rows": far}).json()
    assert told["cells"] == 4 and len(told["impossible"]) == 2
    assert told["words"].startswith("2 cells, about ")


def test_a_trial_is_its_members_alone(production, people, hands):
    trial = made(hands["owner"], production)
    other = create_production(people["stranger"], "Other")
    Membership.objects.get_or_create(production=other, user=people["stranger"], role="owner")
    path = f"/api/trials/{trial['id']}"
    for address in (path, f"{path}/sheet.csv", f"{path}/cells/0/0.png"):
        assert hands["stranger"].get(address).status_code == 404
        assert hands["nobody"].get(address).status_code == 401
    assert hands["viewer"].get(path).status_code == 200
    assert hands["viewer"].call("POST", f"{path}/stop").status_code == 403
    assert hands["viewer"].call("DELETE", path).status_code == 403
    # A rig goes into a scene of one's own only.
    foreign = other.scenes.create(title="Theirs")
    body = {"row": 0, "column": 0, "scene": foreign.pk}
    assert hands["owner"].call("POST", f"{path}/rig", body).status_code == 404
    outside = {"row": 7, "column": 0, "scene": production.scenes.create(title="Ours").pk}
    assert hands["owner"].call("POST", f"{path}/rig", outside).status_code == 404


def test_frames_are_kept_as_half_floats_of_the_same_picture(tmp_path):
    cell = run_cell(stage("face"), "key", "same", (32, 18))
    shown = np.asarray(Image.open(io.BytesIO(cell.png)), float)
    (tmp_path / "cell.exr").write_bytes(cell.exr)
    linear = OpenEXR.File(str(tmp_path / "cell.exr")).channels()["RGB"].pixels.astype(float)
    assert np.abs(255 * bt709(linear) - shown).max() < 1.5
