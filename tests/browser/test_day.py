"""The hour of the day, dragged and typed under the frame."""

import re

from playwright.sync_api import expect

from tests.browser.test_desk import open_copy, settled
from tests.browser.test_light import pick


def test_the_hour_is_dragged_and_the_sun_goes_with_it(desk):
    open_copy(desk, "Keeper, lamp gallery at dawn")
    desk.get_by_role("button", name="The hour of the day").click()
    day = desk.get_by_role("group", name="Day", exact=True)
    expect(day).to_contain_text("Choose where on the earth the place is")
    pick(desk, "Place", "Saltmarsh (made up)")
    line = day.get_by_role("slider", name="Hour of the day")
    expect(line).to_have_attribute("aria-valuetext", re.compile("^12:00, sun .* high"))
    day.get_by_role("button", name=re.compile("clear$")).click()
    dialog = desk.get_by_role("dialog")
    dialog.get_by_label("Day", exact=True).fill("2026-06-21")
    dialog.get_by_role("button", name="Done").click()
    settled(desk)
    expect(day).to_contain_text(re.compile(r"Sun from 04:\d\d to 21:\d\d"))
    expect(day).to_contain_text("The sun can enter Gallery 1, south")
    sun = desk.get_by_role("button", name="Sun off")
    expect(sun).to_be_visible()

    # Carried to the early morning it stands in the east, low, and one undo brings noon back.
    box = line.bounding_box()
    y = box["y"] + box["height"] / 2
    desk.mouse.move(box["x"] + box["width"] / 2, y)
    desk.mouse.down()
    desk.mouse.move(box["x"] + box["width"] * 0.3, y)
    desk.mouse.move(box["x"] + box["width"] * 0.25, y)
    desk.mouse.up()
    expect(line).to_have_attribute("aria-valuetext", re.compile("^06:00, sun 1[0-9]° high"))
    settled(desk)
    desk.get_by_role("tab", name="Room").click()
    desk.get_by_role("button", name="Walls and sky").click()
    expect(desk.get_by_role("slider", name="From")).to_have_attribute(
        "aria-valuetext", re.compile("^6[0-9]°")
    )
    desk.get_by_role("button", name=re.compile("^Undo")).click()
    settled(desk)
    expect(line).to_have_attribute("aria-valuetext", re.compile("^12:00"))

    # By keys, and typed; at night there is no sun, and the frame is nearly dark.
    line.focus()
    desk.keyboard.press("PageUp")
    expect(line).to_have_attribute("aria-valuetext", re.compile("^13:00"))
    settled(desk)
    hour = day.get_by_label("The hour, typed")
    hour.fill("2:30")
    hour.press("Enter")
    settled(desk)
    expect(line).to_have_attribute("aria-valuetext", re.compile("^02:30, sun .* under"))
    expect(sun).to_have_count(0)
    hour.fill("25:00")
    hour.press("Enter")
    expect(line).to_have_attribute("aria-valuetext", re.compile("^02:30"))

    # Under clouds there is none either.
    hour.fill("12:00")
    hour.press("Enter")
    settled(desk)
    expect(sun).to_have_count(1)
    day.get_by_role("button", name=re.compile("clear$")).click()
    pick(desk, "Weather", "overcast")
    dialog.get_by_role("button", name="Done").click()
    settled(desk)
    expect(sun).to_have_count(0)


def aimed(page):
    """Where the set-up's last sheet points, as it is stored, and whose light it throws."""
    link = page.url.rsplit("/", 1)[1]
    sheet = page.evaluate(
        "async (n) => (await (await fetch(`/api/setups/${n}`)).json()).document.grip.at(-1)", link
    )
    return sheet["aim"], sheet["throws"]


def test_a_reflector_kept_on_the_sun_goes_with_the_hour(desk):
    open_copy(desk, "Keeper, lamp gallery at dawn")
    desk.get_by_role("button", name="The hour of the day").click()
    day = desk.get_by_role("group", name="Day", exact=True)
    pick(desk, "Place", "Saltmarsh (made up)")
    hour = day.get_by_label("The hour, typed")
    hour.fill("9:00")
    hour.press("Enter")
    settled(desk)
    desk.get_by_role("tab", name="Grip").click()
    pick(desk, "Bring in", "Mirror")
    settled(desk)
    desk.get_by_role("button", name="Keep on the sun").click()
    settled(desk)
    morning, kept = aimed(desk)
    assert kept == "@sun"
    hour.fill("15:00")
    hour.press("Enter")
    settled(desk)
    afternoon, kept = aimed(desk)
    assert kept == "@sun" and max(abs(a - b) for a, b in zip(morning, afternoon, strict=True)) > 0.2
    # Turned by hand it is let go, and the sun goes on without it.
    desk.get_by_role("button", name="Turn left").click()
    settled(desk)
    assert aimed(desk)[1] == ""
    expect(desk.get_by_role("button", name="Keep on the sun")).to_be_visible()
