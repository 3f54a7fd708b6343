"""Cameras, schools, ratios and the level card over HTTP; the card's files by readers that are not
ours.
"""

import csv
import io
import shutil
import subprocess
from dataclasses import replace

import pytest

from inkwell.cards.page import page, table
from moth.card import FIELDS, level_card
from moth.document import load
from moth.tests.scenes import data, moved, setup

CAMERA = {"id": "a", "name": "A", "position": [3, 5.5, 1.25], "aim": [3, 3, 1.2]}


def test_a_cameras_figures(hand):
    found = hand.call(
        "POST",
        "/api/camera/facts",
        {"camera": {**CAMERA, "curve": "hlg", "fps": 24}, "distance": 2.5},
    ).json()
    assert (
        found["curve"] == "BT.2100 HLG"
        and found["grey"] == pytest.approx(0.378, abs=1e-3)
        and len(found["table"]) == len(found["noise"]) == 24 * 256
    )
    assert (
        found["table"][0] == 0
        and found["table"][-1] == 65535
        and found["table"] == sorted(found["table"])
    )
    assert found["depth"]["near"] < 2.5 < found["depth"]["far"] and found["angle"] == pytest.approx(
        180
    )
    assert any(not f["safe"] and f["nearest"] for f in found["flicker"])


@pytest.mark.parametrize(
    "camera, said",
    [
        ({"curve": "log", "log": {"grey": 0.12, "over": 1, "under": 8}}, "No log curve"),
        ({"curve": "log", "log": {"grey": 2, "over": 6, "under": 8}}, ""),
        ({"fps": 0}, ""),
    ],
)
def test_a_camera_that_cannot_be(hand, camera, said):
    response = hand.call(
        "POST", "/api/camera/facts", {"camera": {**CAMERA, **camera}, "distance": 2.5}
    )
    assert response.status_code == 422 and said in response.json()["detail"]


def test_schools_and_ratios(hand, setup):
    url = f"/api/setups/{setup.pk}"
    rows = hand.call("POST", f"{url}/schools", {}).json()
    assert {r["key"] for r in rows} == {
        "source",
        "lens",
        "shade",
        "shielded",
        "spot",
        "disc-key",
        "disc-fill",
    } and all(len(r["ways"]) == 4 for r in rows)
    solved = hand.call(
        "POST", f"{url}/ratio", {"document": data(), "unit": "fill", "target": 3}
    ).json()
    look = hand.look(setup.pk, {"document": solved["document"], "picture": False})
    assert look["readings"]["ratios"]["combined"]["ratio"] == pytest.approx(3, rel=0.02)
    # Nothing was stored, and what cannot be is said.
    assert hand.get(url).json()["version"] == 1
    refused = hand.call("POST", f"{url}/ratio", {"document": data(), "unit": "fill", "target": 60})
    assert refused.status_code == 422 and "cannot do it" in refused.json()["detail"]


def test_the_card_holds_what_puts_it_back(hand, setup):
    card = hand.get(f"/api/setups/{setup.pk}/card").json()
    assert [u["name"] for u in card["units"]] == ["Key", "Fill"] and card["units"][0][
        "dimmer"
    ] == 50
    response = hand.get(f"/api/setups/{setup.pk}/card.csv")
    assert (
        response["Content-Type"].startswith("text/csv")
        and "attachment" in response["Content-Disposition"]
    )
    rows = list(csv.DictReader(io.StringIO(response.content.decode())))
    assert list(rows[0]) == list(FIELDS.values()) and [r["Unit"] for r in rows] == ["Key", "Fill"]
    assert float(rows[0]["At the face [fc]"]) == pytest.approx(card["units"][0]["footcandles"])
    assert float(rows[0]["To the face [m]"]) * 3.28 == pytest.approx(
        float(rows[0]["To the face [ft]"]), abs=0.1
    )
    assert hand.get(f"/api/setups/{setup.pk}/card.docx").status_code in (404, 422)


def test_the_page_is_read_by_another_program(tmp_path):
    assert shutil.which("pdftotext"), "poppler-utils is set up by script/test"
    board = {
        "id": "b",
        "name": "White <board>",
        "kind": "board",
        "material": "foam-white",
        "position": [4.6, 4.2, 1.6],
        "aim": [3.2, 4.0, 1.4],
        "size": [1.2, 1.2],
    }
    words = {"title": "Keeper & pilot, 3⅓ under, ⅔ over", "notes": "Lamp hot.\nBags."}
    card = level_card(load(data(grip=[board], **words)))
    made = replace(card, place="Saltmarsh Signal / Gallery")
    (tmp_path / "card.pdf").write_bytes(page(made))
    text = subprocess.run(
        ["pdftotext", "-layout", tmp_path / "card.pdf", "-"],
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    level = f"{made.units[0].footcandles:.1f} fc"
    for words in (
        "Keeper & pilot, 3 1/3 under, 2/3 over",
        "Saltmarsh Signal / Gallery",
        "White <board>",
        "Foam board, white",
        "Lamp hot.",
        "camera left",
        level,
    ):
        assert words in text, words


def test_forty_units_run_over_pages_and_no_cell_is_a_formula(tmp_path):
    many = data()
    many["units"] = [
        {**many["units"][k % 2], "id": f"u{k}", "name": f"=SUM({k})" if k == 0 else f"Unit {k}"}
        for k in range(40)
    ]
    made = replace(level_card(load(many)), place="p")
    (tmp_path / "card.pdf").write_bytes(page(made))
    text = subprocess.run(
        ["pdftotext", tmp_path / "card.pdf", "-"], capture_output=True, text=True, check=True
    ).stdout
    assert all(f"Unit {k}" in text for k in range(1, 40)) and text.count("\f") >= 2
    rows = list(csv.reader(io.StringIO(table(made))))
    assert len(rows) == 41 and rows[1][0] == "'=SUM(0)"


def test_an_empty_stage_has_a_card():
    card = level_card(setup(units=[]))
    assert card.units == () and card.sentence.startswith("No units")
    assert page(card).startswith(b"%PDF")


def test_the_card_tells_what_hangs_on_a_unit_whose_figures_it_has_and_what_the_sky_does():
    document = moved(
        data(
            sky={
                "kind": "clear",
                "level": 12_000,
                "cct": 7000,
                "sun": {"azimuth": 120, "elevation": 15, "level": 40_000},
            },
            openings=[
                {
                    "id": "w",
                    "name": "Sea window",
                    "wall": "west",
                    "along": 3.0,
                    "up": 1.4,
                    "size": [1.2, 1.2],
                }
            ],
        ),
        "units",
        0,
        head="point-300",
        attachments=[{"key": "lens-26"}, {"key": "scrim-single"}],
        measured={"lux": 800, "distance": 2.5},
    )
    card = level_card(load(document))
    assert (
        card.units[0].hung.startswith("measured 800 lx at 2.5 m; Projection lens")
        and card.units[0].hung.count(";") == 2
    )
    assert card.units[1].hung == ""
    assert card.sky == "Sky clear, 12000 lx, 7000 K; sun 120° from north, 15° up, 40000 lx"
    # Indoors without a window there is no sky to write down.
    assert level_card(load(data())).sky is None
