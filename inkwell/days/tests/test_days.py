"""Days over HTTP: asked for, put in order, printed, taken into a calendar."""

import csv
import io
import subprocess

import pytest
import vobject

from inkwell.kit.models import Gear
from inkwell.setups.services import create
from moth.tests.scenes import setup as small_setup


@pytest.fixture
def setups(scene, people):
    made = []
    for name in ("Wide", "Close", "Insert"):
        made.append(create(people["owner"], scene, small_setup(title=name)))
    return made


@pytest.fixture
def day(hand, production):
    body = {"title": "First day", "date": "2026-10-15"}
    answer = hand.call("POST", f"/api/productions/{production.pk}/days", body)
    assert answer.status_code == 201, answer.content
    return answer.json()


def put(hand, day, **asked):
    body = {"version": day["version"], "title": day["title"], "asked": {**day["asked"], **asked}}
    return hand.call("PUT", f"/api/days/{day['id']}", body)


def ordered(hand, day, **asked):
    answer = put(hand, day, **asked)
    assert answer.status_code == 200, answer.content
    answer = hand.call("POST", f"/api/days/{day['id']}/order")
    assert answer.status_code == 200, answer.content
    return answer.json()


def test_a_day_is_put_in_order_by_its_windows(hand, day, setups):
    shots = [
        {"setup": s.pk, "room": "gallery", "minutes": 30, "windows": w, "why": "needs sun"}
        for s, w in zip(setups, ([[900, 960]], [], [[540, 600]]), strict=True)
    ]
    made = ordered(hand, day, shots=shots)
    slots = {s["name"]: s for s in made["plan"]["slots"]}
    assert slots["Wide"]["begin"] >= 900 and slots["Wide"]["end"] <= 960
    assert slots["Insert"]["begin"] >= 540 and slots["Insert"]["end"] <= 600
    assert not made["plan"]["broken"] and made["plan"]["best"] and not made["outdated"]
    # The same set-up thrice: the second and the third have nothing to rig.
    assert [s["rig"] for s in made["plan"]["slots"]][1:] == [0, 0]
    assert len(made["sheet"]["slots"]) == 3
    lines = hand.get(f"/api/productions/{day['production']}/days").json()
    assert lines[0]["words"] == made["plan"]["words"]


def test_what_breaks_is_said(hand, day, setups):
    shots = [
        {"setup": setups[0].pk, "minutes": 60, "windows": [[500, 570]], "why": "needs sun"},
        {"setup": setups[1].pk, "minutes": 60, "windows": [[500, 570]], "why": "needs sun"},
    ]
    plan = ordered(hand, day, shots=shots)["plan"]
    assert len(plan["conflict"]) == 2
    assert all("needs sun 08:20 to 09:30" in words for words in plan["conflict"])
    assert len(plan["broken"]) == 1


def test_an_order_is_outdated_once_a_setup_changes(hand, day, setups):
    ordered(hand, day, shots=[{"setup": setups[0].pk}])
    document = {**setups[0].current.document, "title": "Other"}
    body = {"document": document, "base_version": 1, "gesture": "renamed"}
    assert hand.call("PUT", f"/api/setups/{setups[0].pk}", body).status_code == 200
    shown = hand.get(f"/api/days/{day['id']}").json()
    assert shown["outdated"] and shown["plan"]


def test_a_setup_that_is_gone_is_told(hand, day, setups):
    ordered(hand, day, shots=[{"setup": s.pk} for s in setups])
    hand.call("DELETE", f"/api/setups/{setups[0].pk}")
    shown = hand.get(f"/api/days/{day['id']}").json()
    assert shown["missing"] == [setups[0].pk] and shown["plan"] is None
    again = hand.call("POST", f"/api/days/{day['id']}/order").json()
    assert len(again["plan"]["slots"]) == 2


def test_two_who_change_a_day(hand, day):
    assert put(hand, day, begin=500).status_code == 200
    answer = put(hand, day, begin=520)
    assert answer.status_code == 409


@pytest.mark.parametrize(
    "asked",
    [
        {"date": "2026-02-30"},
        {"begin": 900, "end": 600},
        {"hands": 0},
        {"minutes": {"juggle": 3}},
        {"shots": [{"setup": 999999}]},
        {"meals": [{"name": "Lunch", "earliest": 800, "latest": 700}]},
        {"people": [{"name": "pilot"}, {"name": "pilot"}]},
        {"budget": -1},
    ],
)
def test_days_that_cannot_be(hand, day, asked):
    answer = put(hand, day, **asked)
    assert answer.status_code in (400, 422), answer.content
    assert hand.get(f"/api/days/{day['id']}").json()["version"] == day["version"]


def test_a_date_that_does_not_exist(hand, production):
    body = {"title": "None", "date": "2026-13-01"}
    answer = hand.call("POST", f"/api/productions/{production.pk}/days", body)
    assert answer.status_code == 422 and "2026-13-01" in answer.json()["detail"]


def test_a_day_without_setups_has_no_order(hand, day):
    assert hand.call("POST", f"/api/days/{day['id']}/order").status_code == 422
    assert hand.get(f"/api/days/{day['id']}/sheet.pdf").status_code == 422


def test_paper_by_readers_that_are_not_ours(hand, day, setups, production, tmp_path):
    Gear.objects.create(
        production=production, kind="head", key="point-300", name="Ours", price=40, count=1
    )
    people = [{"name": "keeper", "begin": 480, "end": 1000, "rate": 200}]
    made = ordered(
        hand,
        day,
        shots=[{"setup": s.pk, "room": "store"} for s in setups[:2]],
        people=people,
        budget=100,
    )
    assert made["sheet"]["money"]["left"] < 0
    at = f"/api/days/{day['id']}/sheet"
    (tmp_path / "day.pdf").write_bytes(hand.get(f"{at}.pdf").content)
    words = subprocess.run(
        ["pdftotext", "-layout", tmp_path / "day.pdf", "-"],
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    for said in ("First day", "To pack", "Wide", "Close", "Plan, north up", "keeper", "Lunch"):
        assert said in words
    calendar = vobject.readOne(hand.get(f"{at}.ics").content.decode())
    events = {e.summary.value: e for e in calendar.vevent_list}
    slot = made["plan"]["slots"][0]
    begins = events[slot["name"]].dtstart.value
    assert 60 * begins.hour + begins.minute == slot["begin"]
    table = list(csv.DictReader(io.StringIO(hand.get(f"{at}.csv").content.decode())))
    assert sum(int(r["Count"]) for r in table if r["Kind"] == "Heads") == 2


def test_the_sun_of_a_setup_on_that_day(hand, day, setups):
    ordered(hand, day, shots=[{"setup": setups[0].pk}])
    at = f"/api/days/{day['id']}/sun/{setups[0].pk}"
    assert hand.get(at).status_code == 422
    document = {**setups[0].current.document, "site": {"date": "2026-06-01"}}
    body = {"document": document, "base_version": 1, "gesture": "placed"}
    assert hand.call("PUT", f"/api/setups/{setups[0].pk}", body).status_code == 200
    sun = hand.get(at).json()
    # In the middle of October, not of June.
    assert 430 < sun["sunrise"] < 470


def test_what_leaving_a_unit_out_costs_the_picture(hand, day, setups):
    ordered(hand, day, shots=[{"setup": s.pk} for s in setups[:2]])
    answer = hand.call("POST", f"/api/days/{day['id']}/without", {"units": ["Key", "Nobody's"]})
    found = answer.json()
    assert [f["title"] for f in found] == ["Wide", "Close"]
    # Without its key the face is dark.
    assert all(f["units"] == ["Key"] and f["worse"] for f in found)
    nothing = hand.call("POST", f"/api/days/{day['id']}/without", {"units": ["Nobody's"]})
    assert nothing.json() == []


def test_charges_of_batteries_against_those_of_the_kit(hand, day, scene, people, production):
    lamp = {"id": "b", "name": "Small", "head": "battery-panel", "feed": "@battery"}
    lamp |= {"position": [1.0, 1.0, 1.5], "aim": [2.0, 2.0, 1.2]}
    made = create(people["owner"], scene, small_setup(title="Long", units=[lamp]))
    # Ninety minutes at full: four hours take three.
    shown = ordered(hand, day, shots=[{"setup": made.pk, "minutes": 240}])
    assert shown["sheet"]["charges"] == 3 and "the kit has none" in shown["sheet"]["batteries"]
    assert "dies after 1 h 30 min" in shown["sheet"]["slots"][0]["changes"][0]
    Gear.objects.create(production=production, kind="battery", name="Bricks", count=3)
    shown = hand.get(f"/api/days/{day['id']}").json()
    assert shown["sheet"]["batteries"] == "3 charges of batteries; the kit has 3."
