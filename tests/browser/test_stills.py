"""A still from a file to a set-up, by the hand alone."""

import re

import pytest
from playwright.sync_api import expect

from moth.tests.known_stills import drawn
from tests.browser.conftest import came
from tests.browser.test_light import pick


@pytest.fixture(scope="module")
def known():
    return drawn(38, (960, 540))


def press(page, at):
    """Press on a place of the still."""
    box = page.get_by_role("group", name="The still").bounding_box()
    page.mouse.click(box["x"] + at[0] * box["width"], box["y"] + at[1] * box["height"])


def known_as(page, label, value):
    """Say that a number of the record is known."""
    page.get_by_role("checkbox", name=label, exact=True).check()
    field = page.get_by_role("textbox", name=label, exact=True)
    field.fill(str(value))
    field.press("Enter")


def test_a_still_is_marked_read_and_built(desk, known, tmp_path):
    path = tmp_path / "test frame.png"
    path.write_bytes(known.file)
    own = desk.get_by_role("region", name="Saltmarsh Signal")
    own.get_by_role("link", name="Stills").click()
    expect(desk.get_by_role("link", name=re.compile("Pilot, camera test"))).to_be_visible()
    desk.get_by_role("button", name="Bring a still in").click()
    dialog = desk.get_by_role("dialog")
    # What is no picture is refused, and nothing that was typed is lost.
    bad = tmp_path / "list.png"
    bad.write_text("not a picture")
    file = dialog.get_by_label(re.compile("^Picture"))
    file.set_input_files(bad)
    dialog.get_by_label("Name of the still").fill("Officer, test frame")
    dialog.get_by_role("button", name="Bring it in").click()
    expect(dialog.get_by_role("alert")).to_have_text(re.compile("cannot be read as a picture"))
    file.set_input_files(path)
    dialog.get_by_role("button", name="Bring it in").click()
    expect(desk.get_by_role("heading", name="Officer, test frame")).to_be_visible()

    # The head: one part leads to the next.
    desk.get_by_role("button", name="Left eye", exact=True).click()
    for part in ("eye_left", "eye_right", "nose_tip", "chin", "crown"):
        press(desk, getattr(known.marks.head, part))
    camera = desk.get_by_role("region", name="The camera of the still")
    expect(camera).to_contain_text("The head alone does not tell the lens")
    desk.get_by_role("tab", name="Record").click()
    pick(desk, "Curve", "ACEScct")
    pick(desk, "It shows", "a figure of this desk")
    known_as(desk, "Lens", round(known.truth["focal"], 1))
    known_as(desk, "White of the camera", known.record.white)
    known_as(desk, "Stop of the lens", 2.8)
    desk.get_by_role("tab", name="Camera").click()
    pick(desk, "Laid over it", known.marks.figure.figure.replace("-", " "))
    expect(camera).to_contain_text("told within a tenth")
    far = camera.get_by_role("row", name=re.compile("From the eyes")).inner_text()
    told = float(re.search(r"(\d+\.\d+) m", far)[1])
    assert abs(told / known.truth["distance"] - 1) < 0.1

    # The key: both glints, the nose, where it falls.
    desk.get_by_role("tab", name="Lights").click()
    pick(desk, "Add a light", "Key")
    row = desk.get_by_role("region", name="Key")
    key = known.marks.sources[0]
    for glint in key.glints:
        row.get_by_role("button", name=f"Glint, {glint.eye} eye").click()
        for spot in (glint.iris, glint.rim, glint.at):
            press(desk, spot)
    row.get_by_role("button", name="Nose's shadow").click()
    press(desk, next(s.tip for s in key.shadows if s.of == "nose_tip"))
    row.get_by_role("button", name="Where it falls").click()
    press(desk, key.lit.at)
    expect(row).to_contain_text(re.compile(r"(Surely|Probably) .*camera left"))
    off = row.get_by_role("row", name=re.compile("Off lens, camera left")).inner_text()
    assert abs(float(re.search(r"(\d+)°", off)[1]) + known.truth["angle"]) < 12

    # The ratio of the sides, by light and by percent.
    desk.get_by_role("tab", name="Read").click()
    desk.get_by_role("button", name="Shade side").click()
    press(desk, known.marks.shade.at)
    sides = desk.get_by_role("region", name="Shade side against the key's")
    light = sides.get_by_role("row", name=re.compile("by light")).inner_text()
    stops = float(re.search(r"([−+]\d\.\d)", light)[1].replace("−", "-"))
    assert abs(stops - known.truth["ratio"]) < 0.25
    desk.get_by_role("button", name="Undo").click()
    expect(sides).to_have_count(0)
    desk.get_by_role("button", name="Shade side").click()
    press(desk, known.marks.shade.at)
    desk.get_by_role("button", name="Neutral").click()
    press(desk, known.marks.neutral.at)
    expect(desk.get_by_role("region", name="White")).to_contain_text("K")
    expect(desk.get_by_role("status", name="Stored")).to_have_text("kept")

    # Built, and held against it.
    desk.get_by_role("tab", name="Match").click()
    desk.get_by_role("button", name="Build it").click()
    desk.get_by_role("button", name="What differs").click()
    expect(desk.get_by_role("list", name="What differs")).to_be_visible()
    expect(desk.get_by_role("list", name="What differs")).not_to_contain_text("direction")
    # A white picked from the still is set on a unit of what was built.
    white = desk.get_by_role("region", name="Its white on a unit")
    pick(desk, "White", re.compile("^the shade side's"))
    put = white.get_by_role("button", name=re.compile(r"^Set \d+ K on "))
    kelvin = int(re.search(r"\d+", put.inner_text())[0])
    put.click()
    made = desk.get_by_role("link", name="To its desk").get_attribute("href")
    asked = "async (p) => (await (await fetch(`/api${p}`)).json()).document.units[0].cct"
    came(desk, lambda: desk.evaluate(asked, made) == kelvin)
    desk.get_by_role("button", name="Show both").click()
    # By its bands of stops, and its trace: both pictures on one footing.
    desk.get_by_role("button", name="Bands of stops").click()
    banded = desk.get_by_role("img", name="Bands of stops of The still")
    expect(banded).to_have_attribute("aria-busy", "false")
    pick(desk, "Traces of both", "luma of both")
    for name in ("the still", "From Officer"):
        trace = desk.get_by_role("img", name=re.compile(f"^Waveform of {name}"))
        expect(trace).to_have_attribute("aria-busy", "false")
        lit = trace.evaluate(
            "(c) => c.getContext('2d').getImageData(0, 0, c.width, c.height).data"
            ".filter((v, k) => k % 4 === 0 && v > 0).length"
        )
        assert lit > 500
    desk.get_by_role("button", name="Bands of stops").click()
    expect(banded).to_have_count(0)
    desk.get_by_role("button", name="Wiped").click()
    expect(desk.get_by_role("slider", name="Where it is wiped")).to_be_visible()
    framed = desk.get_by_role("img", name="From Officer, test frame", exact=True)
    expect(framed).to_be_visible()
    # What was marked is there after lunch.
    desk.reload()
    expect(desk.get_by_role("button", name="Chin, mark")).to_be_visible()
    desk.get_by_role("tab", name="Match").click()
    desk.get_by_role("link", name="Stills").click()
    desk.get_by_role("button", name="Delete Officer, test frame").click()
    desk.get_by_role("button", name="Delete for good").click()
    expect(desk.get_by_role("link", name=re.compile("Officer, test frame"))).to_have_count(0)


def middle(page, name):
    """Middle of a mark on the screen [px]."""
    box = page.get_by_role("button", name=f"{name}, mark", exact=True).bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def carry(page, name, by):
    """Drag a mark by so many pixels."""
    x, y = middle(page, name)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + by[0] / 2, y + by[1] / 2)
    page.mouse.move(x + by[0], y + by[1])
    page.mouse.up()


def test_a_head_is_laid_over_in_two_presses_and_carried_whole(desk, known, tmp_path):
    path = tmp_path / "whole.png"
    path.write_bytes(known.file)
    own = desk.get_by_role("region", name="Saltmarsh Signal")
    own.get_by_role("link", name="Stills").click()
    desk.get_by_role("button", name="Bring a still in").click()
    dialog = desk.get_by_role("dialog")
    dialog.get_by_label(re.compile("^Picture")).set_input_files(path)
    dialog.get_by_label("Name of the still").fill("Laid over")
    dialog.get_by_role("button", name="Bring it in").click()
    expect(desk.get_by_role("heading", name="Laid over")).to_be_visible()
    pick(desk, "Laid over it", known.marks.figure.figure.replace("-", " "))
    desk.get_by_role("button", name="Outline", exact=True).click()
    for part in (known.marks.head.crown, known.marks.head.chin):
        press(desk, part)
    camera = desk.get_by_role("region", name="The camera of the still")
    expect(camera).to_contain_text("The head alone does not tell the lens")
    # The eyes lie near where they are: the head looks nearly into the lens.
    box = desk.get_by_role("group", name="The still").bounding_box()
    at = middle(desk, "Left eye")
    true = known.marks.head.eye_left
    assert abs((at[0] - box["x"]) / box["width"] - true[0]) < 0.03
    assert abs((at[1] - box["y"]) / box["height"] - true[1]) < 0.05

    # Carried, all goes along; sized, it grows about its middle; one undo each.
    before = {name: middle(desk, name) for name in ("Left eye", "Right eye", "Chin", "Crown")}
    carry(desk, "Whole head", (36, -24))
    for name, (x, y) in before.items():
        now = middle(desk, name)
        assert abs(now[0] - x - 36) < 1.5 and abs(now[1] - y + 24) < 1.5, name
    wide = before["Left eye"][0] - before["Right eye"][0]
    x = middle(desk, "Size and turn of the head")[0] - middle(desk, "Whole head")[0]
    carry(desk, "Size and turn of the head", (0.5 * x, 0))
    grown = middle(desk, "Left eye")[0] - middle(desk, "Right eye")[0]
    assert abs(grown / wide - 1.5) < 0.06
    for _ in range(2):
        desk.get_by_role("button", name="Undo").click()
    assert abs(middle(desk, "Left eye")[0] - before["Left eye"][0]) < 1.5
    expect(desk.get_by_role("status", name="Stored")).to_have_text("kept")
