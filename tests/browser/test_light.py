"""Making a small hard lamp into the light that is wanted, as a gaffer does it in the browser."""

import json
import re

from playwright.sync_api import expect

from tests.browser.conftest import came, holds
from tests.browser.test_desk import level, open_copy, settled, signal

CHEST = (0.40, 0.62, 0.60, 0.95)


def pick(page, label, option):
    page.get_by_role("button", name=re.compile(f"^{label}")).and_(
        page.locator("[aria-haspopup=listbox]")
    ).click()
    page.get_by_role("option", name=option).click()


def until(page, condition):
    """Wait for what the next look will show: it is on its way when the gesture is stored."""
    came(page, condition)
    settled(page)


def measured(page, what):
    """A line of the chosen unit's figures, once the newest have come."""
    expect(page.get_by_text("working it out…")).to_have_count(0)
    return page.get_by_label("Measured").locator(f"dt:has-text('{what}') + dd").inner_text()


def open_hard(page):
    """A copy of the demo whose key is a small hard lamp."""
    open_copy(page)
    pick(page, "Head", re.compile("^150 W point head"))
    settled(page)


def test_a_bounce_in_one_move_costs_and_softens_and_is_undone(desk):
    open_hard(desk)
    millimetres = lambda: float(re.match(r"(\d+) mm", measured(desk, "Shadow edge")).group(1))
    until(desk, lambda: millimetres() < 10)
    before, edge = level(desk), millimetres()
    pick(desk, "In one move", "Bounce it off a board")
    expect(
        desk.get_by_label("Way of the light").get_by_role("button", name="On Key, board")
    ).to_be_visible()
    settled(desk)
    assert level(desk) < before and re.match(r"−\d", measured(desk, "Costs"))
    assert millimetres() > 2 * edge
    assert "Key, board" in measured(desk, "By way of")
    expect(desk.get_by_role("button", name="Key, board on the plan")).to_be_visible()
    desk.keyboard.press("z")
    until(desk, lambda: abs(level(desk) / before - 1) < 0.02)
    expect(desk.get_by_role("button", name="Key, board on the plan")).to_have_count(0)


def test_what_is_hung_on_a_head_shows_in_numbers_and_in_the_frame(desk):
    open_hard(desk)
    before, light = level(desk), signal(desk, CHEST)
    pick(desk, "Hang on", "Scrim, double")
    # The key is most of the light under the chin: a stop on it is most of a stop there.
    until(desk, lambda: 0.45 < level(desk) / before < 0.75)
    assert signal(desk, CHEST) < 0.8 * light
    way = desk.get_by_label("Way of the light")
    expect(way.get_by_role("row", name=re.compile("Scrim, double"))).to_contain_text("−1")
    way.get_by_role("button", name="Take Scrim, double off").click()
    until(desk, lambda: abs(level(desk) / before - 1) < 0.02)
    pick(desk, "Hang on", "Warming gel")
    until(
        desk,
        lambda: float(re.match(r"(\d+) K", measured(desk, "White at the face")).group(1)) < 3600,
    )
    pick(desk, "Hang on", "Barn doors")
    way.get_by_role("button", name="Barn doors nearer to the lamp").click()
    expect(way.get_by_role("button", name="Warming gel nearer to the lamp")).to_be_visible()
    pick(desk, "Head", re.compile("^200 W fresnel"))
    expect(desk.get_by_text("its dial stands at")).to_be_visible()
    pick(desk, "Head", "Practical bulb, frosted")
    # The doors that were on the fresnel have nothing to hold on to now; the shade has.
    expect(way.get_by_role("alert")).to_contain_text("Barn doors cannot be hung on a bare bulb")
    way.get_by_role("button", name="Take Barn doors off").click()
    pick(desk, "Hang on", "Lamp shade")
    expect(way.get_by_role("row", name="Lamp shade")).to_be_visible()
    expect(way.get_by_role("alert")).to_have_count(0)


def test_a_rig_that_cannot_work_is_said_at_the_unit(desk):
    open_hard(desk)
    pick(desk, "Hang on", "Egg crate")
    pick(desk, "Head", "Practical bulb, frosted")
    settled(desk)
    expect(desk.get_by_label("Way of the light").get_by_role("alert")).to_contain_text("bare bulb")


def test_grip_is_brought_in_carried_turned_and_struck(desk):
    open_hard(desk)
    desk.get_by_role("tab", name="Grip").click()
    expect(desk.get_by_text("No cloth, board or flag")).to_be_visible()
    pick(desk, "Bring in", "Board")
    settled(desk)
    with_board = level(desk, "fill side, key shaded")
    pick(desk, "Cloth or board", "Gold, soft")
    pick(desk, "Size", "6 × 6 ft")
    settled(desk)
    glyph = desk.get_by_role("button", name="Board on the plan")
    box = glyph.bounding_box()
    desk.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    desk.mouse.down()
    desk.mouse.move(box["x"] + box["width"] / 2 - 40, box["y"] + box["height"] / 2 + 30, steps=5)
    desk.mouse.up()
    settled(desk)
    moved = glyph.bounding_box()
    assert abs(moved["x"] - box["x"]) > 15
    angle = desk.get_by_label("Off lens").input_value()
    desk.locator("body").press("ArrowLeft")
    desk.wait_for_timeout(900)
    assert desk.get_by_label("Off lens").input_value() != angle
    pick(desk, "Kind", "Flag")
    until(desk, lambda: level(desk, "fill side, key shaded") < with_board)
    desk.get_by_role("button", name="Strike").click()
    settled(desk)
    expect(desk.get_by_text("No cloth, board or flag")).to_be_visible()


def test_a_cloth_is_set_by_two_readings(desk):
    open_hard(desk)
    pick(desk, "In one move", "Put a cloth between")
    settled(desk)
    desk.get_by_role("tab", name="Grip").click()
    desk.get_by_role("button", name="Set it by two readings…").click()
    desk.get_by_label("Meter with it").fill("120")
    desk.get_by_label("Without it").fill("100")
    desk.get_by_role("button", name="Take", exact=True).click()
    expect(
        desk.get_by_text("the meter must read more than nothing and less than without it")
    ).to_be_visible()
    desk.get_by_label("Meter with it").fill("20")
    desk.get_by_role("button", name="Take", exact=True).click()
    settled(desk)
    expect(desk.get_by_role("button", name="Cloth or board")).to_contain_text("as measured")


def test_a_window_the_sky_and_the_sun(desk):
    open_copy(desk)
    before = level(desk)
    desk.get_by_role("tab", name="Room").click()
    desk.get_by_role("button", name="Cut a window").click()
    until(desk, lambda: level(desk) > 1.2 * before)
    bright = level(desk)
    desk.get_by_role("button", name="Sky alone").click()
    until(desk, lambda: 0.05 * bright < level(desk) < 0.7 * bright)
    desk.get_by_role("button", name="All", exact=True).click()
    pick(desk, "Covered by", "blackout")
    until(desk, lambda: abs(level(desk) / before - 1) < 0.1)
    pick(desk, "Covered by", "Full grid cloth")
    desk.get_by_role("button", name="Sun", exact=True).click()
    settled(desk)
    desk.get_by_role("button", name="Sun off").click()
    settled(desk)
    expect(desk.get_by_role("button", name="Sun on")).to_be_visible()


def test_levels_are_drawn_on_the_plan_and_on_a_wall(desk):
    open_copy(desk)
    pick(desk, "Levels", "levels on the floor")
    lines = desk.get_by_role("img", name="Lines of equal level, a stop apart")
    expect(lines).to_be_visible()
    expect(lines.locator("text").first).to_contain_text("fc")
    pick(desk, "Levels", "levels, south wall")
    wall = desk.get_by_role("img", name="Lines of equal level on the south wall")
    expect(wall).to_be_visible()
    # A grid from the wall's middle, which is the zero that its figures count from.
    expect(wall.get_by_text("0", exact=True).first).to_be_visible()
    pick(desk, "Levels", "no level map")
    expect(lines).to_have_count(0)


def test_walls_are_papered_and_a_reading_replaces_the_catalogue(desk):
    open_hard(desk)
    before = level(desk, "fill side, key shaded")
    desk.get_by_role("tab", name="Room").click()
    # Which of the four is in the picture is said where they are painted.
    behind = desk.get_by_text("Behind the subject the picture has").inner_text()
    side = re.search(r"the (\w+) wall\.$", behind).group(1)
    desk.get_by_role("button", name="Wall in hand").click()
    expect(desk.get_by_role("option", name=re.compile("the backdrop$"))).to_contain_text(side)
    desk.keyboard.press("Escape")
    pick(desk, "Made of", "White wall paint")
    until(desk, lambda: level(desk, "fill side, key shaded") > 1.02 * before)
    expect(desk.get_by_label("North reflects")).to_have_value("80")
    desk.get_by_role("tab", name="Unit").click()
    bright = level(desk)
    desk.get_by_role("button", name="Set output by a reading…").click()
    desk.get_by_label("On the axis, at full").fill("500")
    desk.get_by_label("From the face of it").fill("1")
    desk.get_by_role("button", name="Take", exact=True).click()
    until(desk, lambda: level(desk) < 0.6 * bright)
    desk.get_by_role("button", name="Output as measured: drop").click()
    until(desk, lambda: abs(level(desk) / bright - 1) < 0.03)


def test_a_long_rendering_can_be_stopped(desk):
    open_copy(desk)
    desk.get_by_role("tab", name="Room").click()
    desk.evaluate("() => performance.clearMarks()")
    # A room that no other test has been in: nothing of it is kept.
    desk.get_by_role("textbox", name="Width").fill("6.43")
    desk.get_by_role("textbox", name="Width").press("Enter")
    stop = desk.get_by_role("button", name="Stop rendering")
    stop.click()
    expect(desk.get_by_role("progressbar")).to_have_count(0)
    expect(stop).to_have_count(0)
    # The next change renders again.
    desk.get_by_role("textbox", name="Height").fill("3.17")
    desk.get_by_role("textbox", name="Height").press("Enter")
    holds(desk, "() => performance.getEntriesByName('frame-full').length > 0")


def test_a_cloth_of_ones_own_is_made_by_its_shares(desk):
    open_hard(desk)
    pick(desk, "In one move", "Put a cloth between")
    settled(desk)
    desk.get_by_role("tab", name="Grip").click()
    before = level(desk)
    desk.get_by_role("button", name="Make it a cloth of your own…").click()
    desk.get_by_role("button", name="Its shares of light…").click()
    shares = desk.get_by_role("group", name=re.compile("^Shares of"))
    through = shares.get_by_role("group", name="Goes through")
    for label in ("Straight on", "In a lobe"):
        through.get_by_label(label).fill("0")
        through.get_by_label(label).press("Enter")
    through.get_by_label("Diffuse").fill("10")
    through.get_by_label("Diffuse").press("Enter")
    expect(shares).to_contain_text("Costs 3.3 stops")
    until(desk, lambda: level(desk) < 0.8 * before)
    # More light than falls on it cannot leave it: said in words, nothing lost.
    shares.get_by_role("group", name="Comes back").get_by_label("Diffuse").fill("95")
    shares.get_by_role("group", name="Comes back").get_by_label("Diffuse").press("Enter")
    expect(desk.get_by_text("no cloth gives back more than 98 %")).to_be_visible()
    expect(shares).to_contain_text("Costs 3.3 stops")


def test_the_beams_landing_is_drawn_and_put_somewhere_by_a_press(desk):
    open_copy(desk)
    desk.get_by_role("button", name="Bring in a unit").click()
    desk.get_by_role("radio", name=re.compile("100 W fresnel")).click()
    desk.get_by_role("button", name="Bring it in").click()
    settled(desk)
    desk.get_by_role("button", name="Where it lands").click()
    told = desk.get_by_role("status", name="Landing")
    expect(told).to_have_text(re.compile("^on "))
    line = desk.get_by_role("img", name="Where the beam lands, on the plan").locator("path")
    before = line.get_attribute("d")
    # Put where a press on the frame says: the wall beside his head.
    desk.get_by_role("button", name="Put the patch…").click()
    box = desk.get_by_role("button", name="Put the patch here").bounding_box()
    desk.mouse.click(box["x"] + 0.9 * box["width"], box["y"] + 0.15 * box["height"])
    settled(desk)
    expect(line).not_to_have_attribute("d", before)
    expect(desk.get_by_role("button", name="Put the patch here")).to_have_count(0)
    expect(desk.get_by_role("button", name=re.compile("^Undo .* aimed there"))).to_be_visible()
    desk.get_by_role("button", name="Where it lands").click()
    expect(line).to_have_count(0)
    # Thrown by a mirror, the mirror is what is turned.
    pick(desk, "In one move", "Throw it by a mirror")
    settled(desk)
    desk.get_by_role("button", name="Put the patch…").click()
    expect(desk.get_by_text(re.compile("where .*, mirror is to throw it"))).to_be_visible()
    desk.mouse.click(box["x"] + 0.9 * box["width"], box["y"] + 0.15 * box["height"])
    settled(desk)
    expect(desk.get_by_role("button", name=re.compile("^Undo .*, mirror turned"))).to_be_visible()
    expect(desk.get_by_role("button", name="Aimed at")).to_have_text(re.compile(", mirror$"))


def test_lamps_throw_shadows_but_while_one_is_in_the_hand(desk):
    open_copy(desk)
    sent = []

    def hear(request):
        if request.url.endswith("/look") and request.post_data:
            sent.append(json.loads(request.post_data)["document"])

    desk.on("request", hear)
    desk.get_by_role("tab", name="Room").click()
    desk.get_by_role("button", name="Lamps and stands throw shadows", exact=True).click()
    settled(desk)
    expect(desk.get_by_text("in the hand they throw none")).to_be_visible()
    desk.get_by_role("tab", name="Unit").click()
    sent.clear()
    place = desk.get_by_label("To the face", exact=True)
    place.fill("1.4")
    place.press("Enter")
    settled(desk)
    asked = [d["bodies_shade"] for d in sent if d]
    assert asked and not asked[0]
    link = desk.url.rsplit("/", 1)[1]
    stored = desk.evaluate(
        "async (n) => (await (await fetch(`/api/setups/${n}`)).json()).document.bodies_shade", link
    )
    assert stored
    # What is shown at rest is of what is stored, shadows and all: sent so, or asked for as stored.
    assert asked[-1] or sent[-1] is None
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    settled(desk)
    desk.get_by_role("tab", name="Room").click()
    desk.get_by_role("button", name="Lamps and stands throw shadows", exact=True).click()
    settled(desk)
    expect(desk.get_by_text("in the hand they throw none")).to_have_count(0)


def test_what_a_box_costs_is_put_back_by_dimmer_or_camera_in_one_move(desk):
    open_hard(desk)
    pick(desk, "Hang on", "Softbox, octagon")
    settled(desk)
    offer = desk.get_by_role("button", name=re.compile(r"^Key −\d.*put it back"))
    key = lambda: level(desk, "key side, toward the key")
    expect(offer).to_be_visible()
    # A gesture that takes nothing leaves the offer where it is.
    pick(desk, "Held by", "hung from above")
    settled(desk)
    desk.wait_for_timeout(1500)
    offer.click()
    panel = desk.get_by_label("Put it back")
    expect(panel).to_contain_text("Since “Key: Softbox, octagon on”")
    # Not by more than the lamp has: then the sentence says how much is left.
    lost = key()
    panel.get_by_role("button", name=re.compile("^dimmer")).click()
    until(desk, lambda: key() > 1.3 * lost)
    expect(offer).to_have_count(0)
    # By the camera the light stays, and its setting changes.
    desk.keyboard.press("z")
    until(desk, lambda: abs(key() / lost - 1) < 0.02)
    way = desk.get_by_label("Way of the light")
    way.get_by_role("button", name="Take Softbox, octagon off").click()
    settled(desk)
    desk.get_by_role("button", name=re.compile(r"^Key \+\d.*put it back")).click()
    stop = desk.get_by_label("Put it back").get_by_role("button", name=re.compile("^T"))
    words = re.match(r"T[\d.]+( \+ [⅓⅔])?", stop.inner_text()).group()
    stop.click()
    expect(desk.get_by_role("banner")).to_contain_text(words)
    expect(desk.get_by_role("button", name=re.compile("put it back"))).to_have_count(0)
    # Who dims means to: nothing is offered for it.
    desk.keyboard.press(",")
    settled(desk)
    desk.wait_for_timeout(1500)
    expect(desk.get_by_role("button", name=re.compile("put it back"))).to_have_count(0)
