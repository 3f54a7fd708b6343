"""The place by hand: its outline on the north-up plan, doors, and light from outside a window."""

import re

from playwright.sync_api import expect

from tests.browser.conftest import pixels
from tests.browser.test_desk import level, settled
from tests.browser.test_light import pick
from tests.browser.test_place import bring, furnish, number, put


def empty(page):
    """A new set-up, framed by the work light."""
    page.get_by_role("button", name="New set-up").first.click()
    page.get_by_label("Title").fill("Lamp store, by hand")
    page.get_by_role("button", name="Open the desk").click()
    settled(page)


def middle(locator):
    box = locator.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def carry(page, locator, dx, dy):
    x, y = middle(locator)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx, y + dy, steps=6)
    page.mouse.up()
    settled(page)


def shape_by_hand(page):
    page.get_by_role("tab", name="Room").click()
    page.get_by_role("button", name="North-up plan").click()
    plan = page.get_by_role("group", name="Plan of the place")
    expect(plan).to_be_visible()
    pick(page, "Shape", "L-shape")
    settled(page)
    return plan


def test_an_l_is_drawn_typed_painted_and_undone(desk):
    empty(desk)
    plan = shape_by_hand(desk)
    expect(plan.get_by_role("button", name=re.compile(r"^Corner \d on the plan"))).to_have_count(6)
    expect(plan.get_by_text("2.75 m")).to_be_visible()
    before = pixels(desk).astype(int)
    # The inner corner goes with the hand, to the decimetre, and the frame shows the wall come in.
    corner = plan.get_by_role("button", name="Corner 4 on the plan")
    carry(desk, corner, 20, 20)
    assert (abs(pixels(desk).astype(int) - before).max(2) > 8).mean() > 0.02
    # A wall of a typed length moves the wall after it.
    pick(desk, "Wall in hand", re.compile("^wall 1"))
    put(desk, "Long", 5.6)
    expect(plan.get_by_text("5.60 m")).to_be_visible()
    pick(desk, "Made of, as its side", re.compile("^Brick"))
    settled(desk)
    expect(desk.get_by_text("Made of", exact=True).last).to_be_visible()
    # A corner more, carried by the keys; and one that would make no room stays.
    desk.get_by_role("button", name="Corner in it").click()
    settled(desk)
    expect(plan.get_by_role("button", name=re.compile(r"^Corner \d on the plan"))).to_have_count(7)
    new = plan.get_by_role("button", name="Corner 2 on the plan")
    new.focus()
    desk.keyboard.press("ArrowDown")
    desk.keyboard.press("ArrowDown")
    settled(desk)
    x, y = middle(new)
    desk.keyboard.press("Delete")
    settled(desk)
    expect(plan.get_by_role("button", name=re.compile(r"^Corner \d on the plan"))).to_have_count(6)
    for _ in range(7):
        desk.get_by_role("button", name=re.compile("^Undo")).click()
        settled(desk)
    expect(desk.get_by_label("Shape", exact=True)).to_have_text(re.compile("plain room"))
    # One key goes back to the rings.
    desk.locator("body").press("p")
    expect(desk.get_by_role("group", name="Stop-ring plan")).to_be_visible()


def test_a_lamp_outside_lights_through_the_window_and_not_through_the_wall(desk):
    empty(desk)
    shape_by_hand(desk)
    pick(desk, "Wall in hand", re.compile("^wall 2"))
    desk.get_by_role("button", name="Cut a window in it").click()
    settled(desk)
    put(desk, "On level ground", 0)
    desk.get_by_role("button", name="Bring in a unit").click()
    desk.get_by_role("radio", name=re.compile("150 W head, softbox")).click()
    desk.get_by_role("button", name="Bring it in").click()
    settled(desk)
    pick(desk, "In one move", "Put it outside the window")
    settled(desk)
    expect(desk.get_by_text(re.compile("It stands outside, .* over the ground"))).to_be_visible()
    inside = level(desk)
    assert inside > 0
    # Cloth over the window costs light and glows; blackout leaves next to none.
    desk.get_by_role("tab", name="Room").click()
    pick(desk, "Covered by", "Voile, sheer curtain")
    settled(desk)
    assert 0.2 * inside < level(desk) < 0.95 * inside
    pick(desk, "Covered by", "blackout")
    settled(desk)
    expect(desk.get_by_label("T-stop under the chin")).not_to_have_text(re.compile("T2.8"))
    assert level(desk) < 0.05 * inside
    # Carried round the corner, where there is no window, it is told and can be put back.
    pick(desk, "Covered by", "clear")
    settled(desk)
    desk.get_by_role("tab", name="Unit").click()
    field = desk.get_by_label("Off lens", exact=True)
    field.fill("112")
    field.press("Enter")
    told = desk.get_by_role("alert").filter(has_text="before no window that it could shine in at")
    expect(told).to_be_visible()
    # What was said of it behind the blackout is not said of where it is now.
    expect(desk.get_by_text("Next to nothing of this lamp")).to_have_count(0)
    desk.get_by_role("button", name="Put it back").click()
    settled(desk)
    assert abs(level(desk) / inside - 1) < 0.02


def test_a_door_between_rooms_is_opened_by_hand(desk):
    empty(desk)
    furnish(desk)
    bring(desk, "Door in a wall")
    expect(desk.get_by_role("button", name="Door in a wall on the plan")).to_be_visible()
    # It reaches the ceiling by itself, and comes in open.
    assert abs(number(desk, "High") - 2.8) < 0.01
    leaf = desk.get_by_role("slider", name="Open")
    assert leaf.get_attribute("aria-valuenow") == "90"
    ajar = pixels(desk).astype(int)
    leaf.focus()
    desk.keyboard.press("Home")
    settled(desk)
    expect(leaf).to_have_text(re.compile("shut"))
    assert (abs(pixels(desk).astype(int) - ajar).max(2) > 6).mean() > 0.01
