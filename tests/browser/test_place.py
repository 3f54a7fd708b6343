"""Furniture brought in, carried, copied, stacked and struck; how a unit is held."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import WIDE, came, part, pixels
from tests.browser.test_desk import level, open_copy, settled
from tests.browser.test_light import pick, until


def furnish(page):
    page.get_by_role("tab", name="Room").click()
    page.get_by_role("button", name="Furniture", exact=True).click()


def bring(page, name):
    # "Table" is not "Table lamp".
    pick(page, "Bring in furniture", re.compile(rf"^{name}\b(?! lamp\b)"))
    settled(page)


def number(page, label):
    return float(page.get_by_label(label, exact=True).input_value())


def put(page, label, value):
    field = page.get_by_label(label, exact=True)
    field.fill(str(value))
    field.press("Enter")
    settled(page)


def test_a_place_is_furnished_by_hand_and_undone(desk):
    open_copy(desk)
    furnish(desk)
    bring(desk, "Table")
    glyph = desk.get_by_role("button", name="Table on the plan")
    expect(glyph).to_be_visible()
    # It is carried by the hand, and stands on the decimetre.
    box = glyph.bounding_box()
    at = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    desk.mouse.move(*at)
    desk.mouse.down()
    desk.mouse.move(at[0] + 30, at[1] + 20, steps=5)
    desk.mouse.up()
    settled(desk)
    x, y = number(desk, "From west"), number(desk, "From south")
    assert abs(10 * x - round(10 * x)) < 1e-6 and abs(10 * y - round(10 * y)) < 1e-6
    # A pile of books is put where the table stands, and set down on it.
    bring(desk, "Pile of books")
    put(desk, "From west", x)
    put(desk, "From south", y)
    desk.get_by_role("button", name="Set down").click()
    settled(desk)
    assert number(desk, "Above floor") == 0.75
    # The table carried on takes the books along.
    pick(desk, "Piece in hand", re.compile("^Table$"))
    put(desk, "From west", round(x + 0.3, 2))
    pick(desk, "Piece in hand", "Pile of books")
    settled(desk)
    assert number(desk, "From west") == pytest.approx(x + 0.3, abs=0.006)
    assert number(desk, "Above floor") == 0.75
    # A chair is copied; the copy stands beside it.
    bring(desk, "Chair")
    desk.get_by_role("button", name="Duplicate").click()
    settled(desk)
    expect(desk.get_by_role("button", name="Chair 2 on the plan")).to_be_visible()
    # Locked, the hand passes it by.
    desk.get_by_role("button", name="Locked").click()
    settled(desk)
    expect(desk.get_by_role("button", name="To the wall")).to_be_disabled()
    expect(desk.get_by_label("From west", exact=True)).to_be_disabled()
    desk.keyboard.press("z")
    settled(desk)
    desk.keyboard.press("z")
    settled(desk)
    expect(desk.get_by_role("button", name="Chair 2 on the plan")).to_have_count(0)
    # What was built is there after lunch.
    desk.reload()
    settled(desk)
    expect(desk.get_by_role("button", name="Pile of books on the plan")).to_be_visible()


def lamp_and_bulb(page):
    """Where the set-up's last piece stands as it is stored, and its light."""
    link = page.url.rsplit("/", 1)[1]
    document = page.evaluate(
        "async (n) => (await (await fetch(`/api/setups/${n}`)).json()).document", link
    )
    piece = document["furniture"][-1]
    light = next(u for u in document["units"] if u["piece"] == piece["id"])
    return piece["position"], light["position"]


def test_a_lamp_of_the_place_brings_its_light_carries_it_and_takes_it_along(desk):
    open_copy(desk)
    furnish(desk)
    bring(desk, "Table")
    bring(desk, "Table lamp")
    # It stands on the table, and its bulb is among the units.
    assert number(desk, "Above floor") == 0.75
    row = desk.get_by_role("listitem").filter(has_text=re.compile("^Table lamp"))
    expect(row).to_have_count(1)
    desk.get_by_role("button", name="Table lamp, light alone").click()
    settled(desk)
    expect(desk.get_by_role("heading", name="At the face: Table lamp, light alone")).to_be_visible()
    lit = level(desk)
    assert lit > 0.1
    # Through a thicker shade less comes.
    shade = desk.get_by_role("slider", name="Comes through the shade")
    shade.focus()
    shade.press("Home")
    settled(desk)
    until(desk, lambda: 0.2 * lit < level(desk) < 0.95 * lit)
    # The bulb goes where the lamp goes, and the lamp where the bulb is carried.
    x = number(desk, "From west")
    put(desk, "From west", x + 0.2)
    lamp, bulb = lamp_and_bulb(desk)
    assert abs(lamp[0] - (x + 0.2)) < 0.006 and bulb[:2] == lamp[:2]
    desk.get_by_role("button", name="Its bulb and level").click()
    desk.keyboard.press("ArrowRight")
    settled(desk)
    moved, bulb = lamp_and_bulb(desk)
    assert abs(moved[0] - lamp[0]) + abs(moved[1] - lamp[1]) > 0.02
    assert max(abs(a - b) for a, b in zip(moved[:2], bulb[:2], strict=True)) < 1e-3
    furnish(desk)
    # Dark, it is still there; struck, both are gone, and come back together.
    desk.get_by_role("button", name="Lit", exact=True).click()
    settled(desk)
    expect(row).to_contain_text("off")
    desk.get_by_role("button", name="Strike").click()
    settled(desk)
    expect(row).to_have_count(0)
    desk.keyboard.press("z")
    settled(desk)
    expect(row).to_have_count(1)
    expect(desk.get_by_role("button", name="Table lamp on the plan")).to_be_visible()


def open_by_a_window(page):
    """A copy with a window, by its sky alone; what that brings."""
    open_copy(page)
    page.get_by_role("tab", name="Room").click()
    page.get_by_role("button", name="Cut a window").click()
    settled(page)
    page.get_by_role("button", name="Sky alone").click()
    settled(page)
    return level(page)


def test_a_house_outside_keeps_the_sky_from_the_window(desk):
    open_sky = open_by_a_window(desk)
    assert open_sky > 1
    furnish(desk)
    bring(desk, "House")
    expect(desk.get_by_text("It stands outside")).to_be_visible()
    expect(desk.get_by_role("button", name="To the wall")).to_be_disabled()
    until(desk, lambda: level(desk) < 0.97 * open_sky)
    # As high as a tower it hides most of what the window sees.
    put(desk, "Wide", 40)
    put(desk, "High", 40)
    until(desk, lambda: level(desk) < 0.75 * open_sky)
    desk.get_by_role("button", name="Strike").click()
    settled(desk)
    until(desk, lambda: abs(level(desk) / open_sky - 1) < 0.02)


def test_snow_outside_lights_the_room_and_water_mirrors(desk):
    grass = open_by_a_window(desk)
    pick(desk, "Side", "land outside")
    pick(desk, "Made of", re.compile("^Snow"))
    until(desk, lambda: level(desk) > 1.1 * grass)
    snow = level(desk)
    expect(desk.get_by_label("Land reflects")).to_have_value("80")
    pick(desk, "Made of", re.compile("^Water"))
    expect(desk.get_by_label("Wind over water")).to_have_value("3.0")
    expect(desk.get_by_label("Water sends up")).to_have_value("3")
    until(desk, lambda: level(desk) < 0.95 * snow)
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    expect(desk.get_by_label("Wind over water")).to_have_count(0)
    until(desk, lambda: abs(level(desk) / snow - 1) < 0.02)


def test_furniture_stands_in_the_light_and_in_the_frame(desk):
    open_copy(desk)
    before, chin = pixels(desk).astype(int), level(desk)
    furnish(desk)
    bring(desk, "Bookshelf")
    assert abs(pixels(desk).astype(int) - before).mean() > 2
    # A screen between the key and the face takes its light away.
    bring(desk, "Folding screen")
    key = desk.locator("[data-unit=key]").bounding_box()
    box = desk.get_by_role("button", name="Folding screen on the plan").bounding_box()
    face = desk.get_by_role("button", name="Subject on the plan").bounding_box()
    to = [
        0.5 * (key[a] + key[size] / 2) + 0.5 * (face[a] + face[size] / 2)
        for a, size in (("x", "width"), ("y", "height"))
    ]
    desk.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    desk.mouse.down()
    desk.mouse.move(*to, steps=6)
    desk.mouse.up()
    settled(desk)
    put(desk, "High", 2.4)
    until(desk, lambda: level(desk) < 0.8 * chin)
    desk.get_by_role("button", name="Strike").click()
    until(desk, lambda: level(desk) > 0.95 * chin)
    expect(desk.get_by_role("button", name="Folding screen on the plan")).to_have_count(0)


def test_a_lamp_is_boomed_and_hung_and_its_stand_has_to_have_room(desk):
    open_copy(desk)
    desk.get_by_role("button", name=re.compile("^Edge .*fresnel")).click()
    pick(desk, "Held by", "a boom over a stand")
    stand = desk.get_by_role("img", name="Stand of Edge")
    expect(stand.locator("line")).to_be_visible()
    mind = desk.get_by_text(re.compile(r"kg on [\d.]+ m of arm want [\d.]+ kg"))
    expect(mind).to_be_visible()
    expect(mind).to_contain_text("licensed people decide")
    pick(desk, "Held by", "hung from above")
    expect(stand).to_have_count(0)
    # A crate where the fill stands: its stand has no room, and says so.
    desk.get_by_role("button", name=re.compile("^Fill .*panel")).click()
    settled(desk)
    spot = desk.get_by_role("img", name="Stand of Fill").bounding_box()
    furnish(desk)
    bring(desk, "Crate")
    box = desk.get_by_role("button", name="Crate on the plan").bounding_box()
    middle = (
        [b["x"] + b["width"] / 2 for b in (box, spot)],
        [b["y"] + b["height"] / 2 for b in (box, spot)],
    )
    desk.mouse.move(middle[0][0], middle[1][0])
    desk.mouse.down()
    desk.mouse.move(middle[0][1], middle[1][1], steps=6)
    desk.mouse.up()
    settled(desk)
    desk.get_by_role("tab", name="Unit", exact=True).click()
    expect(desk.get_by_label("Way of the light").get_by_role("alert").first).to_contain_text(
        re.compile("stand .*'Crate'")
    )
    pick(desk, "Held by", "a boom over a stand")
    expect(desk.get_by_label("Way of the light").get_by_role("alert")).to_have_count(0)


def test_house_lights_go_off_at_one_press(desk):
    desk.get_by_role("link", name="Keeper, kitchen after supper").first.click()
    settled(desk)
    house = desk.get_by_role("list", name="House lights")
    chin = level(desk)
    house.get_by_role("button", name="Switch ceiling off").click()
    until(desk, lambda: level(desk) < 0.8 * chin)
    expect(desk.get_by_role("button", name="Strip, left off", exact=True)).to_be_visible()
    house.get_by_role("button", name="House lights off").click()
    settled(desk)
    expect(desk.get_by_role("button", name="Strip, left on", exact=True)).to_be_visible()
    expect(desk.get_by_role("button", name="Key off", exact=True)).to_be_visible()
    # One gesture each: two steps back, and all is as it was.
    for _ in range(2):
        desk.keyboard.press("z")
        settled(desk)
    until(desk, lambda: abs(level(desk) / chin - 1) < 0.02)
    # A lamp of one's own is hung on a switch by its name.
    desk.get_by_role("button", name=re.compile("^Edge .*4 ft")).click()
    desk.get_by_label("On a switch of the house").fill("ceiling")
    desk.get_by_label("On a switch of the house").press("Enter")
    settled(desk)
    house.get_by_role("button", name="Switch ceiling off").click()
    settled(desk)
    expect(desk.get_by_role("button", name="Edge on", exact=True)).to_be_visible()
    for _ in range(2):
        desk.keyboard.press("z")
        settled(desk)


OWN = "^under the chin"
"""Of whose picture it is; the others are metered by name."""


def test_two_people_and_a_reverse_camera(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Subject").click()
    chin = level(desk, OWN)
    alone = pixels(desk).astype(int)
    pick(desk, "Bring in a person", "Young woman")
    settled(desk)
    other = desk.get_by_role("button", name="Person 2 on the plan")
    expect(other).to_be_visible()
    desk.get_by_label("Name", exact=True).fill("Pilot")
    desk.get_by_label("Name", exact=True).press("Enter")
    settled(desk)
    expect(desk.get_by_role("row", name=re.compile("^Pilot: under the chin"))).to_be_visible()
    # A camera on her: she is in the picture, and what the meter says is of her.
    desk.get_by_role("button", name="A camera on Pilot").click()
    settled(desk)
    until(desk, lambda: level(desk, OWN) != chin)
    assert abs(pixels(desk).astype(int) - alone).mean() > 8
    expect(desk.get_by_text("The picture is Pilot’s")).to_be_visible()
    # Through the first camera again the keeper is who is metered.
    desk.get_by_role("tab", name="Camera").click()
    pick(desk, "Look through", re.compile("^A camera"))
    settled(desk)
    desk.get_by_role("tab", name="Subject").click()
    pick(desk, "Person", "Keeper")
    expect(desk.get_by_text("The picture is Keeper’s")).to_be_visible()
    # Sent away, the light is as it was.
    pick(desk, "Person", "Pilot")
    desk.get_by_role("button", name="Send away").click()
    until(desk, lambda: abs(level(desk, OWN) / chin - 1) < 0.02)
    expect(desk.get_by_role("button", name="Pilot on the plan")).to_have_count(0)


def test_day_and_night_are_states_of_one_place(desk):
    open_copy(desk)
    day = level(desk)
    desk.get_by_role("tab", name="Room").click()
    pick(desk, "Add a state", "night")
    settled(desk)
    expect(desk.get_by_role("banner")).to_contain_text(", night")
    desk.get_by_role("button", name="Key off", exact=True).click()
    until(desk, lambda: level(desk) < 0.8 * day)
    night = level(desk)
    pick(desk, "State of the place", "as it was")
    until(desk, lambda: abs(level(desk) / day - 1) < 0.02)
    # Day is held against night, which reads as it was lit.
    desk.get_by_role("button", name="Compare frames").click()
    sheet = desk.get_by_role("dialog", name="Compare")
    pick(desk, "Against", re.compile("^night"))
    expect(sheet.get_by_role("region", name="What differs")).to_contain_text("on, there off")
    there = sheet.get_by_alt_text("night")
    came(desk, lambda: there.evaluate("(i) => i.complete && i.naturalWidth") == WIDE)
    sheet.get_by_role("button", name="Done").click()
    # After lunch both are there.
    desk.reload()
    settled(desk)
    desk.get_by_role("tab", name="Room").click()
    pick(desk, "State of the place", "night")
    until(desk, lambda: abs(level(desk) / night - 1) < 0.02)
    desk.keyboard.press("z")
    until(desk, lambda: abs(level(desk) / day - 1) < 0.02)


def test_a_person_turns_the_head_is_dressed_and_the_camera_goes_round(desk):
    open_copy(desk)
    before = pixels(desk).astype(int)
    desk.get_by_role("tab", name="Subject").click()
    head = desk.get_by_role("slider", name="Head", exact=True)
    head.focus()
    for _ in range(6):
        desk.keyboard.press("ArrowRight")
    settled(desk)
    expect(head).to_have_text(re.compile("30° to own left"))
    pick(desk, "Wears", re.compile("^white"))
    settled(desk)
    # The foot of the frame is the garment: it was dark, and is not now.
    foot = (0.375, 0.835, 0.625, 0.99)
    dark = part(before, *foot).mean()
    white = part(pixels(desk), *foot).mean()
    assert white > dark + 60
    # A black jacket over it: the foot of the frame is dark again, the shirt shows in its opening.
    pick(desk, "Kind of cloth", re.compile("^cotton shirt"))
    pick(desk, "Jacket over it", re.compile("^black"))
    settled(desk)
    worn = part(pixels(desk), *foot)
    assert worn.mean() < white - 40 and worn.max() > white - 30
    desk.get_by_role("button", name="All as they came").click()
    settled(desk)
    assert abs(part(pixels(desk), *foot).mean() - dark) < 12
    # Round with the key: its angle to the lens stays, and what is behind the face is told.
    desk.get_by_role("tab", name="Camera").click()
    told = desk.get_by_label("Behind the face")
    expect(told).to_have_text(re.compile(r"Behind the face [\d.]+ m to .*of the frame wide"))
    was = told.inner_text()
    pick(desk, "Goes round", "the key with it")
    plan = desk.get_by_role("group", name="Stop-ring plan")
    key = plan.get_by_role("button", name=re.compile("^Key")).bounding_box()
    round_ = desk.get_by_role("slider", name="Off the nose")
    round_.focus()
    for _ in range(6):
        desk.keyboard.press("ArrowRight")
    settled(desk)
    now = plan.get_by_role("button", name=re.compile("^Key")).bounding_box()
    assert abs(now["x"] - key["x"]) < 4 and abs(now["y"] - key["y"]) < 4
    expect(told).not_to_have_text(was)
    # A key is a gesture each.
    for _ in range(6):
        desk.get_by_role("button", name=re.compile("^Undo")).click()
        settled(desk)
    expect(told).to_have_text(was)
