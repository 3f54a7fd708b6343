"""The kit over HTTP: kept, read from tables, drawn from by set-ups, stood in by."""

import csv
import io

import pytest

from inkwell.kit.models import Gear
from moth.document import load
from moth.metering import read_setup
from moth.photometry import read_photometry


def url(production, rest=""):
    return f"/api/productions/{production.pk}/kit{rest}"


def add(hand, production, **line):
    answer = hand.call("POST", url(production), {"kind": "head", "key": "point-300", **line})
    assert answer.status_code == 201, answer.content
    return answer.json()


def test_a_line_is_kept_changed_and_deleted(hand, hands, production):
    made = add(hand, production, name="Mine", count=3, price=12.5)
    shown = hands["viewer"].get(url(production)).json()
    assert [(g["name"], g["count"], g["price"]) for g in shown["gear"]] == [("Mine", 3, 12.5)]
    body = {"kind": "head", "key": "point-300", "name": "Ours", "count": 2}
    assert hand.call("PUT", f"/api/kit/{made['id']}", body).json()["name"] == "Ours"
    assert hand.call("DELETE", f"/api/kit/{made['id']}").status_code == 204
    assert not Gear.objects.exists()


@pytest.mark.parametrize(
    "line",
    [
        {"name": "X", "watts": -5},
        {"name": "X", "count": -1},
        {"name": "X", "key": "nothing"},
        {"name": ""},
        {"name": "X", "price": float("nan")},
        {"name": "X", "lux": 100},
        {"name": "X", "file": "no photometric file"},
    ],
)
def test_bad_lines_are_refused_and_nothing_is_kept(hand, production, line):
    answer = hand.call("POST", url(production), {"kind": "head", "key": "point-300", **line})
    assert answer.status_code in (400, 422), answer.content
    assert answer.json()["detail"]
    assert not Gear.objects.exists()


def test_a_table_goes_there_and_back(hand, production):
    rows = ["Kind,Name,Catalogue,Count,Price a day", "head,A,point-300,2,40", "bag,B,,12,0"]
    answer = hand.call("POST", url(production, "/table"), {"text": "\n".join(rows)})
    assert len(answer.json()["gear"]) == 2
    text = hand.get(f"/api/productions/{production.pk}/kit.csv").content.decode()
    table = list(csv.DictReader(io.StringIO(text)))
    assert [(r["Name"], r["Count"]) for r in table] == [("A", "2"), ("B", "12")]
    again = hand.call("POST", url(production, "/table"), {"text": text, "mode": "replace"})
    assert [g["name"] for g in again.json()["gear"]] == ["A", "B"]


def test_a_table_with_a_bad_line_changes_nothing(hand, production):
    add(hand, production, name="Mine")
    text = "Kind,Name,Catalogue,Power [W]\nbag,B,,\nhead,A,point-300,-4"
    answer = hand.call("POST", url(production, "/table"), {"text": text, "mode": "replace"})
    assert answer.status_code == 422
    assert "Line 3, Power [W]" in answer.json()["detail"]
    assert [g.name for g in Gear.objects.all()] == ["Mine"]


def test_a_thousand_lines_and_no_more_than_a_kit_takes(hand, production):
    head = "Kind,Name\n"
    many = head + "\n".join(f"bag,Bag {n}" for n in range(1000))
    assert hand.call("POST", url(production, "/table"), {"text": many}).status_code == 200
    assert hand.call("POST", url(production, "/table"), {"text": many}).status_code == 200
    assert hand.call("POST", url(production, "/table"), {"text": many}).status_code == 422
    assert Gear.objects.count() == 2000


def test_three_readings_make_a_head(hand, production):
    body = {
        "name": "Box of mine",
        "head": "softbox-small",
        "distance": 2.0,
        "axis": 800,
        "off": [[30, 400], [60, 80]],
    }
    made = hand.call("POST", url(production, "/head"), body)
    assert made.status_code == 201, made.content
    assert made.json()["has_file"] and made.json()["file"] == ""
    taken = hand.get(f"/api/kit/{made.json()['id']}/head").json()
    light = read_photometry(taken["ies"]).distribution
    read = [float(light.intensity(angle)) / 2.0**2 for angle in (0.0, 30.0, 60.0)]
    assert read == pytest.approx([800, 400, 80], rel=0.01)
    # Changed without its file, it keeps it.
    line = {"kind": "head", "key": "softbox-small", "name": "Renamed"}
    assert hand.call("PUT", f"/api/kit/{made.json()['id']}", line).json()["has_file"]


@pytest.mark.parametrize(
    "change",
    [
        {"off": [[30, 900], [60, 80]]},
        {"off": [[30, 400], [30, 80]]},
        {"distance": 0.0},
        {"axis": -1},
    ],
)
def test_readings_that_no_beam_gives(hand, production, change):
    body = {"name": "X", "head": "point-300", "distance": 2.0, "axis": 800}
    body |= {"off": [[30, 400], [60, 80]], **change}
    assert hand.call("POST", url(production, "/head"), body).status_code == 422
    assert not Gear.objects.exists()


def test_work_of_a_draft(hand, setup, production):
    document = load(setup.current.document)
    answer = hand.call("POST", f"/api/setups/{setup.pk}/work", {}).json()
    assert not answer["kept"] and answer["short"] == []
    heads = sum(n["count"] for n in answer["needs"] if n["kind"] == "head")
    assert heads == len(document.units)
    add(hand, production, name="Mine", key=document.units[0].head)
    answer = hand.call("POST", f"/api/setups/{setup.pk}/work", {}).json()
    assert answer["kept"]
    short = {s["need"]["key"] for s in answer["short"] if s["need"]["kind"] == "head"}
    assert document.units[0].head not in short or heads > 1
    assert answer["rigging"]["minutes"] > 0 and answer["power"]["unsaid"]


def test_a_stand_in_is_metered_to_what_was_promised(hand, setup):
    document = load(setup.current.document)
    before = read_setup(document, "key").unit("key").face_lux
    others = [
        (u.id, read_setup(document, u.id).unit(u.id).face_lux)
        for u in document.units
        if u.id != "key"
    ]
    reached, of = 0, 1
    at = 0
    while at < min(of, 12):
        body = {"unit": "key", "at": at}
        answer = hand.call("POST", f"/api/setups/{setup.pk}/stand-ins", body).json()
        of, found = answer["of"], answer["found"]
        made = load(found["setup"])
        level = read_setup(made, "key").unit("key").face_lux
        assert level / before == pytest.approx(2 ** found["off"], rel=0.02)
        if found["spare"] >= 0:
            assert abs(found["off"]) < 0.1
            reached += 1
        for name, lux in others:
            assert read_setup(made, name).unit(name).face_lux == pytest.approx(lux, rel=0.03)
        at += 1
    assert reached > 2


def test_stand_ins_of_the_kit(hand, setup, production):
    add(hand, production, name="Small one", key="panel-small")
    add(hand, production, name="None left", key="point-150", count=0)
    body = {"unit": "key", "source": "kit"}
    answer = hand.call("POST", f"/api/setups/{setup.pk}/stand-ins", body).json()
    assert answer["of"] == 1 and answer["found"]["name"] == "Small one"
    gone = hand.call("POST", f"/api/setups/{setup.pk}/stand-ins", {**body, "unit": "none"})
    assert gone.status_code == 422
