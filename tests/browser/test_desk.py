"""The real interface, driven as a gaffer drives it."""

import json
import re
import time

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.conftest import FRAME, holds, part, pixels, sign_in

FACE = (0.40, 0.20, 0.56, 0.45)  # left, top, right, bottom of the face in the demo's frame


def settled(page):
    """Wait until nothing is being asked, rendered or stored."""
    holds(page, "() => !globalThis.underWay")
    expect(page.locator("header [role=status]")).to_have_text(re.compile("^(kept|you look.*)$"))
    # The first frame of a server that has just begun waits for its kernels, figures and links, on a
    # machine that does two such at once.
    expect(page.locator(FRAME)).to_have_attribute("aria-busy", "false")
    expect(page.get_by_role("region", name="Readings", exact=True)).to_have_attribute(
        "aria-busy", "false"
    )


def open_demo(page):
    page.get_by_role("link", name="Keeper, instrument room").first.click()
    settled(page)


def open_copy(page, name="Keeper, instrument room"):
    """A set-up of the demo as one of its own, so that tests do not meet each other's lights."""
    link = page.get_by_role("link", name=name).first.get_attribute("href")
    made = page.evaluate(
        """async (link) => {
            const { csrf } = await (await fetch("/api/session")).json();
            const file = await (await fetch(`/api${link}/export`)).text();
            const { scene } = await (await fetch(`/api${link}`)).json();
            const headers = { "X-CSRFToken": csrf, "Content-Type": "application/json" };
            const path = `/api/scenes/${scene.id}/import`;
            return (await (await fetch(path, { method: "POST", headers, body: file })).json()).id;
        }""",
        link,
    )
    page.goto(page.url.rstrip("/") + f"/setups/{made}")
    settled(page)


def signal(page, box=FACE):
    """Mean linear signal of a part of the frame, undoing BT.709."""
    v = part(pixels(page), *box) / 255
    return float(np.where(v < 0.081, v / 4.5, ((v + 0.099) / 1.099) ** (1 / 0.45)).mean())


def level(page, mark="under the chin"):
    """Foot-candles of a mark in the readings."""
    row = page.get_by_role("row", name=re.compile(mark))
    return float(re.search(r"([\d.,]+) fc", row.inner_text()).group(1).replace(",", ""))


def unit_centre(page, unit):
    box = page.locator(f"[data-unit={unit}] circle").first.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def middle_of_plan(page):
    box = (
        page.get_by_role("button", name="Subject on the plan")
        .locator("circle")
        .first.bounding_box()
    )
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def field(page, label):
    return page.get_by_label(label, exact=True)


def drag(page, start, end, steps=10, **keys):
    page.mouse.move(*start)
    page.mouse.down()
    for k in range(1, steps + 1):
        page.mouse.move(
            start[0] + (end[0] - start[0]) * k / steps, start[1] + (end[1] - start[1]) * k / steps
        )
        page.wait_for_timeout(20)
    page.mouse.up()


def test_sign_in_refuses_and_admits(page, server):
    page.goto(server.url + "/setups/1")
    page.get_by_label("Name").fill("gaffer")
    page.get_by_label("Password").fill("not this")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_have_text("Name and password do not go together.")
    sign_in(page, server)
    page.get_by_role("button", name="gaffer").click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page.get_by_label("Password")).to_be_visible()


def test_the_desk_fits_without_scrolling(desk):
    open_copy(desk)
    for width, height in ((1280, 800), (1024, 700)):
        desk.set_viewport_size({"width": width, "height": height})
        desk.wait_for_timeout(200)
        sizes = desk.evaluate(
            "() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight]"
        )
        assert sizes == [width, height]
        for name in ("Stop-ring plan", "Heights above the floor"):
            box = desk.get_by_role("group", name=name).bounding_box()
            assert box["height"] > 180 and box["y"] + box["height"] <= height + 1
        assert desk.locator("canvas").bounding_box()["width"] > 0.5 * (width - 480)


def test_drag_the_key_a_ring_out_and_lose_a_stop(desk):
    open_copy(desk)
    for name in ("Fill off", "Edge off", "Globe off", "Cabinet off"):
        desk.get_by_role("button", name=name).click()
    settled(desk)
    distance = float(field(desk, "To the face").input_value())
    before, lit = level(desk), signal(desk)
    # The plan shows the floor: stretch the walk so that the way to the face grows by the square
    # root of two.
    middle, start = middle_of_plan(desk), unit_centre(desk, "key")
    height = float(field(desk, "Over floor").input_value())
    rise = distance * np.sin(np.radians(float(field(desk, "Above eyes").input_value())))
    flat = np.sqrt(distance**2 - rise**2)
    ratio = np.sqrt(2 * distance**2 - rise**2) / flat
    end = tuple(m + (s - m) * ratio for m, s in zip(middle, start, strict=True))
    drag(desk, start, end)
    settled(desk)
    assert float(field(desk, "Over floor").input_value()) == height
    assert float(field(desk, "To the face").input_value()) == pytest.approx(
        distance * 2**0.5, rel=0.03
    )
    # A stop by the square law; a box this near falls off a little gentler.
    assert 0.75 < np.log2(before / level(desk)) < 1.1
    assert np.log2(lit / signal(desk)) == pytest.approx(np.log2(before / level(desk)), abs=0.2)


def test_keys_round_the_face_and_on_the_dimmer(desk):
    open_copy(desk)
    desk.get_by_role("button", name=re.compile("^Edge .*fresnel")).click()
    angle = float(field(desk, "Off lens").input_value())
    desk.keyboard.press("ArrowRight")
    desk.keyboard.press("ArrowRight")
    assert float(field(desk, "Off lens").input_value()) == pytest.approx(angle + 10, abs=0.6)
    settled(desk)
    desk.get_by_role("button", name=re.compile("^Key .*softbox")).click()
    key_side = level(desk, "key side, toward")
    dimmer = desk.get_by_role("slider", name="Dimmer")
    dimmer.focus()
    for _ in range(3):
        dimmer.press("ArrowLeft")
    settled(desk)
    holds(desk, f"() => !document.querySelector('aside').innerText.includes('{key_side:.1f} fc')")
    assert 0.7 < np.log2(key_side / level(desk, "key side, toward")) <= 1.02
    desk.keyboard.press("?")
    desk.locator("body").press("Escape")


def test_solo_off_undo_redo_and_reload(desk):
    open_copy(desk)
    expect(desk.get_by_role("button", name="All", exact=True)).to_have_count(0)
    everything, fill_side = signal(desk), level(desk, "fill side, key")
    desk.get_by_role("button", name="Fill alone").click()
    expect(desk.get_by_role("heading", name=re.compile("Fill alone"))).to_be_visible()
    desk.wait_for_timeout(400)
    alone = signal(desk)
    assert alone < 0.8 * everything and level(desk, "fill side, key") <= fill_side
    desk.get_by_role("button", name="All", exact=True).click()
    was = desk.get_by_role("button", name=re.compile("^Fill (off|on)$")).inner_text()
    ratio = desk.get_by_label("Key-to-fill ratio")
    # One unit alone tells no ratio: the readings of all are waited for.
    expect(ratio).to_have_text(re.compile(r"\d"))
    before = ratio.inner_text()
    desk.get_by_role("button", name=re.compile("^Fill (off|on)$")).click()
    expect(ratio).not_to_have_text(before)
    settled(desk)
    changed = ratio.inner_text()
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(ratio).to_have_text(before)
    assert desk.get_by_role("button", name=re.compile("^Fill (off|on)$")).inner_text() == was
    desk.get_by_role("button", name=re.compile("^Redo")).click()
    expect(ratio).to_have_text(changed)
    desk.reload()
    settled(desk)
    expect(ratio).to_have_text(changed)
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(ratio).to_have_text(before)


def test_a_new_set_up_from_empty_is_lit(desk):
    desk.get_by_role("button", name="New production").click()
    desk.get_by_label("Title").fill("Harbour test")
    desk.get_by_role("button", name="Start it").click()
    shelf = desk.get_by_role("region", name="Harbour test")
    shelf.get_by_role("button", name="New scene").click()
    desk.get_by_label("Title").fill("Pilot's mess")
    desk.get_by_role("button", name="Add it").click()
    shelf.get_by_role("button", name="New set-up").click()
    desk.get_by_label("Title").fill("Pilot, first light")
    desk.get_by_role("button", name="Open the desk").click()
    expect(desk.get_by_text("The stage is dark. Bring in the key first.")).to_be_visible()
    # It is framed before it is lit: by a light that is nobody's, and says so.
    told = desk.get_by_text("By a work light, to frame by.")
    expect(told).to_be_visible()
    settled(desk)
    assert 40 < part(pixels(desk), 0.41, 0.33, 0.59, 0.67).mean() < 200
    expect(desk.get_by_label("T-stop under the chin")).to_have_text("no reading")
    for head in ("150 W head, softbox", "Soft panel, 1"):
        desk.get_by_role("button", name="Bring in a unit").click()
        desk.get_by_role("radio", name=re.compile(head)).click()
        expect(desk.get_by_text("Mind:").last).to_be_visible()
        desk.get_by_role("button", name="Bring it in").click()
    settled(desk)
    expect(told).to_have_count(0)
    expect(desk.get_by_label("Key-to-fill ratio")).to_have_text(re.compile(r"^[\d.]+ : 1$"))
    # The numbers come before the picture.
    for _ in range(150):
        if signal(desk) > 0.02:
            break
        desk.wait_for_timeout(200)
    assert signal(desk) > 0.02
    desk.get_by_role("tab", name="Subject").click()
    desk.get_by_role("button", name="Spectacles").click()
    settled(desk)
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    desk.get_by_role("link", name="Inkwell Moth, to the shelf").click()
    expect(desk.get_by_role("link", name=re.compile("Pilot, first light 2 units"))).to_be_visible()


def test_units_of_measure(desk):
    open_copy(desk)
    desk.get_by_role("button", name="Units of measure").click()
    desk.get_by_role("button", name="lux").click()
    desk.get_by_role("button", name="feet").click()
    desk.get_by_role("button", name="tenths").click()
    desk.keyboard.press("Escape")
    expect(desk.get_by_role("row", name=re.compile("under the chin"))).to_contain_text("lx")
    expect(desk.get_by_label("T-stop under the chin")).to_have_text(
        re.compile(r"^T[\d.]+( \+ \d/10)?$")
    )
    expect(desk.get_by_text(re.compile("ft to the face"))).to_be_visible()


def test_a_place_that_cannot_be_is_said_and_taken_back(desk):
    open_copy(desk)
    desk.get_by_role("button", name=re.compile("^Fill .*panel")).click()
    distance = field(desk, "To the face")
    was = distance.input_value()
    distance.fill("40")
    distance.press("Enter")
    expect(desk.get_by_role("alert")).to_contain_text(re.compile("outside the room|in the"))
    expect(desk.locator("header [role=status]")).to_have_text("not kept")
    desk.get_by_role("button", name="Put it back").click()
    expect(distance).to_have_value(was)
    settled(desk)


def test_fields_that_hang_together_are_typed_in_any_order(desk):
    """In the ceiling at this distance, and well under it at the one that is typed next."""
    open_copy(desk)
    desk.get_by_role("button", name=re.compile("^Fill .*panel")).click()
    above, distance = field(desk, "Above eyes"), field(desk, "To the face")
    above.fill("75")
    above.press("Enter")
    refused = desk.get_by_role("alert").filter(has_text="in the ceiling")
    expect(refused).to_be_visible()
    distance.fill("1.0")
    distance.press("Enter")
    expect(desk.locator("header [role=status]")).to_have_text("kept")
    # What is said then is of the stand, for which there is little room.
    expect(refused).to_have_count(0)
    expect(above).to_have_value("75")
    expect(distance).to_have_value("1.00")


def test_a_viewer_looks_and_cannot_edit(page, server):
    sign_in(page, server, "pilot")
    open_demo(page)
    expect(page.get_by_text("you look, others light")).to_be_visible()
    assert page.get_by_role("button", name=re.compile("^Undo")).count() == 0
    assert page.get_by_role("button", name="Bring in a unit").count() == 0
    expect(page.get_by_role("button", name=re.compile("^Key (off|on)$"))).to_be_disabled()
    before = field(page, "Off lens").input_value()
    start = unit_centre(page, "key")
    drag(page, start, (start[0] - 40, start[1] + 10))
    page.locator("body").press("ArrowLeft")
    page.wait_for_timeout(800)
    assert field(page, "Off lens").input_value() == before
    page.get_by_role("button", name="Key alone").click()
    expect(page.get_by_role("heading", name=re.compile("Key alone"))).to_be_visible()


UNSENT = """() => new Promise((done) => {
    const opening = indexedDB.open('inkwell-moth');
    opening.onsuccess = () => {
        const database = opening.result;
        if (!database.objectStoreNames.contains('unsent')) return done([]);
        const asked = database.transaction('unsent').objectStore('unsent').getAll();
        asked.onsuccess = () => { database.close(); done(asked.result); };
    };
})"""


def unsent(page):
    """Notes of edits that wait, as this browser keeps them."""
    return page.evaluate(UNSENT)


def test_a_lost_connection_keeps_the_edits(desk, server):
    open_copy(desk)
    desk.get_by_role("button", name=re.compile("^Edge .*fresnel")).click()
    server.stop()
    height = field(desk, "Over floor")
    height.fill("2.22")
    height.press("Enter")
    expect(desk.get_by_role("alert")).to_contain_text("sent again")
    assert "2.22" in json.dumps(unsent(desk))
    server.start()
    expect(desk.locator("header [role=status]")).to_have_text("kept")
    desk.reload()
    settled(desk)
    desk.get_by_role("button", name=re.compile("^Edge .*fresnel")).click()
    expect(height).to_have_value("2.22")


def test_edits_that_were_never_sent_are_there_when_the_page_is_opened_again(desk):
    open_copy(desk)
    desk.route(
        "**/api/setups/*",
        lambda route: route.abort() if route.request.method == "PUT" else route.continue_(),
    )
    desk.get_by_role("button", name=re.compile("^Edge .*fresnel")).click()
    height = field(desk, "Over floor")
    height.fill("2.31")
    height.press("Enter")
    expect(desk.get_by_role("alert")).to_contain_text("sent again")
    desk.reload()
    desk.get_by_role("button", name=re.compile("^Edge .*fresnel")).click()
    expect(height).to_have_value("2.31")
    desk.unroute("**/api/setups/*")
    settled(desk)
    desk.reload()
    settled(desk)
    desk.get_by_role("button", name=re.compile("^Edge .*fresnel")).click()
    expect(height).to_have_value("2.31")
    assert unsent(desk) == []


def test_two_hands_on_one_set_up(desk, browser, server):
    open_copy(desk)
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    other = context.new_page()
    sign_in(other, server)
    other.goto(desk.url)
    settled(other)
    other.get_by_role("button", name=re.compile("^Cabinet (off|on)$")).click()
    settled(other)
    context.close()
    desk.get_by_role("button", name=re.compile("^Globe (off|on)$")).click()
    expect(desk.get_by_role("heading", name="Somebody was quicker")).to_be_visible()
    desk.get_by_role("button", name="Put mine on top").click()
    expect(desk.get_by_role("dialog")).to_have_count(0)
    settled(desk)
    expect(desk.get_by_role("button", name=re.compile("^Undo kept mine"))).to_be_visible()


def test_files_go_out_come_back_and_are_refused(desk, tmp_path):
    card = desk.get_by_role("listitem").filter(has_text="Keeper, instrument room").first
    card.get_by_role("button").click()
    with desk.expect_download() as coming:
        desk.get_by_role("menuitem", name="Save as a file").click()
    file = tmp_path / "keeper.setup.json"
    coming.value.save_as(file)
    document = json.loads(file.read_text())
    document["title"] = "Keeper, brought back"
    good, bad = tmp_path / "good.json", tmp_path / "bad.json"
    good.write_text(json.dumps(document))
    document["units"][0]["dimmer"] = 7
    bad.write_text(json.dumps(document))
    picker = desk.get_by_label("Set-up file for Instrument room, after the night watch")
    picker.set_input_files(bad)
    expect(desk.get_by_role("alert")).to_contain_text("units[0].dimmer")
    picker.set_input_files(good)
    expect(desk.get_by_text("Keeper, brought back")).to_be_visible()


def test_a_broken_ies_file_is_refused_at_the_unit(desk, tmp_path):
    open_copy(desk)
    desk.get_by_role("button", name=re.compile("^Fill .*panel")).click()
    lamp = tmp_path / "lamp.ies"
    lamp.write_text("IESNA91\nTILT=NONE\n1 1000 1 3 1 1 2 0 0 0\n1 1 50\n0 45 90\n0\n300 nan 0\n")
    desk.get_by_label("Photometric file", exact=True).set_input_files(lamp)
    expect(desk.get_by_role("alert")).to_contain_text("not a number")
    lamp.write_text(lamp.read_text().replace("nan", "200"))
    desk.get_by_label("Photometric file", exact=True).set_input_files(lamp)
    expect(desk.get_by_role("button", name=re.compile("^Fill .*photometric file"))).to_be_visible()
    settled(desk)
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    time.sleep(0.2)


def test_the_meter_is_held_elsewhere(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Meter").click()
    desk.get_by_role("button", name="At the meter").click()
    desk.get_by_role("option", name="More marks").click()
    desk.get_by_role("button", name="Beside the face").click()
    row = desk.get_by_role("row", name=re.compile("^Mark 1"))
    expect(row).to_contain_text("fc")
    settled(desk)
    first = level(desk, "^Mark 1")
    group = desk.get_by_role("group", name="Mark 1")
    group.get_by_label("Points").click()
    desk.get_by_role("option", name="straight up").click()
    holds(
        desk,
        "([was]) => { const r = [...document.querySelectorAll('tr')].find((t) =>"
        " t.innerText.startsWith('Mark 1')); return r && !r.innerText.includes(was); }",
        arg=[f"{first:.1f} fc"],
    )
    group.get_by_role("button", name="Take away").click()
    expect(row).to_have_count(0)


def test_marks_are_put_by_pointing_and_in_lines(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Meter").click()
    desk.get_by_role("button", name="At the meter").click()
    desk.get_by_role("option", name="More marks").click()
    desk.get_by_role("button", name="Point at the place").click()
    # At the edge of the frame the wall shows, under the chart.
    here = desk.get_by_role("button", name="Hold the meter here")
    here.click(position={"x": 12, "y": 130})
    rows = desk.get_by_role("row", name=re.compile("^On "))
    expect(rows).to_have_count(1)
    expect(rows.first).to_contain_text("fc")
    # The plan takes it too, and Escape ends it.
    plan = desk.get_by_role("group", name="Stop-ring plan")
    box = plan.bounding_box()
    plan.click(position={"x": box["width"] * 0.2, "y": box["height"] * 0.75})
    expect(desk.get_by_role("row", name=re.compile(r"^Mark \d"))).to_have_count(1)
    desk.keyboard.press("Escape")
    expect(here).to_have_count(0)
    # A line along the wall: three more, half a metre apart, in one gesture.
    group = desk.get_by_role("group", name=re.compile("^On ")).first
    group.get_by_role("button", name="A line of marks from here…").click()
    group.get_by_role("button", name="Set 3 more").click()
    expect(rows).to_have_count(4)
    settled(desk)
    desk.keyboard.press("z")
    expect(rows).to_have_count(1)


def test_the_camera_stops_down_and_the_readings_stay(desk):
    open_copy(desk)
    before, lux = signal(desk), level(desk)
    desk.get_by_role("tab", name="Camera").click()
    desk.get_by_role("button", name=re.compile("^Exposure index")).click()
    desk.get_by_role("option", name="EI 400", exact=True).click()
    settled(desk)
    desk.wait_for_timeout(300)
    assert np.log2(before / signal(desk)) == pytest.approx(1, abs=0.1)
    assert level(desk) == lux
    expect(desk.get_by_label("Camera settings")).to_contain_text("EI 400")


def test_shift_keeps_a_unit_on_its_spoke_and_the_strip_lifts_it(desk):
    open_copy(desk)
    desk.get_by_role("button", name=re.compile("^Fill .*panel")).click()
    angle, height = (
        field(desk, "Off lens").input_value(),
        float(field(desk, "Over floor").input_value()),
    )
    start, middle = unit_centre(desk, "fill"), middle_of_plan(desk)
    desk.keyboard.down("Shift")
    drag(desk, start, ((start[0] + middle[0]) / 2 + 15, (start[1] + middle[1]) / 2))
    desk.keyboard.up("Shift")
    settled(desk)
    assert field(desk, "Off lens").input_value() == angle
    dot = desk.get_by_role("button", name="Fill height").locator("circle").bounding_box()
    grip = dot["x"] + dot["width"] / 2, dot["y"] + dot["height"] / 2
    drag(desk, grip, (grip[0], grip[1] - 60))
    settled(desk)
    assert float(field(desk, "Over floor").input_value()) > height + 0.3
    desk.get_by_role("button", name="Undo Fill height").click()
    expect(field(desk, "Over floor")).to_have_value(f"{height:.2f}")


def test_the_shelf_is_kept_in_order(desk):
    desk.get_by_role("button", name="New production").click()
    desk.get_by_role("button", name="Start it").click()
    expect(desk.get_by_role("alert")).to_have_text("Give it a name.")
    desk.get_by_label("Title").fill("Short-lived")
    desk.get_by_role("button", name="Start it").click()
    more = desk.get_by_role("button", name="More about Short-lived")
    more.click()
    desk.get_by_role("menuitem", name="People").click()
    desk.get_by_label("Add by name").fill("nobody-here")
    desk.get_by_role("button", name="Add", exact=True).click()
    expect(desk.get_by_role("alert")).to_contain_text("nobody called")
    desk.get_by_label("Add by name").fill("pilot")
    desk.get_by_role("button", name="Add", exact=True).click()
    expect(desk.get_by_role("button", name="Remove pilot")).to_be_visible()
    desk.get_by_role("button", name="Done").click()
    more.click()
    desk.get_by_role("menuitem", name="Delete").click()
    desk.get_by_role("button", name="Keep it").click()
    expect(desk.get_by_role("region", name="Short-lived")).to_be_visible()
    more.click()
    desk.get_by_role("menuitem", name="Delete").click()
    desk.get_by_role("button", name="Delete for good").click()
    expect(desk.get_by_role("region", name="Short-lived")).to_have_count(0)
